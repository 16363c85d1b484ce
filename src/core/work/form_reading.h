#pragma once

#include <functional>
#include <string>
#include <vector>

#include "core/sql/forms/form.h"
#include "core/work/catalogs.h"

namespace pantry::work {

/// What a form asks the server of: choices of a field, what the fields hold now.
///
/// Threads: those of Catalogs; told on the owner's.
struct FormReading {
    Catalogs& catalogs;
    std::string connection;
    std::string database;

    /// The rows of FormField::choicesQuery.
    void choices(const std::string& query, sql::Dialect dialect,
                 std::function<void(Result<std::vector<std::string>>)> told) const;
    /// The row of FormEntry::currentQuery by its columns' names. Errors: those of the server; NotFound without a row.
    void current(const std::string& query, sql::Dialect dialect,
                 std::function<void(Result<sql::FieldValues>)> told) const;
};

}  // namespace pantry::work
