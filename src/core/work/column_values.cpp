#include "core/work/column_values.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <utility>

#include "core/base/executor.h"
#include "core/db/run_and_wait.h"
#include "core/sql/text/lexer.h"
#include "core/sql/write/key_queries.h"
#include "core/sql/write/names.h"
#include "core/work/background.h"

namespace pantry::work {
namespace {

constexpr std::chrono::milliseconds kLongest{2000};

std::vector<sql::KnownValue> valuesIn(const data::ResultSetPtr& result) {
    std::vector<sql::KnownValue> values;
    const std::size_t rows = result ? result->rowCount() : 0;
    if (rows > ColumnValues::kMax) return values;  // too many to choose from
    for (std::size_t row = 0; row < rows; ++row) {
        sql::KnownValue one{.text = data::toText(result->cell(row, 0))};
        if (result->columns().size() > 1 && !result->cell(row, 1).isNull())
            one.label = data::toText(result->cell(row, 1));
        values.push_back(std::move(one));
    }
    return values;
}

}  // namespace

std::optional<std::string> valuesQuery(const sql::ValuesWanted& wanted, const catalog::View& catalog,
                                       sql::Dialect dialect) {
    const catalog::Relation* relation = catalog.find(wanted.schema, wanted.table);
    if (relation == nullptr || dialect == sql::Dialect::Ansi) return std::nullopt;
    const std::size_t most = ColumnValues::kMax + 1;
    const catalog::ForeignKey* key = relation->foreignKeyOf(wanted.column);
    if (key != nullptr && key->columns.size() == 1 && key->referencedColumns.size() == 1) {
        const catalog::Relation* there = catalog.find(key->schema, key->relation);
        if (there != nullptr && there->rowEstimate.value_or(0) <= ColumnValues::kLargestTable) {
            const std::string label = sql::labelColumnOf(*there);
            const std::string keyName = sql::quotedName(key->referencedColumns[0], dialect);
            const std::string columns = label.empty() ? keyName : keyName + ", " + sql::quotedName(label, dialect);
            return fmt::format("SELECT {} FROM {} ORDER BY {} LIMIT {}", columns, sql::nameOf(*there, catalog, dialect),
                               label.empty() ? 1 : 2, most);
        }
    }
    // A view is as costly as its query, which nobody knows.
    const bool isTable = !catalog::isViewKind(relation->kind);
    if (!isTable || relation->rowEstimate.value_or(ColumnValues::kLargestTable + 1) > ColumnValues::kLargestTable) {
        return std::nullopt;
    }
    const std::string column = sql::quotedName(wanted.column, dialect);
    return fmt::format("SELECT DISTINCT {0} FROM {1} WHERE {0} IS NOT NULL ORDER BY 1 LIMIT {2}", column,
                       sql::nameOf(*relation, catalog, dialect), most);
}

const std::vector<sql::KnownValue>* ColumnValues::known(const sql::ValuesWanted& wanted) const {
    const auto found = known_.find(wanted);
    return found == known_.end() || !found->second ? nullptr : &*found->second;
}

void ColumnValues::want(const sql::ValuesWanted& wanted, const catalog::View& catalog, sql::Dialect dialect,
                        std::function<void()> ready) {
    if (const auto known = known_.find(wanted); known != known_.end()) {
        // Whoever asks while they are being read writes on, and is the one that they are for.
        return known->second ? ready() : waiting_[wanted].push_back(std::move(ready));
    }
    const std::optional<std::string> query = valuesQuery(wanted, catalog, dialect);
    std::shared_ptr<db::Session> session = query ? std::shared_ptr<db::Session>(another_()) : nullptr;
    if (session == nullptr) {
        known_[wanted] = Values();
        return ready();
    }
    known_[wanted] = std::nullopt;
    waiting_[wanted].push_back(std::move(ready));
    inBackground(
        base::Work::Network, owner_,
        [session = std::move(session), query = *query]() mutable -> Result<Values> {
            const auto rows = db::runAndWait(*session, sql::Statement(query), kLongest);
            session.reset();
            if (!rows) return rows.error();
            return valuesIn(*rows);
        },
        whileThere_([this, wanted](const Result<Values>& values) {
            known_[wanted] = values ? *values : Values();
            for (const std::function<void()>& tell : std::exchange(waiting_[wanted], {})) tell();
        }));
}

void ColumnValues::forget() {
    known_.clear();
    waiting_.clear();
}

}  // namespace pantry::work
