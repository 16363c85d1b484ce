#pragma once

#include <optional>
#include <string_view>

namespace pantry::sql {

/// The language a text is written in: what decides quoting, comments, operators and statement forms.
enum class Dialect { Postgres, MySql, Sqlite, Ansi };

/// postgres, mysql, sqlite or ansi, as the command line spells them.
[[nodiscard]] std::string_view dialectName(Dialect dialect);
[[nodiscard]] std::optional<Dialect> dialectFromName(std::string_view name);

/// Whether a backslash in '…' takes the meaning from what follows it.
enum class Backslash { AsDialect, Escapes, Plain };

/// A dialect, with those settings of a session that change how its texts are read. A Dialect alone means the
/// settings that its engines start with.
struct Language {
    Language(Dialect d) : dialect(d) {}  // NOLINT(google-explicit-constructor): a dialect is a language
    Language(Dialect d, bool quotesAreNames, Backslash b = Backslash::AsDialect)
        : dialect(d), ansiQuotes(quotesAreNames), backslash(b) {}
    friend bool operator==(const Language&, const Language&) = default;
    friend bool operator==(const Language& language, Dialect d) { return language.dialect == d; }
    operator Dialect() const { return dialect; }  // NOLINT(google-explicit-constructor)

    Dialect dialect;
    bool ansiQuotes = false;                     ///< "x" is a name (ANSI_QUOTES of MariaDB and MySQL)
    Backslash backslash = Backslash::AsDialect;  ///< standard_conforming_strings, NO_BACKSLASH_ESCAPES
};

/// The lexical rules that differ, one row a dialect.
struct DialectRules {
    bool nestedComments;       ///< /* /* */ */
    bool hashComments;         ///< # to the end of the line
    bool dashNeedsBlank;       ///< -- begins a comment only before a blank
    bool executableComments;   ///< /*! … */ is statement text
    bool backslashEscapes;     ///< 'it\'s'
    bool doubleQuoteIsString;  ///< "text" is a string, not a name
    bool backtickNames;        ///< `name`
    bool bracketNames;         ///< [name]
    bool dollarQuotes;         ///< $tag$ … $tag$
    bool prefixedStrings;      ///< E'' U&'' and the like with an escape of their own
    bool freeOperators;        ///< operators of any length, made of operator characters
    bool questionParameters;   ///< ? and ?1
    bool dollarParameters;     ///< $name
    bool atVariables;          ///< @name and @@name
    bool digitNames;           ///< names may begin with a digit
    bool delimiterLines;       ///< DELIMITER //
    bool copyData;             ///< COPY … FROM STDIN; data up to \.
    bool goLines;              ///< a line with GO alone ends a statement

    friend bool operator==(const DialectRules&, const DialectRules&) = default;
};

[[nodiscard]] const DialectRules& rulesOf(Dialect dialect);
[[nodiscard]] DialectRules rulesOf(const Language& language);

}  // namespace pantry::sql
