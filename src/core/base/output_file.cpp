#include "core/base/output_file.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <poll.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <cerrno>
#include <chrono>
#include <set>
#include <thread>
#include <utility>
#include <vector>

#include "core/base/file.h"
#include "core/base/mutex.h"

namespace pantry::base {
namespace {

namespace fs = std::filesystem;

constexpr std::int64_t kBytesBetweenHandOvers = std::int64_t{8} << 20;
constexpr auto kReaderTimeout = std::chrono::seconds(10);
constexpr std::string_view kSqliteMark{"SQLite format 3\0", 16};

struct Registry {
    Mutex mutex;
    std::set<fs::path> claimed GUARDED_BY(mutex);     // targets that are being written
    std::vector<fs::path> folders GUARDED_BY(mutex);  // of our own files
};
Registry& registry() {
    static Registry instance;
    return instance;
}

mode_t& givenMask() {
    static mode_t mask = [] {
        const mode_t now = ::umask(0);
        ::umask(now);
        return now;
    }();
    return mask;
}

Error refused(const fs::path& path, std::string_view why) {
    return {.kind = ErrorKind::InvalidInput,
            .message = fmt::format("{} is not written: {}.", path.string(), why),
            .hint = "Choose another name."};
}

bool isSqliteFile(const fs::path& path) {
    const int descriptor = ::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);
    if (descriptor < 0) return false;
    std::array<char, 16> head{};
    const ssize_t count = ::read(descriptor, head.data(), head.size());
    ::close(descriptor);
    return count == 16 && std::string_view(head.data(), head.size()) == kSqliteMark;
}

/// Whether a file is a database of SQLite, or one of those beside it without which it is damaged.
bool belongsToSqlite(const fs::path& path) {
    if (isSqliteFile(path)) return true;
    const std::string name = path.string();
    for (const std::string_view ending : {"-wal", "-shm", "-journal"}) {
        if (name.ends_with(ending) && isSqliteFile(name.substr(0, name.size() - ending.size()))) return true;
    }
    return false;
}

bool isOurOwn(const fs::path& path) {
    Registry& r = registry();
    const Lock lock(r.mutex);
    return std::ranges::any_of(r.folders, [&](const fs::path& folder) { return path.parent_path() == folder; });
}

/// Where a name leads when all links are followed; the last part may be missing.
Result<fs::path> followed(const fs::path& path) {
    constexpr int kMaxLinks = 40;  // as many as the system follows
    fs::path at = path;
    std::error_code code;
    for (int links = 0; links < kMaxLinks; ++links) {
        const fs::path parent = at.has_parent_path() ? at.parent_path() : fs::path(".");
        const fs::path folder = fs::canonical(parent, code);
        if (code) return fileError(code.value(), "write", path);
        at = folder / at.filename();
        struct stat info {};
        if (::lstat(at.c_str(), &info) != 0) {
            if (errno == ENOENT) return at;
            return fileError(errno, "write", path);
        }
        if (!S_ISLNK(info.st_mode)) return at;
        const fs::path next = fs::read_symlink(at, code);
        if (code) return fileError(code.value(), "write", path);
        at = next.is_absolute() ? next : folder / next;
    }
    return fileError(ELOOP, "write", path);
}

bool isStreamName(const fs::path& path) {
    const std::string name = path.string();
    return name.starts_with("/dev/") || name.starts_with("/proc/");
}

/// A name beside the target that nobody has.
fs::path freeName(const fs::path& target, std::string_view ending) {
    const std::string base = target.string() + std::string(ending);
    struct stat info {};
    for (int n = 1;; ++n) {
        fs::path name = n == 1 ? base : fmt::format("{}-{}", base, n);
        if (::lstat(name.c_str(), &info) != 0 && errno == ENOENT) return name;
    }
}

}  // namespace

void protectFolder(const fs::path& folder) {
    std::error_code code;
    const fs::path whole = fs::canonical(folder, code);
    if (code) return;
    Registry& r = registry();
    const Lock lock(r.mutex);
    if (std::ranges::find(r.folders, whole) == r.folders.end()) r.folders.push_back(whole);
}

