#pragma once

#include <sys/types.h>

#include <cstdint>
#include <filesystem>
#include <memory>
#include <string>
#include <string_view>

#include "core/base/result.h"

namespace pantry::base {

/// A file that somebody named to be written, treated with respect:
///
/// - A regular file is written beside its place and takes it when it is whole. Rights and owner of the one before stay;
///   where it has other names (hard links), it is filled in place, so that these stay one file.
/// - A symbolic link is followed, and stays.
/// - Pipes, devices and sockets are streamed into.
/// - The program's own files, databases of SQLite and what belongs to them are refused.
///
/// What is neither finished nor kept leaves nothing behind, even when the process is killed, where the file system can
/// have files without a name; elsewhere a name that begins with a dot and ends with .unfinished is left.
///
/// Threads: one at a time.
class OutputFile {
public:
    explicit OutputFile(std::filesystem::path path);
    ~OutputFile();
    OutputFile(const OutputFile&) = delete;
    OutputFile& operator=(const OutputFile&) = delete;

    /// Errors: those of the file system; InvalidInput for what is refused; Busy while this process writes the same file
    /// already, or when nobody reads a pipe within ten seconds.
    Status open();
    Status write(std::string_view bytes);
    /// Everything is written: the file takes its place.
    Status finish();
    /// Keeps what came beside the place, as `.part` behind its name, or `.part-2` and so on: never over another file.
    /// Returns where, empty when that is not possible.
    std::string keepPart();
    /// Forgets what came.
    void drop();

    [[nodiscard]] bool isOpen() const { return descriptor_ >= 0; }
    /// Bytes that were taken.
    [[nodiscard]] std::int64_t written() const { return written_; }

private:
    Status openRegular();
    Status openStream();
    [[nodiscard]] Status link(const std::filesystem::path& as) const;
    Status replace();
    Status fillInPlace();
    void close();

    std::filesystem::path asked_;
    std::filesystem::path target_;   // with links followed
    std::filesystem::path unnamed_;  // what it is called until it is whole; empty when it has no name
    int descriptor_ = -1;
    bool isStream_ = false;
    bool isClaimed_ = false;
    bool fillsInPlace_ = false;
    std::int64_t written_ = 0;
    std::int64_t handedToDisk_ = 0;
};

/// A whole content for a file that somebody named. Errors: those of OutputFile.
Status writeOutputFile(const std::filesystem::path& path, std::string_view content);

/// Files in this folder are the program's own, and nobody's target.
void protectFolder(const std::filesystem::path& folder);

/// From now on new files are for their owner alone, but for those that somebody named, which get the rights that every
/// other program would give them. Called once, before there are threads.
void keepFilesPrivate();

/// The rights of a new file that somebody named.
[[nodiscard]] mode_t newFileMode();

}  // namespace pantry::base
