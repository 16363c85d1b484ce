#pragma once

#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <string_view>
#include <type_traits>
#include <utility>

#include "core/base/result.h"
#include "core/base/short_copy.h"

namespace pantry::data {

/// Memory that grows. Once it is large it consists of whole pages of its own, so that the system can keep them in a
/// file instead, at the same addresses: whoever reads them notices nothing.
class PageMemory {
public:
    PageMemory() = default;
    ~PageMemory() { release(); }
    PageMemory(PageMemory&& other) noexcept
        : data_(std::exchange(other.data_, nullptr)), capacity_(std::exchange(other.capacity_, 0)) {}
    PageMemory& operator=(PageMemory&& other) noexcept {
        std::swap(data_, other.data_);
        std::swap(capacity_, other.capacity_);
        return *this;
    }

    [[nodiscard]] char* data() const { return data_; }
    [[nodiscard]] std::size_t capacity() const { return capacity_; }

    /// Makes it that large, keeping what is there. Throws std::bad_alloc.
    void setCapacity(std::size_t bytes);

    /// Moves large memory into a file at `end`, which goes on by what was written; 0 for small memory. Not while
    /// somebody writes to it. Errors: Io, and then everything stays where it is.
    Result<std::size_t> moveTo(int file, std::int64_t& end) const;

private:
    void release();
    [[nodiscard]] bool isMapped() const;

    char* data_ = nullptr;
    std::size_t capacity_ = 0;
};

/// A growing array of plain values in such memory.
template <class T>
class PageBuffer {
    static_assert(std::is_trivially_copyable_v<T>);

public:
    [[nodiscard]] std::size_t size() const { return size_; }
    [[nodiscard]] bool empty() const { return size_ == 0; }
    [[nodiscard]] std::size_t capacity() const { return memory_.capacity() / sizeof(T); }
    [[nodiscard]] std::size_t capacityBytes() const { return memory_.capacity(); }
    [[nodiscard]] const T* data() const { return reinterpret_cast<const T*>(memory_.data()); }
    [[nodiscard]] const T& operator[](std::size_t i) const { return data()[i]; }
    [[nodiscard]] T& operator[](std::size_t i) { return mutableData()[i]; }
    [[nodiscard]] const T* begin() const { return data(); }
    [[nodiscard]] const T* end() const { return data() + size_; }

    void push_back(T value) {
        if (size_ == capacity()) grow(size_ + 1);
        mutableData()[size_++] = value;
    }
    void append(const T* values, std::size_t count) {
        if (size_ + count > capacity()) grow(size_ + count);
        if (count > 0) {
            base::copyShort(memory_.data() + size_ * sizeof(T), reinterpret_cast<const char*>(values),
                            count * sizeof(T));
        }
        size_ += count;
    }
    void resize(std::size_t count, T value) {
        if (count > capacity()) grow(count);
        if (count > size_) std::fill(mutableData() + size_, mutableData() + count, value);
        size_ = count;
    }
    /// Empties it; its memory stays.
    void clear() { size_ = 0; }
    void reserve(std::size_t count) {
        if (count > capacity()) memory_.setCapacity(count * sizeof(T));
    }
    /// Gives back what was reserved too much, unless that is little: giving back may copy.
    void shrinkIfLoose() {
        if (capacity() - size_ > size_ / 8) memory_.setCapacity(size_ * sizeof(T));
    }
    [[nodiscard]] const PageMemory& memory() const { return memory_; }
    [[nodiscard]] PageBuffer copy() const {
        PageBuffer out;
        out.append(data(), size_);
        return out;
    }

private:
    T* mutableData() { return reinterpret_cast<T*>(memory_.data()); }
    void grow(std::size_t least) {
        memory_.setCapacity(std::max({least, 2 * capacity(), std::size_t{16}}) * sizeof(T));
    }

    PageMemory memory_;
    std::size_t size_ = 0;
};

inline std::string_view viewOf(const PageBuffer<char>& bytes) { return {bytes.data(), bytes.size()}; }

}  // namespace pantry::data
