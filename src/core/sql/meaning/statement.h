#pragma once

#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "core/sql/meaning/plain_reading.h"
#include "core/sql/meaning/risk.h"
#include "core/sql/syntax/statement_kind.h"
#include "core/sql/syntax/syntax_tree.h"

namespace pantry::sql {

/// What a parameter stands for: one value, or several where it alone is in the brackets of IN. nullopt is NULL.
struct ParameterValue {
    std::vector<std::optional<std::string>> items;

    ParameterValue() : items(1) {}
    // NOLINTBEGIN(google-explicit-constructor): a value stands where a parameter is given one
    ParameterValue(std::optional<std::string> value) : items{std::move(value)} {}
    ParameterValue(std::nullopt_t) : items(1) {}
    ParameterValue(std::string value) : items{std::move(value)} {}
    ParameterValue(const char* value) : items{std::string(value)} {}
    // NOLINTEND(google-explicit-constructor)
    explicit ParameterValue(std::vector<std::optional<std::string>> values) : items(std::move(values)) {}
    friend bool operator==(const ParameterValue&, const ParameterValue&) = default;
};
/// By the parameters' keys; see ParameterKeys.
using ParameterValues = std::map<std::string, ParameterValue, std::less<>>;

/// One statement, looked at once and handed along: its text, and what follows from it. Each part is worked out when
/// somebody first asks for it, and kept for everybody who has a copy.
///
/// Threads: any; copies share everything and never change.
class Statement {
public:
    Statement();
    /// The language matters as soon as more than the text is asked for; whoever does not know it yet leaves it out, and
    /// readAs() gives it.
    Statement(std::string text, const Language& language = Dialect::Ansi);  // NOLINT(google-explicit-constructor)
    Statement(const char* text) : Statement(std::string(text)) {}           // NOLINT(google-explicit-constructor)
    Statement(std::string_view text) : Statement(std::string(text)) {}      // NOLINT(google-explicit-constructor)

    [[nodiscard]] const std::string& text() const;
    [[nodiscard]] const Language& language() const;
    /// The same text in another language; itself when it is in that one already.
    [[nodiscard]] Statement readAs(const Language& language) const;

    /// The same statement with values for its parameters; what was found out about it stays.
    [[nodiscard]] Statement with(ParameterValues values) const;
    [[nodiscard]] const ParameterValues& parameters() const;

    [[nodiscard]] const std::vector<Token>& tokens() const;
    [[nodiscard]] const SyntaxTree& tree() const;
    /// By its first words; cheaper than the tree.
    [[nodiscard]] StatementKind kind() const;
    [[nodiscard]] StatementEffect effect() const { return effectOf(kind()); }
    [[nodiscard]] bool defines() const { return effect() == StatementEffect::Defines; }
    [[nodiscard]] const StatementRisk& risk() const;
    [[nodiscard]] const PlainReading& reading() const;
    /// See titleOf().
    [[nodiscard]] const std::string& title() const;

    /// The same text and values; how it is read may differ.
    friend bool operator==(const Statement& a, const Statement& b) {
        return a.text() == b.text() && a.parameters() == b.parameters();
    }

private:
    struct Parts;
    std::shared_ptr<Parts> parts_;
    std::shared_ptr<const ParameterValues> values_;  // null without any
};

}  // namespace pantry::sql
