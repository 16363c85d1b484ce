#pragma once

#include <cstdint>
#include <optional>
#include <set>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/catalog/catalog_view.h"
#include "core/sql/text/dialect.h"
#include "core/sql/text/text_edit.h"

namespace pantry::sql {

enum class Severity { Error, Warning, Hint };

[[nodiscard]] std::string_view severityName(Severity severity);

/// Something in a text that is, or is likely to be, a mistake.
struct Finding {
    std::string_view rule;  ///< its name, such as syntax or null-comparison
    Severity severity = Severity::Error;
    std::size_t start = 0;  ///< byte range in the text
    std::size_t length = 0;
    std::string message;          ///< what and why, one sentence or two
    std::optional<TextEdit> fix;  ///< a mend, where one is safe to offer
};

/// A kind of finding: its name on the command line, in settings and in comments, and what it is about.
struct FindingRule {
    std::string_view name;
    Severity severity;
    bool needsCatalog;
    std::string_view summary;
};

/// The rule of what the grammar does not allow.
inline constexpr std::string_view kSyntaxRule = "syntax";

/// Whether a rule is about a name that the catalog does not have.
[[nodiscard]] constexpr bool isOfUnknownName(std::string_view rule) { return rule.starts_with("unknown-"); }

/// All rules, in the order of the guide.
[[nodiscard]] std::span<const FindingRule> findingRules();

/// Names in small letters.
using DefinedNames = std::set<std::string, std::less<>>;

struct CheckOptions {
    const catalog::View* catalog = nullptr;  ///< what the database has; without it fewer rules apply
    std::set<std::string, std::less<>> off;  ///< names of rules that stay silent
    std::int64_t manyRows = 100'000;         ///< a table with more should not be read without a condition
    DefinedNames definedInScript;            ///< tables, in small letters, that the script itself makes
};

/// Everything that can be found out about a text, in its order. A comment `-- pantry: allow rule, rule` in a
/// statement, or directly above it, silences rules for that statement; `-- pantry: allow all` silences all of them.
[[nodiscard]] std::vector<Finding> checkScript(std::string_view text, const Language& language,
                                               const CheckOptions& options = {});

class Script;

/// The tables and views that a script makes, for CheckOptions::definedInScript of its statements.
[[nodiscard]] DefinedNames definedIn(const Script& script);

/// The findings of one statement of a script, exactly as checkScript() tells them of it; for a sheet whose other
/// statements did not change. Requires: statement < script.statements().size().
[[nodiscard]] std::vector<Finding> checkStatement(const Script& script, std::size_t statement,
                                                  const CheckOptions& options = {});

/// The lines of a script that begin a statement while nothing ends the one before, with the mend of each. They are
/// found while the script is parsed, so that looking for them costs nothing that grows with its text.
[[nodiscard]] std::vector<Finding> missingTerminators(const Script& script);

}  // namespace pantry::sql
