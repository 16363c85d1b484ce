#include "core/sql/write/code_strings.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <map>
#include <vector>

#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

constexpr std::array kLanguages{CodeLanguage::Cpp, CodeLanguage::Java, CodeLanguage::Python, CodeLanguage::JavaScript,
                                CodeLanguage::Go,  CodeLanguage::Php,  CodeLanguage::CSharp};
constexpr std::array<std::string_view, kLanguages.size()> kNames{"C++", "Java", "Python", "JavaScript",
                                                                 "Go",  "PHP",  "C#"};

/// Named parameters in the form of a language.
std::string withParameters(std::string_view statement, CodeLanguage language) {
    std::string out;
    std::map<std::string, int, std::less<>> numbers;
    for (const Token& token : lex(statement, Dialect::Postgres)) {
        const std::string_view text = token.textIn(statement);
        if (token.kind != TokenKind::Parameter || !text.starts_with(':')) {
            out += text;
            continue;
        }
        const std::string name(text.substr(1));
        switch (language) {
            case CodeLanguage::Python: out += fmt::format("%({})s", name); break;
            case CodeLanguage::CSharp: out += "@" + name; break;
            case CodeLanguage::JavaScript: {
                const int next = static_cast<int>(numbers.size()) + 1;
                out += fmt::format("${}", numbers.emplace(name, next).first->second);
                break;
            }
            default: out += "?"; break;
        }
    }
    return out;
}

std::string escaped(std::string_view line, char quote) {
    std::string out;
    for (const char c : line) {
        if (c == '\\' || c == quote) out += '\\';
        out += c == '\t' ? std::string("\\t") : std::string(1, c);
    }
    return out;
}

/// A literal a line, with what joins them.
std::string inLines(std::string_view text, std::string_view joint) {
    const std::vector<std::string_view> lines = base::splitAt(text, '\n');
    std::string out;
    for (std::size_t i = 0; i < lines.size(); ++i) {
        const bool isLast = i + 1 == lines.size();
        out += fmt::format("\"{}{}\"", escaped(lines[i], '"'), isLast ? "" : "\\n");
        if (!isLast) out += fmt::format("{}\n", joint);
    }
    return out;
}

/// Reads string literals with what stands between them.
class CodeReader {
public:
    explicit CodeReader(std::string_view text) : text_(text) {}

    std::optional<std::string> read() {
        skipBeginning();
        bool hasLiteral = false;
        while (at_ < text_.size()) {
            skipBetween();
            if (at_ >= text_.size()) break;
            if (!literal()) return std::nullopt;
            hasLiteral = true;
        }
        if (!hasLiteral) return std::nullopt;
        return out_;
    }

private:
    [[nodiscard]] bool next(std::string_view what) const { return text_.substr(at_).starts_with(what); }

    /// `sql = `, `String q =`, `var x :=`, `return`, `$sql .= `: up to the first quote, where that is an assignment.
    void skipBeginning() {
        const std::size_t quote = text_.find_first_of("\"'`");
        if (quote == std::string_view::npos || text_.substr(0, quote).find('\n') != std::string_view::npos) return;
        std::string_view before = base::trimmed(text_.substr(0, quote));
        while (!before.empty() && (before.back() == '(' || before.back() == '@' || before.back() == '$' ||
                                   before.back() == 'R' || before.back() == 'f' || before.back() == 'r')) {
            before.remove_suffix(1);
        }
        before = base::trimmed(before);
        if (before.ends_with('=') || before == "return") {
            at_ = static_cast<std::size_t>(before.data() + before.size() - text_.data());
        }
    }

    void skipBetween() {
        constexpr std::string_view kBetween = " \t\r\n+.;,()&\\";
        while (at_ < text_.size()) {
            if (next("//") || next("#")) {
                at_ = std::min(text_.find('\n', at_), text_.size());
            } else if (kBetween.find(text_[at_]) != std::string_view::npos) {
                ++at_;
            } else if (next("R\"") || next("f\"") || next("r\"") || next("@\"") || next("$\"")) {
                if (next("R\"(")) return;
                isVerbatim_ = next("@\"");
                ++at_;
                return;
            } else {
                return;
            }
        }
    }

