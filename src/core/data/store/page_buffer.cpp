#include "core/data/store/page_buffer.h"

#include <sys/mman.h>
#include <sys/syscall.h>
#include <unistd.h>

#include <cerrno>
#include <cstdlib>
#include <cstring>
#include <new>

#include "core/base/file.h"

namespace pantry::data {
namespace {

constexpr std::size_t kFirstMapped = 16 * 1024;  // below it pages of their own would waste more than they save

std::size_t wholePages(std::size_t bytes) {
    static const auto kPage = static_cast<std::size_t>(::sysconf(_SC_PAGESIZE));
    return (bytes + kPage - 1) / kPage * kPage;
}

char* checked(void* memory) {
    if (memory == nullptr || memory == MAP_FAILED) throw std::bad_alloc();
    return static_cast<char*>(memory);
}

char* mapPages(std::size_t bytes) {
    return checked(::mmap(nullptr, bytes, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0));
}

/// Puts a file in the place of pages of ours, in one step: who reads them meanwhile sees either the memory or the file,
/// which say the same, and a page fault waits for the kernel to be done.
void* mapOver(char* pages, std::size_t bytes, int file, std::int64_t start) {
    constexpr int kProtection = PROT_READ | PROT_WRITE;
    constexpr int kFlags = MAP_PRIVATE | MAP_FIXED;
#ifdef __SANITIZE_THREAD__
    // To the thread sanitizer the library's mmap() is a write; the call itself it does not see.
    return reinterpret_cast<void*>(::syscall(SYS_mmap, pages, bytes, kProtection, kFlags, file, start));
#else
    return ::mmap(pages, bytes, kProtection, kFlags, file, start);
#endif
}

}  // namespace

bool PageMemory::isMapped() const { return capacity_ >= kFirstMapped; }

void PageMemory::release() {
    if (isMapped()) {
        ::munmap(data_, capacity_);
    } else {
        std::free(data_);
    }
    data_ = nullptr;
    capacity_ = 0;
}

void PageMemory::setCapacity(std::size_t bytes) {
    if (bytes == 0) return release();
    const bool wasMapped = isMapped();
    const bool willBeMapped = bytes >= kFirstMapped;
    if (willBeMapped) bytes = wholePages(bytes);
    if (bytes == capacity_) return;
    if (wasMapped && willBeMapped) {
        data_ = checked(::mremap(data_, capacity_, bytes, MREMAP_MAYMOVE));
    } else if (!wasMapped && !willBeMapped) {
        data_ = checked(std::realloc(data_, bytes));
    } else {
        char* moved = willBeMapped ? mapPages(bytes) : checked(std::malloc(bytes));
        if (data_ != nullptr) std::memcpy(moved, data_, std::min(capacity_, bytes));
        release();
        data_ = moved;
    }
    capacity_ = bytes;
}

Result<std::size_t> PageMemory::moveTo(int file, std::int64_t& end) const {
    if (!isMapped()) return std::size_t{0};
    for (std::size_t written = 0; written < capacity_;) {
        const ssize_t n = ::pwrite(file, data_ + written, capacity_ - written, end + static_cast<off_t>(written));
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) return base::fileError(errno, "write", "a temporary file for results");
        written += static_cast<std::size_t>(n);
    }
    void* mapped = mapOver(data_, capacity_, file, end);
    if (mapped == MAP_FAILED) return base::fileError(errno, "map", "a temporary file for results");
    end += static_cast<std::int64_t>(capacity_);
    return capacity_;
}

}  // namespace pantry::data
