#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/catalog/catalog.h"

namespace pantry::catalog {

/// A fact about an object that its engine tells, for people: Owner, mira.
struct Fact {
    std::string label;
    std::string value;
};

/// What an engine knows of an index's use.
struct IndexUse {
    std::string name;
    std::optional<std::int64_t> bytes;
    std::optional<std::int64_t> reads;  ///< times it was looked into, since the engine began to count
};

/// What somebody may do with an object.
struct Grant {
    std::string grantee;     ///< a user or role; PUBLIC for everybody
    std::string privileges;  ///< SELECT, INSERT
    std::string column;      ///< when it is about one column alone
    bool canGrant = false;   ///< may hand it on
};

/// Another object that an object hangs on, or that hangs on it.
struct Neighbour {
    ObjectName object;
    std::string how;  ///< view, trigger, names it in its text
};

struct Partition {
    std::string name;
    std::string bounds;
    std::optional<std::int64_t> rows;
};

/// A parameter of a routine.
struct RoutineParameter {
    enum class Mode { In, Out, InOut, Variadic };
    std::string name;  ///< may be empty
    std::string typeName;
    Mode mode = Mode::In;
    std::optional<std::string> defaultValue;  ///< an expression

    friend bool operator==(const RoutineParameter&, const RoutineParameter&) = default;
};

/// What is known of one object beyond what a catalog holds: asked for when somebody looks at it.
///
/// Threads: a value.
struct ObjectDetails {
    std::vector<Fact> facts;
    std::vector<IndexUse> indexes;
    std::vector<Grant> grants;
    std::vector<Trigger> rules;  ///< and row policies
    std::string partitionKey;
    std::vector<Partition> partitions;
    std::vector<Neighbour> uses;    ///< what it reads or calls
    std::vector<Neighbour> usedBy;  ///< what reads, calls or fires for it
    std::vector<RoutineParameter> parameters;
    std::string returns;                ///< the type of a function's value; empty for a procedure
    bool returnsRows = false;           ///< a set of rows, which a query reads from
    std::vector<std::string> problems;  ///< parts that could not be read, each with its reason
};

/// What a script of an object needs beside the catalog.
struct ObjectParts {
    ObjectName object;
    std::optional<Definition> definition;      ///< where it was asked for
    std::vector<RoutineParameter> parameters;  ///< of a routine
    bool returnsRows = false;
};

/// The text of an object that has one: a view's query, a routine's body, a trigger's statement.
struct SourceText {
    ObjectName object;
    std::string part;  ///< “trigger plot_ripe”, for a part of a relation; empty when it is the object's own
    std::string text;
};

}  // namespace pantry::catalog
