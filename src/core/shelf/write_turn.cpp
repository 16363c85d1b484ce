#include "core/shelf/write_turn.h"

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <chrono>
#include <thread>

#include "core/base/file.h"

namespace pantry::shelf {

namespace {

bool lockWithin(int descriptor, std::chrono::milliseconds most) {
    const auto end = std::chrono::steady_clock::now() + most;
    while (::flock(descriptor, LOCK_EX | LOCK_NB) != 0) {
        if (base::isWithoutLocks(errno) || std::chrono::steady_clock::now() >= end) return false;
        std::this_thread::sleep_for(std::chrono::milliseconds(5));
    }
    return true;
}

}  // namespace

WriteTurn::WriteTurn(const std::filesystem::path& repositoryFolder) {
    const auto file = repositoryFolder / "agile-pantry.writing";
    const int descriptor = ::open(file.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0600);
    if (descriptor < 0) return;
    if (!lockWithin(descriptor, std::chrono::seconds(10))) {
        ::close(descriptor);
        return;
    }
    descriptor_ = descriptor;
    struct stat facts {};
    isAfterKill_ = ::fstat(descriptor, &facts) == 0 && facts.st_size > 0;
    (void)!::pwrite(descriptor, "writing\n", 8, 0);
}

WriteTurn::~WriteTurn() {
    if (descriptor_ < 0) return;
    (void)!::ftruncate(descriptor_, 0);
    ::close(descriptor_);
}

}  // namespace pantry::shelf
