#pragma once

#include <cstdint>
#include <string>
#include <string_view>

namespace pantry::exchange {

enum class Encoding : std::uint8_t { Utf8, Utf8WithMark, Utf16LittleEndian, Latin1, Utf16BigEndian };
inline constexpr std::size_t kEncodings = 5;
[[nodiscard]] std::string_view encodingName(Encoding encoding);  ///< for people
[[nodiscard]] std::string_view encodingWord(Encoding encoding);  ///< in files and on the command line: utf-8-mark

/// In what a text is written: told by its byte order mark, else UTF-8 when all of it is, else Latin-1, which has a
/// character for every byte, so that nothing is lost on the way back.
[[nodiscard]] Encoding encodingOf(std::string_view bytes);
/// The text in UTF-8, without the byte order mark. What is no character becomes U+FFFD.
[[nodiscard]] std::string decoded(std::string_view bytes, Encoding encoding);

/// Turns UTF-8 into another encoding, piece by piece. A byte order mark stands before the first piece where there is
/// one. A character that the encoding lacks becomes a question mark, and is counted.
///
/// Requires: pieces end between two characters. Threads: one at a time.
class Encoder {
public:
    explicit Encoder(Encoding encoding) : encoding_(encoding) {}

    void encode(std::string_view piece, std::string& out);

    /// Whether pieces stay as they are, so that nobody needs to call encode().
    [[nodiscard]] bool isNothingToDo() const { return encoding_ == Encoding::Utf8; }
    [[nodiscard]] std::size_t lostCharacters() const { return lostCharacters_; }
    /// The first different characters that were lost, in UTF-8, at most eight.
    [[nodiscard]] const std::string& lostExamples() const { return lostExamples_; }

private:
    void lose(std::uint32_t codePoint);

    Encoding encoding_;
    bool isBegun_ = false;
    std::size_t lostCharacters_ = 0;
    std::size_t examples_ = 0;
    std::string lostExamples_;
};

}  // namespace pantry::exchange
