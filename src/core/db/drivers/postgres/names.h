#pragma once

#include <map>
#include <string>
#include <unordered_map>
#include <vector>

#include "core/db/drivers/postgres/engine_types.h"

namespace pantry::db::postgres {

/// Names of types and columns by the numbers that results carry. Kept for a connection; asked for only when one is new.
class Names {
public:
    struct Origin {
        std::string schema;
        std::string table;
        std::string column;
    };

    /// The query that fetches what is unknown about these columns; empty when all is known.
    [[nodiscard]] std::string queryFor(const PGresult* description) const;
    /// Takes the rows of that query.
    void learn(const PGresult* rows);
    /// Forgets what a statement may have changed.
    void forget();

    /// As the engine writes it: numeric(10,2). Empty when unknown.
    [[nodiscard]] std::string typeName(Oid type, int modifier) const;
    [[nodiscard]] Origin origin(Oid table, int column) const;

private:
    std::map<std::pair<Oid, int>, std::string> types_;
    std::map<std::pair<Oid, int>, Origin> origins_;
};

}  // namespace pantry::db::postgres