void keepFilesPrivate() {
    (void)givenMask();
    ::umask(0077);
}

mode_t newFileMode() { return 0666 & ~givenMask(); }

OutputFile::OutputFile(fs::path path) : asked_(std::move(path)) {}

OutputFile::~OutputFile() { drop(); }

Status OutputFile::open() {
    struct stat info {};
    const bool isThere = ::stat(asked_.c_str(), &info) == 0;
    if (isThere && S_ISDIR(info.st_mode)) return fileError(EISDIR, "write", asked_);
    if (isThere && (!S_ISREG(info.st_mode) || isStreamName(asked_))) {
        if (S_ISBLK(info.st_mode)) return refused(asked_, "it is a disk");
        return openStream();
    }
    auto target = followed(asked_);
    if (!target) return target.error();
    target_ = std::move(*target);
    if (isOurOwn(target_)) return refused(asked_, "the program keeps its own files in that folder");
    if (belongsToSqlite(target_)) return refused(asked_, "it belongs to a database of SQLite");
    {
        Registry& r = registry();
        const Lock lock(r.mutex);
        isClaimed_ = r.claimed.insert(target_).second;
    }
    if (!isClaimed_) {
        return Error{.kind = ErrorKind::Busy,
                     .message = fmt::format("Another export is writing {}.", asked_.string()),
                     .hint = "Wait for it, or choose another name."};
    }
    Status status = openRegular();
    if (!status) drop();
    return status;
}

/// A pipe that nobody reads yet is waited for, but not for ever.
Status OutputFile::openStream() {
    isStream_ = true;
    const auto deadline = std::chrono::steady_clock::now() + kReaderTimeout;
    for (;;) {
        descriptor_ = ::open(asked_.c_str(), O_WRONLY | O_CLOEXEC | O_NOCTTY | O_NONBLOCK);
        if (descriptor_ >= 0) break;
        if (errno != ENXIO) return fileError(errno, "write", asked_);
        if (std::chrono::steady_clock::now() > deadline) {
            return Error{.kind = ErrorKind::Busy,
                         .message = fmt::format("Nobody reads the pipe {}.", asked_.string()),
                         .hint = "Start the program that reads it first."};
        }
        std::this_thread::sleep_for(std::chrono::milliseconds(20));
    }
    ::fcntl(descriptor_, F_SETFL, ::fcntl(descriptor_, F_GETFL) & ~O_NONBLOCK);
    return {};
}

Status OutputFile::openRegular() {
    struct stat before {};
    const bool isThere = ::lstat(target_.c_str(), &before) == 0;
    if (isThere && ::access(target_.c_str(), W_OK) != 0) return fileError(errno, "write", asked_);
    const fs::path folder = target_.parent_path();
    descriptor_ = ::open(folder.c_str(), O_TMPFILE | O_WRONLY | O_CLOEXEC, 0600);
    if (descriptor_ < 0) {
        const int why = errno;
        if (why == EACCES || why == EPERM || why == EROFS || why == ENOENT) return fileError(why, "write", asked_);
        std::string name = (folder / fmt::format(".{}.XXXXXX.unfinished", target_.filename().string().substr(0, 100)));
        descriptor_ = ::mkostemps(name.data(), static_cast<int>(std::string_view(".unfinished").size()), O_CLOEXEC);
        if (descriptor_ < 0) return fileError(errno, "write", asked_);
        unnamed_ = name;
    }
    fillsInPlace_ = isThere && before.st_nlink > 1;
    if (!isThere) {
        ::fchmod(descriptor_, newFileMode());
        return {};
    }
    // The owner first: a change of owner takes rights away.
    const bool isSameOwner = before.st_uid == ::geteuid() && before.st_gid == ::getegid();
    if (!isSameOwner && ::fchown(descriptor_, before.st_uid, before.st_gid) != 0) fillsInPlace_ = true;
    ::fchmod(descriptor_, before.st_mode & 07777);
    return {};
}

