#pragma once

#include <cstdint>
#include <filesystem>
#include <optional>
#include <string>
#include <string_view>

#include "core/base/result.h"
#include "core/base/shared_text.h"
#include "core/exchange/encoding.h"

namespace pantry::store {

enum class LineEnds : std::uint8_t { Lf, CrLf, Cr };
inline constexpr std::size_t kLineEnds = 3;
[[nodiscard]] std::string_view lineEndsWord(LineEnds ends);  ///< in files: lf, crlf, cr

/// How a text is written in its file; saving keeps it.
struct TextForm {
    exchange::Encoding encoding = exchange::Encoding::Utf8;
    LineEnds lineEnds = LineEnds::Lf;
    friend bool operator==(const TextForm&, const TextForm&) = default;
};

/// By what another writer is noticed.
struct FileStamp {
    std::int64_t modifiedNs = 0;  ///< since the epoch
    std::int64_t size = 0;        ///< bytes
    friend bool operator==(const FileStamp&, const FileStamp&) = default;
};

/// The file that a sheet's text came from, or was saved as.
struct FileOfSheet {
    std::string path;
    TextForm form;
    FileStamp stamp;         ///< when it was read or written last
    bool isUnsaved = false;  ///< the text is not what the file holds
    friend bool operator==(const FileOfSheet&, const FileOfSheet&) = default;
};

/// A text of a file, in UTF-8 with lines that end with \n.
struct OpenedText {
    std::string text;
    TextForm form;
    FileStamp stamp;
    bool hasMixedLineEnds = false;  ///< saving will write those that most lines have
};

/// What stands on the disk now; nothing when there is no such file.
[[nodiscard]] std::optional<FileStamp> stampOf(const std::filesystem::path& path);

/// Reads a text in any of the encodings of `exchange::encodingOf`. Errors: those of reading.
Result<OpenedText> openTextFile(const std::filesystem::path& path);

/// Writes a text as `form` says. Errors: Busy when the file is not as `expected` any more (somebody else wrote it;
/// without an expectation nothing is looked at), InvalidInput when the encoding lacks characters of the text, those of
/// base::OutputFile.
Result<FileStamp> saveTextFile(const std::filesystem::path& path, const base::SharedText& text, const TextForm& form,
                               const std::optional<FileStamp>& expected);

}  // namespace pantry::store
