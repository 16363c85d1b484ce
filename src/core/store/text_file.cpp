#include "core/store/text_file.h"

#include <fmt/format.h>
#include <sys/stat.h>

#include <array>

#include "core/base/file.h"
#include "core/base/output_file.h"
#include "core/base/text.h"

namespace pantry::store {
namespace {

struct LineCounts {
    std::size_t lf = 0;
    std::size_t crlf = 0;
    std::size_t cr = 0;
};

/// Ends every line with \n, and counts what stood there.
LineCounts unifyLines(std::string& text) {
    LineCounts counts;
    std::size_t to = 0;
    for (std::size_t from = 0; from < text.size(); ++from) {
        char c = text[from];
        if (c == '\r') {
            const bool isPair = from + 1 < text.size() && text[from + 1] == '\n';
            ++(isPair ? counts.crlf : counts.cr);
            if (isPair) ++from;
            c = '\n';
        } else if (c == '\n') {
            ++counts.lf;
        }
        text[to++] = c;
    }
    text.resize(to);
    return counts;
}

std::string_view endOf(LineEnds ends) {
    switch (ends) {
        case LineEnds::CrLf: return "\r\n";
        case LineEnds::Cr: return "\r";
        case LineEnds::Lf: break;
    }
    return "\n";
}

std::string withLineEnds(const std::string& text, LineEnds ends) {
    if (ends == LineEnds::Lf) return text;
    std::string out;
    out.reserve(text.size());
    for (const char c : text) {
        if (c == '\n') {
            out += endOf(ends);
        } else {
            out += c;
        }
    }
    return out;
}

}  // namespace

std::string_view lineEndsWord(LineEnds ends) {
    constexpr std::array<std::string_view, kLineEnds> kWords{"lf", "crlf", "cr"};
    return kWords[static_cast<std::size_t>(ends)];
}

std::optional<FileStamp> stampOf(const std::filesystem::path& path) {
    struct stat found {};
    if (::stat(path.c_str(), &found) != 0) return std::nullopt;
    constexpr std::int64_t kNsPerSecond = 1'000'000'000;
    return FileStamp{.modifiedNs = found.st_mtim.tv_sec * kNsPerSecond + found.st_mtim.tv_nsec, .size = found.st_size};
}

Result<OpenedText> openTextFile(const std::filesystem::path& path) {
    // Taken before reading: who writes meanwhile is noticed.
    const std::optional<FileStamp> stamp = stampOf(path);
    auto bytes = base::readFile(path);
    if (!bytes) return bytes.error();
    OpenedText out{
        .text = {}, .form = {.encoding = exchange::encodingOf(*bytes)}, .stamp = stamp.value_or(FileStamp{})};
    out.text = exchange::decoded(*bytes, out.form.encoding);
    const LineCounts counts = unifyLines(out.text);
    if (counts.crlf > counts.lf && counts.crlf >= counts.cr) out.form.lineEnds = LineEnds::CrLf;
    if (counts.cr > counts.lf && counts.cr > counts.crlf) out.form.lineEnds = LineEnds::Cr;
    out.hasMixedLineEnds = (counts.lf > 0) + (counts.crlf > 0) + (counts.cr > 0) > 1;
    return out;
}

Result<FileStamp> saveTextFile(const std::filesystem::path& path, const base::SharedText& text, const TextForm& form,
                               const std::optional<FileStamp>& expected) {
    if (expected && stampOf(path) != *expected) {
        return Error{.kind = ErrorKind::Busy,
                     .message = fmt::format("“{}” was changed by another program since it was read here.",
                                            path.filename().string())};
    }
    std::string bytes;
    exchange::Encoder encoder(form.encoding);
    encoder.encode(withLineEnds(text.str(), form.lineEnds), bytes);
    if (encoder.lostCharacters() > 0) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = fmt::format(
                         "{} cannot be written in {}, the encoding of “{}”: {}",
                         base::counted(static_cast<std::int64_t>(encoder.lostCharacters()), "character", "characters"),
                         exchange::encodingName(form.encoding), path.filename().string(), encoder.lostExamples()),
                     .hint = "Save it as UTF-8, or change them."};
    }
    if (Status written = base::writeOutputFile(path, bytes); !written) return written.error();
    return stampOf(path).value_or(FileStamp{});
}

}  // namespace pantry::store
