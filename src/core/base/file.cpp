#include "core/base/file.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>

namespace pantry::base {
namespace {

namespace fs = std::filesystem;

/// A file descriptor that is closed when it goes out of scope.
class Descriptor {
public:
    explicit Descriptor(int number) : number_(number) {}
    ~Descriptor() {
        if (number_ >= 0) ::close(number_);
    }
    Descriptor(const Descriptor&) = delete;
    Descriptor& operator=(const Descriptor&) = delete;
    [[nodiscard]] int number() const { return number_; }
    [[nodiscard]] bool isOpen() const { return number_ >= 0; }

private:
    int number_;
};

Result<std::string> readAll(int descriptor, const fs::path& path) {
    std::string content;
    char buffer[1 << 16];
    for (;;) {
        const ssize_t count = ::read(descriptor, buffer, sizeof buffer);
        if (count == 0) return content;
        if (count > 0) {
            content.append(buffer, static_cast<std::size_t>(count));
        } else if (errno != EINTR) {
            return fileError(errno, "read", path);
        }
    }
}

/// Makes a rename durable; a file system that cannot sync folders is no reason to fail.
void syncFolder(const fs::path& folder) {
    const Descriptor descriptor(::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC));
    if (descriptor.isOpen()) ::fsync(descriptor.number());
}

}  // namespace

int writeAll(int descriptor, std::string_view bytes) {
    while (!bytes.empty()) {
        const ssize_t count = ::write(descriptor, bytes.data(), bytes.size());
        if (count < 0 && errno == EINTR) continue;
        if (count < 0) return errno;
        bytes.remove_prefix(static_cast<std::size_t>(count));
    }
    return 0;
}

Error fileError(int errorNumber, std::string_view doing, const fs::path& path) {
    Error error{.kind = ErrorKind::Io,
                .message = fmt::format("Could not {} {}: {}.", doing, path.string(), std::strerror(errorNumber))};
    if (errorNumber == ENOENT || errorNumber == ENOTDIR) {
        error.kind = ErrorKind::NotFound;
        error.message = fmt::format("Could not {} {}: there is no such file or folder.", doing, path.string());
    } else if (errorNumber == EACCES || errorNumber == EPERM || errorNumber == EROFS) {
        error.kind = ErrorKind::Permission;
        error.message = fmt::format("Could not {} {}: permission denied.", doing, path.string());
        error.hint = "Choose another place, or ask for the right to use this one.";
    } else if (errorNumber == ENOSPC) {
        error.message = fmt::format("Could not {} {}: the disk is full.", doing, path.string());
        error.hint = "Free some space and try again.";
    }
    return error;
}

Result<std::string> readFile(const fs::path& path) {
    // A pipe without a writer would hold the reader for ever.
    const Descriptor descriptor(::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK));
    if (!descriptor.isOpen()) return fileError(errno, "read", path);
    struct stat info {};
    if (::fstat(descriptor.number(), &info) == 0 && S_ISDIR(info.st_mode)) return fileError(EISDIR, "read", path);
    if (S_ISFIFO(info.st_mode) || S_ISSOCK(info.st_mode)) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = fmt::format("Could not read {}: it is a pipe, not a file.", path.string()),
                     .hint = "Put a file in its place."};
    }
    return readAll(descriptor.number(), path);
}

Result<std::string> readStandardInput() { return readAll(STDIN_FILENO, "standard input"); }

Status writeFileAtomically(const fs::path& path, std::string_view content) {
    std::string temporary = path.string() + ".XXXXXX";
    {
        const Descriptor descriptor(::mkostemp(temporary.data(), O_CLOEXEC));
        if (!descriptor.isOpen()) return fileError(errno, "write", path);
        (void)::flock(descriptor.number(), LOCK_EX | LOCK_NB);  // says that its writer lives
        int number = writeAll(descriptor.number(), content);
        if (number == 0 && ::fsync(descriptor.number()) != 0) number = errno;
        if (number != 0) {
            const Error error = fileError(number, "write", path);
            ::unlink(temporary.c_str());
            return error;
        }
    }
    if (::rename(temporary.c_str(), path.c_str()) != 0) {
        const Error error = fileError(errno, "write", path);
        ::unlink(temporary.c_str());
        return error;
    }
    syncFolder(path.parent_path());
    return {};
}

bool isWithoutLocks(int errorNumber) {
    return errorNumber == ENOLCK || errorNumber == EOPNOTSUPP || errorNumber == ENOSYS;
}

Status checkLocks(const fs::path& folder) {
    std::string temporary = (folder / "locks.XXXXXX").string();
    const Descriptor descriptor(::mkostemp(temporary.data(), O_CLOEXEC));
    if (!descriptor.isOpen()) return fileError(errno, "write into", folder);
    ::unlink(temporary.c_str());
    struct flock wanted {};
    wanted.l_type = F_WRLCK;
    if (::fcntl(descriptor.number(), F_SETLK, &wanted) == 0 || !isWithoutLocks(errno)) return {};
    return Error{.kind = ErrorKind::Io,
                 .message = fmt::format("Files in {} cannot be locked, as in some network folders.", folder.string())};
}

Status makeFolder(const fs::path& path) {
    std::error_code code;
    if (fs::is_directory(path, code)) return {};
    if (path.has_parent_path() && path.parent_path() != path) {
        if (Status parent = makeFolder(path.parent_path()); !parent) return parent;
    }
    if (::mkdir(path.c_str(), 0700) != 0 && errno != EEXIST) return fileError(errno, "make the folder", path);
    return {};
}

}  // namespace pantry::base