    bool literal() {
        if (next("R\"(")) return whole("R\"(", ")\"");
        for (const std::string_view long_ : {"\"\"\"", "'''"}) {
            if (next(long_)) return whole(long_, long_);
        }
        if (next("`")) return inBackticks();
        const char quote = text_[at_];
        if (quote != '"' && quote != '\'') return false;
        const auto isDoubled = [&] { return isVerbatim_ && at_ + 1 < text_.size() && text_[at_ + 1] == quote; };
        for (++at_; at_ < text_.size(); ++at_) {
            if (text_[at_] == quote) {
                if (!isDoubled()) break;
                out_ += text_[++at_ - 1];
            } else if (text_[at_] == '\\' && !isVerbatim_ && at_ + 1 < text_.size()) {
                takeEscape(text_[++at_]);
            } else {
                out_ += text_[at_];
            }
        }
        if (at_ >= text_.size()) return false;
        ++at_;
        isVerbatim_ = false;
        return true;
    }

    /// Of a template: its own signs may be escaped; any other \\ is one, as where nothing is.
    bool inBackticks() {
        for (++at_; at_ < text_.size() && text_[at_] != '`'; ++at_) {
            const char following = at_ + 1 < text_.size() ? text_[at_ + 1] : '\0';
            const bool isEscape = text_[at_] == '\\' && (following == '`' || following == '\\' || following == '$');
            if (isEscape) ++at_;
            out_ += text_[at_];
        }
        if (at_ >= text_.size()) return false;
        ++at_;
        return true;
    }

    void takeEscape(char c) {
        switch (c) {
            case 'n': out_ += '\n'; break;
            case 't': out_ += '\t'; break;
            case 'r': break;
            case '\n': break;  // the line goes on
            default: out_ += c; break;
        }
    }

    bool whole(std::string_view open, std::string_view close) {
        const std::size_t start = at_ + open.size();
        const std::size_t end = text_.find(close, start);
        if (end == std::string_view::npos) return false;
        out_ += text_.substr(start, end - start);
        at_ = end + close.size();
        return true;
    }

    std::string_view text_;
    std::size_t at_ = 0;
    std::string out_;
    bool isVerbatim_ = false;
};

}  // namespace

std::string_view codeLanguageName(CodeLanguage language) { return kNames[static_cast<std::size_t>(language)]; }

std::span<const CodeLanguage> codeLanguages() { return kLanguages; }

std::string asCodeString(std::string_view statement, CodeLanguage language) {
    std::string text = withParameters(base::trimmed(statement), language);
    const bool hasLines = text.find('\n') != std::string::npos;
    switch (language) {
        case CodeLanguage::Cpp:
            return text.find(")\"") == std::string::npos ? "R\"(" + text + ")\"" : inLines(text, "");
        case CodeLanguage::Java: return inLines(text, " +");
        case CodeLanguage::Python: {
            const bool isPlain = text.find("\"\"\"") == std::string::npos && text.find('\\') == std::string::npos &&
                                 !text.ends_with('"');
            return hasLines && isPlain ? "\"\"\"" + text + "\"\"\"" : "(" + inLines(text, "") + ")";
        }
        case CodeLanguage::JavaScript: {
            std::string out;
            for (std::size_t i = 0; i < text.size(); ++i) {
                const bool isHole = text[i] == '$' && i + 1 < text.size() && text[i + 1] == '{';
                if (text[i] == '`' || text[i] == '\\' || isHole) out += '\\';
                out += text[i];
            }
            return "`" + out + "`";
        }
        case CodeLanguage::Go: return text.find('`') == std::string::npos ? "`" + text + "`" : inLines(text, " +");
        case CodeLanguage::Php: {
            std::string out;
            for (const char c : text) {
                if (c == '\'' || c == '\\') out += '\\';
                out += c;
            }
            return "'" + out + "'";
        }
        case CodeLanguage::CSharp: {
            std::string out;
            for (const char c : text) out += c == '"' ? std::string("\"\"") : std::string(1, c);
            return "@\"" + out + "\"";
        }
    }
    return text;
}

std::optional<std::string> fromCode(std::string_view text) {
    // A string of SQL itself is no program text: 'a' stays 'a'.
    const std::string_view whole = base::trimmed(text);
    if (whole.find_first_of("\"`") == std::string_view::npos && !whole.starts_with("'''") &&
        whole.find('=') == std::string_view::npos && whole.find('+') == std::string_view::npos) {
        return std::nullopt;
    }
    auto sql = CodeReader(whole).read();
    constexpr std::array kVerbs{Keyword::Select, Keyword::Insert, Keyword::Update, Keyword::Delete, Keyword::With,
                                Keyword::Create, Keyword::Alter,  Keyword::Drop,   Keyword::Merge};
    if (!sql) return std::nullopt;
    for (const Token& token : lex(*sql, Dialect::Ansi)) {
        if (token.isSilent()) continue;
        if (std::ranges::find(kVerbs, token.keyword) == kVerbs.end()) return std::nullopt;
        return sql;
    }
    return std::nullopt;
}

}  // namespace pantry::sql
