#include "core/sql/text/dialect.h"

#include <array>

namespace pantry::sql {
namespace {

constexpr DialectRules kPostgres{.nestedComments = true,
                                 .hashComments = false,
                                 .dashNeedsBlank = false,
                                 .executableComments = false,
                                 .backslashEscapes = false,
                                 .doubleQuoteIsString = false,
                                 .backtickNames = false,
                                 .bracketNames = false,
                                 .dollarQuotes = true,
                                 .prefixedStrings = true,
                                 .freeOperators = true,
                                 .questionParameters = false,
                                 .dollarParameters = false,
                                 .atVariables = false,
                                 .digitNames = false,
                                 .delimiterLines = false,
                                 .copyData = true,
                                 .goLines = false};

constexpr DialectRules kMySql{.nestedComments = false,
                              .hashComments = true,
                              .dashNeedsBlank = true,
                              .executableComments = true,
                              .backslashEscapes = true,
                              .doubleQuoteIsString = true,
                              .backtickNames = true,
                              .bracketNames = false,
                              .dollarQuotes = false,
                              .prefixedStrings = false,
                              .freeOperators = false,
                              .questionParameters = true,
                              .dollarParameters = false,
                              .atVariables = true,
                              .digitNames = true,
                              .delimiterLines = true,
                              .copyData = false,
                              .goLines = false};

constexpr DialectRules kSqlite{.nestedComments = false,
                               .hashComments = false,
                               .dashNeedsBlank = false,
                               .executableComments = false,
                               .backslashEscapes = false,
                               .doubleQuoteIsString = false,
                               .backtickNames = true,
                               .bracketNames = true,
                               .dollarQuotes = false,
                               .prefixedStrings = false,
                               .freeOperators = false,
                               .questionParameters = true,
                               .dollarParameters = true,
                               .atVariables = true,
                               .digitNames = false,
                               .delimiterLines = false,
                               .copyData = false,
                               .goLines = false};

constexpr DialectRules kAnsi{.nestedComments = false,
                             .hashComments = false,
                             .dashNeedsBlank = false,
                             .executableComments = false,
                             .backslashEscapes = false,
                             .doubleQuoteIsString = false,
                             .backtickNames = false,
                             .bracketNames = true,
                             .dollarQuotes = false,
                             .prefixedStrings = false,
                             .freeOperators = false,
                             .questionParameters = true,
                             .dollarParameters = false,
                             .atVariables = true,
                             .digitNames = false,
                             .delimiterLines = false,
                             .copyData = false,
                             .goLines = true};

constexpr std::array<std::string_view, 4> kNames{"postgres", "mysql", "sqlite", "ansi"};

}  // namespace

std::string_view dialectName(Dialect dialect) { return kNames[static_cast<std::size_t>(dialect)]; }

std::optional<Dialect> dialectFromName(std::string_view name) {
    for (std::size_t i = 0; i < kNames.size(); ++i) {
        if (kNames[i] == name) return static_cast<Dialect>(i);
    }
    return std::nullopt;
}

const DialectRules& rulesOf(Dialect dialect) {
    switch (dialect) {
        case Dialect::Postgres: return kPostgres;
        case Dialect::MySql: return kMySql;
        case Dialect::Sqlite: return kSqlite;
        case Dialect::Ansi: break;
    }
    return kAnsi;
}

DialectRules rulesOf(const Language& language) {
    DialectRules rules = rulesOf(language.dialect);
    if (language.ansiQuotes) rules.doubleQuoteIsString = false;
    if (language.backslash != Backslash::AsDialect) rules.backslashEscapes = language.backslash == Backslash::Escapes;
    return rules;
}

}  // namespace pantry::sql
