#pragma once

#include <filesystem>
#include <memory>
#include <string>
#include <string_view>

#include "core/base/result.h"

namespace pantry::exchange {

/// Where the bytes of an export go. What is neither finished nor abandoned is abandoned by its end.
///
/// Threads: one at a time.
class ExportTarget {
public:
    virtual ~ExportTarget() = default;
    virtual Status open() = 0;
    virtual Status write(std::string_view bytes) = 0;
    /// Everything is written.
    virtual Status finish() = 0;
    /// No more will come. Returns where what came is kept; empty when nowhere, as when it is not worth keeping.
    virtual std::string abandon(bool isWorthKeeping) = 0;
};

/// A file that appears under its name only when it is whole: until then, and after a stop or a failure, it stands
/// beside it with .part behind its name.
class FileTarget final : public ExportTarget {
public:
    explicit FileTarget(std::filesystem::path path);
    ~FileTarget() override;
    FileTarget(const FileTarget&) = delete;
    FileTarget& operator=(const FileTarget&) = delete;

    /// Errors: those of the file system, and Busy while another export writes the same file.
    Status open() override;
    Status write(std::string_view bytes) override;
    Status finish() override;
    std::string abandon(bool isWorthKeeping) override;

private:
    std::filesystem::path path_;
    std::filesystem::path part_;
    int descriptor_ = -1;
    std::int64_t written_ = 0;
    std::int64_t handedToDisk_ = 0;
};

/// Bytes that are kept as a text.
class TextTarget final : public ExportTarget {
public:
    /// More than `most` bytes are refused.
    explicit TextTarget(std::size_t most) : most_(most) {}

    Status open() override { return {}; }
    Status write(std::string_view bytes) override;
    Status finish() override { return {}; }
    std::string abandon(bool /*isWorthKeeping*/) override { return {}; }
    [[nodiscard]] const std::string& text() const { return text_; }

private:
    std::size_t most_;
    std::string text_;
};

/// A stream of this process, such as standard output.
class StreamTarget final : public ExportTarget {
public:
    explicit StreamTarget(int descriptor) : descriptor_(descriptor) {}

    Status open() override { return {}; }
    Status write(std::string_view bytes) override;
    Status finish() override { return {}; }
    std::string abandon(bool /*isWorthKeeping*/) override { return {}; }

private:
    int descriptor_;
};

}  // namespace pantry::exchange
