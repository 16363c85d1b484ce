#pragma once

#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <vector>

#include "core/catalog/catalog_view.h"
#include "core/db/session.h"
#include "core/sql/complete/completion.h"
#include "core/work/owner_thread.h"

namespace pantry::work {

/// The query for what could stand beside a column: the rows that a foreign key leads to, by key and label, or the
/// values of the column itself. Nothing where looking would cost too much: a large table without a key.
[[nodiscard]] std::optional<std::string> valuesQuery(const sql::ValuesWanted& wanted, const catalog::View& catalog,
                                                     sql::Dialect dialect);

/// The values of columns that have few, read from the server when they are first asked for, within limits of rows and
/// time, and kept for a while.
///
/// Threads: the owner's; nothing is told once this is gone.
class ColumnValues {
public:
    static constexpr std::size_t kMax = 50;                 ///< a column with more has too many to choose from
    static constexpr std::int64_t kLargestTable = 200'000;  ///< rows, as the server reckons them

    /// `another`: a session of its own to where values are looked for; nullptr when there is none.
    ColumnValues(const OwnerThread& owner, std::function<std::unique_ptr<db::Session>()> another)
        : owner_(owner), another_(std::move(another)) {}

    /// What is known already; nothing while that is not so. An empty list: too many, or none.
    [[nodiscard]] const std::vector<sql::KnownValue>* known(const sql::ValuesWanted& wanted) const;
    /// Reads them unless they are known or being read; `ready` hears when they are there, at once when they are.
    void want(const sql::ValuesWanted& wanted, const catalog::View& catalog, sql::Dialect dialect,
              std::function<void()> ready);
    /// What was read is of somewhere else, or may be out of date.
    void forget();

private:
    using Values = std::vector<sql::KnownValue>;
    const OwnerThread& owner_;
    std::function<std::unique_ptr<db::Session>()> another_;
    std::map<sql::ValuesWanted, std::optional<Values>> known_;  // without a list while they are being read
    std::map<sql::ValuesWanted, std::vector<std::function<void()>>> waiting_;  // for those
    WhileThere whileThere_;
};

}  // namespace pantry::work
