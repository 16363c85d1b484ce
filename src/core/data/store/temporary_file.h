#pragma once

#include <filesystem>
#include <utility>

#include "core/base/result.h"

namespace pantry::data {

/// A file without a name: nobody else can open it, and it is gone with the last who uses it, whatever happens.
class TemporaryFile {
public:
    /// Errors: those of making a file in that folder.
    static Result<TemporaryFile> make(const std::filesystem::path& folder);
    ~TemporaryFile();
    TemporaryFile(TemporaryFile&& other) noexcept : descriptor_(std::exchange(other.descriptor_, -1)) {}
    TemporaryFile& operator=(TemporaryFile&& other) noexcept {
        std::swap(descriptor_, other.descriptor_);
        return *this;
    }

    [[nodiscard]] int descriptor() const { return descriptor_; }

private:
    explicit TemporaryFile(int descriptor) : descriptor_(descriptor) {}
    int descriptor_;
};

}  // namespace pantry::data
