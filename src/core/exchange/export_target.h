#pragma once

#include <filesystem>
#include <memory>
#include <string>
#include <string_view>
#include <utility>

#include "core/base/output_file.h"
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

/// A file that somebody named; see base::OutputFile. After a stop or a failure what came stands beside it, with .part
/// behind its name.
class FileTarget final : public ExportTarget {
public:
    explicit FileTarget(std::filesystem::path path) : file_(std::move(path)) {}
    ~FileTarget() override;
    FileTarget(const FileTarget&) = delete;
    FileTarget& operator=(const FileTarget&) = delete;

    Status open() override { return file_.open(); }
    Status write(std::string_view bytes) override { return file_.write(bytes); }
    Status finish() override { return file_.finish(); }
    std::string abandon(bool isWorthKeeping) override;

private:
    base::OutputFile file_;
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
