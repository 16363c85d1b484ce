#include "core/exchange/export_target.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <utility>

#include "core/base/file.h"
#include "core/base/text.h"

namespace pantry::exchange {
namespace {

constexpr std::int64_t kBytesBetweenHandOvers = std::int64_t{8} << 20;

/// The error number, 0 when all is written.
int writeAll(int descriptor, std::string_view bytes) {
    while (!bytes.empty()) {
        const ssize_t count = ::write(descriptor, bytes.data(), bytes.size());
        if (count < 0 && errno == EINTR) continue;
        if (count < 0) return errno;
        bytes.remove_prefix(static_cast<std::size_t>(count));
    }
    return 0;
}

}  // namespace

FileTarget::FileTarget(std::filesystem::path path) : path_(std::move(path)), part_(path_.string() + ".part") {}

FileTarget::~FileTarget() { (void)abandon(true); }

Status FileTarget::open() {
    if (std::filesystem::is_directory(path_)) return base::fileError(EISDIR, "write", path_);
    descriptor_ = ::open(part_.c_str(), O_WRONLY | O_CREAT | O_CLOEXEC, 0600);
    if (descriptor_ < 0) return base::fileError(errno, "write", path_);
    if (::flock(descriptor_, LOCK_EX | LOCK_NB) != 0) {
        ::close(std::exchange(descriptor_, -1));
        return Error{.kind = ErrorKind::Busy,
                     .message = fmt::format("Another export is writing {}.", path_.string()),
                     .hint = "Wait for it, or choose another name."};
    }
    // A part of an earlier export makes room for this one.
    if (::ftruncate(descriptor_, 0) != 0 && errno != EINVAL) return base::fileError(errno, "write", path_);
    return {};
}

Status FileTarget::write(std::string_view bytes) {
    if (const int error = writeAll(descriptor_, bytes); error != 0) return base::fileError(error, "write", path_);
    written_ += static_cast<std::int64_t>(bytes.size());
    // The disk begins with what is there, so that little is left to wait for at the end.
    if (written_ - handedToDisk_ >= kBytesBetweenHandOvers) {
        (void)::sync_file_range(descriptor_, handedToDisk_, written_ - handedToDisk_, SYNC_FILE_RANGE_WRITE);
        handedToDisk_ = written_;
    }
    return {};
}

Status FileTarget::finish() {
    // New files get the rights that every other program would give them.
    const mode_t mask = ::umask(0);
    ::umask(mask);
    ::fchmod(descriptor_, 0666 & ~mask);
    if (::fsync(descriptor_) != 0 && errno != EINVAL) return base::fileError(errno, "write", path_);
    if (::rename(part_.c_str(), path_.c_str()) != 0) return base::fileError(errno, "write", path_);
    ::close(std::exchange(descriptor_, -1));
    return {};
}

std::string FileTarget::abandon(bool isWorthKeeping) {
    if (descriptor_ < 0) return {};
    // Half of a piece that did not fit goes; where that is not possible it stays.
    [[maybe_unused]] const int cut = ::ftruncate(descriptor_, written_);
    ::close(std::exchange(descriptor_, -1));
    if (isWorthKeeping && written_ > 0) return part_.string();
    ::unlink(part_.c_str());
    return {};
}

Status TextTarget::write(std::string_view bytes) {
    if (text_.size() + bytes.size() > most_) {
        return Error{
            .kind = ErrorKind::InvalidInput,
            .message = fmt::format("That is more than {}, too much to hold at once.", base::readableBytes(most_)),
            .hint = "Export to a file, or choose fewer rows or columns."};
    }
    text_ += bytes;
    return {};
}

Status StreamTarget::write(std::string_view bytes) {
    const int error = writeAll(descriptor_, bytes);
    return error == 0 ? Status() : Status(base::fileError(error, "write", "standard output"));
}

}  // namespace pantry::exchange