Status OutputFile::write(std::string_view bytes) {
    if (const int error = writeAll(descriptor_, bytes); error != 0) return fileError(error, "write", asked_);
    written_ += static_cast<std::int64_t>(bytes.size());
    // The disk begins with what is there, so that little is left to wait for at the end.
    if (!isStream_ && written_ - handedToDisk_ >= kBytesBetweenHandOvers) {
        (void)::sync_file_range(descriptor_, handedToDisk_, written_ - handedToDisk_, SYNC_FILE_RANGE_WRITE);
        handedToDisk_ = written_;
    }
    return {};
}

/// Gives what was written a name, which must be free.
Status OutputFile::link(const fs::path& as) const {
    const std::string nameless = fmt::format("/proc/self/fd/{}", descriptor_);
    const int code = unnamed_.empty() ? ::linkat(AT_FDCWD, nameless.c_str(), AT_FDCWD, as.c_str(), AT_SYMLINK_FOLLOW)
                                      : ::linkat(AT_FDCWD, unnamed_.c_str(), AT_FDCWD, as.c_str(), 0);
    return code == 0 ? Status() : Status(fileError(errno, "write", asked_));
}

Status OutputFile::finish() {
    if (isStream_) {
        close();
        return {};
    }
    if (::fsync(descriptor_) != 0 && errno != EINVAL) return fileError(errno, "write", asked_);
    Status status = fillsInPlace_ ? fillInPlace() : replace();
    if (status) close();
    return status;
}

Status OutputFile::replace() {
    fs::path name = unnamed_;
    if (name.empty()) {
        name = target_.parent_path() /
               fmt::format(".{}.{}.unfinished", target_.filename().string().substr(0, 100), ::getpid());
        ::unlink(name.c_str());
        if (Status status = link(name); !status) return status;
    }
    if (::rename(name.c_str(), target_.c_str()) != 0) {
        const Error error = fileError(errno, "write", asked_);
        if (unnamed_.empty()) ::unlink(name.c_str());
        return error;
    }
    unnamed_.clear();
    return {};
}

/// The file of before has other names, or an owner that we cannot give: what was written goes into it.
Status OutputFile::fillInPlace() {
    const std::string source = unnamed_.empty() ? fmt::format("/proc/self/fd/{}", descriptor_) : unnamed_.string();
    const int from = ::open(source.c_str(), O_RDONLY | O_CLOEXEC);
    if (from < 0) return fileError(errno, "write", asked_);
    const int to = ::open(target_.c_str(), O_WRONLY | O_TRUNC | O_CLOEXEC | O_NOFOLLOW);
    int error = to < 0 ? errno : 0;
    std::array<char, 1 << 16> buffer{};
    for (ssize_t count = 1; error == 0 && count > 0;) {
        count = ::read(from, buffer.data(), buffer.size());
        if (count < 0) error = errno;
        if (count > 0) error = writeAll(to, {buffer.data(), static_cast<std::size_t>(count)});
    }
    if (error == 0 && ::fsync(to) != 0 && errno != EINVAL) error = errno;
    ::close(from);
    if (to >= 0) ::close(to);
    return error == 0 ? Status() : Status(fileError(error, "write", asked_));
}

std::string OutputFile::keepPart() {
    if (isStream_ || descriptor_ < 0) {
        drop();
        return {};
    }
    // Half of a piece that did not fit goes; where that is not possible it stays.
    [[maybe_unused]] const int cut = ::ftruncate(descriptor_, written_);
    for (int tries = 0; tries < 100; ++tries) {
        const fs::path part = freeName(target_, ".part");
        if (!link(part)) continue;  // somebody was faster
        close();
        return part.string();
    }
    drop();
    return {};
}

void OutputFile::drop() { close(); }

void OutputFile::close() {
    if (descriptor_ >= 0) ::close(std::exchange(descriptor_, -1));
    if (!unnamed_.empty()) ::unlink(std::exchange(unnamed_, {}).c_str());
    if (!std::exchange(isClaimed_, false)) return;
    Registry& r = registry();
    const Lock lock(r.mutex);
    r.claimed.erase(target_);
}

Status writeOutputFile(const fs::path& path, std::string_view content) {
    OutputFile file(path);
    if (Status status = file.open(); !status) return status;
    if (Status status = file.write(content); !status) return status;
    return file.finish();
}

}  // namespace pantry::base
