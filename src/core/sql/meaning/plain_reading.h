#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/sql/text/dialect.h"

namespace pantry::sql {

class Statement;

/// A name as a statement calls it: letters that the engine does not tell apart are lower, quotes are off.
struct CalledName {
    std::string schema;  ///< empty where none is written
    std::string name;

    friend auto operator<=>(const CalledName&, const CalledName&) = default;
};

/// What a statement's text tells about whether it reads and does nothing else. An allow-list: what is not known to be
/// plain reading is not taken for it.
struct PlainReading {
    std::string doubt;              ///< why it is not plain reading, in a sentence; empty when the text alone would do
    bool isControl = false;         ///< begins, ends or sets up a transaction: runs as it stands, never locked
    bool startsWriting = false;     ///< control that asks for a transaction in which can be written
    bool explainsChange = false;    ///< tells how a change would be done, and does not do it
    std::vector<CalledName> calls;  ///< functions that must be known to be harmless as well
    std::vector<CalledName> relations;   ///< tables and views that are read: a view calls what its definition calls
    std::vector<std::string> operators;  ///< operators, which an engine may let people define
    std::vector<std::string> fields;     ///< names behind a dot: where an engine reads a.f as f(a), they are calls too

    [[nodiscard]] bool isPlain() const { return doubt.empty(); }
};

/// Looks at one statement; several in one text are none. The language must be the one that the session reads it in.
[[nodiscard]] PlainReading plainReadingOf(std::string_view statement, const Language& language);
/// Works it out; Statement::reading() keeps it.
[[nodiscard]] PlainReading plainReadingOf(const Statement& statement);

/// The functions among `calls` that the engine itself has and that are harmless are left out: what remains must be
/// looked up, or is not known. For PostgreSQL nothing is left out, since anybody can define a better match.
[[nodiscard]] std::vector<CalledName> withoutHarmless(const std::vector<CalledName>& calls, Dialect dialect);

/// Whether a statement is plain reading, by its text and the engine's own functions alone.
[[nodiscard]] bool isPlainReading(std::string_view statement, const Language& language);

}  // namespace pantry::sql
