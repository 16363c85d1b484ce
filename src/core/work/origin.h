#pragma once

#include <string>

namespace pantry::work {

/// The connection, database and schema that a result came from. They stay what they are when its sheet goes elsewhere.
struct Origin {
    std::string connectionId;
    std::string database;  ///< one other than the connection's own
    std::string schema;    ///< where names were looked for first; empty while unknown

    /// Whether a statement would mean the same at both.
    [[nodiscard]] bool isLike(const Origin& other) const {
        const bool isSchemaKnown = !schema.empty() && !other.schema.empty();
        return connectionId == other.connectionId && database == other.database &&
               (!isSchemaKnown || schema == other.schema);
    }
    friend bool operator==(const Origin&, const Origin&) = default;
};

}  // namespace pantry::work
