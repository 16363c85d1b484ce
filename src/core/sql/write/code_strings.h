#pragma once

#include <optional>
#include <span>
#include <string>
#include <string_view>

namespace pantry::sql {

/// A programming language, as somebody names it and as statements stand in its sources.
enum class CodeLanguage { Cpp, Java, Python, JavaScript, Go, Php, CSharp };
[[nodiscard]] std::string_view codeLanguageName(CodeLanguage language);  ///< C++
[[nodiscard]] std::span<const CodeLanguage> codeLanguages();

/// A statement as a string literal of a language, laid out over lines as it is, with parameters in the form that
/// programs in that language usually give them: ? (Java, Go, PHP, C++), %(name)s (Python), $1 (JavaScript), @name (C#).
[[nodiscard]] std::string asCodeString(std::string_view statement, CodeLanguage language);

/// The SQL in a piece of program text: quotes, concatenation, line continuations and escapes taken away, placeholders
/// kept. Nothing when the text is not of string literals alone, so that it is pasted as it is.
[[nodiscard]] std::optional<std::string> fromCode(std::string_view text);

}  // namespace pantry::sql
