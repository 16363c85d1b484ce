#pragma once

#include <QString>
#include <QTableWidget>
#include <QWidget>
#include <functional>
#include <vector>

#include "app/base/object_place.h"
#include "core/catalog/catalog.h"
#include "core/catalog/object_details.h"
#include "core/sql/text/dialect.h"
#include "core/store/ledger.h"
#include "core/work/column_shape.h"

namespace pantry::app {

/// What leads from a section to another object.
using GoTo = std::function<void(const catalog::ObjectName&)>;

// The parts of an object's page, each made from what is known.

/// Names can be dragged out of it, written as the dialect wants them.
[[nodiscard]] QTableWidget* makeColumnsTable(const catalog::Relation& relation, sql::Dialect dialect);
/// Keys and indexes, with their size and use where the engine tells them.
[[nodiscard]] QWidget* makeIndexesTable(const catalog::Relation& relation, const catalog::ObjectDetails* details);
/// Names with their texts: constraints, triggers, rules. `edit`: makes each of them a thing to be edited, by its name.
[[nodiscard]] QWidget* makeTextsList(const std::vector<std::pair<std::string, std::string>>& texts,
                                     const std::function<void(const std::string&)>& edit = {});
[[nodiscard]] QWidget* makeFactsTable(const std::vector<catalog::Fact>& facts);
[[nodiscard]] QWidget* makeGrantsTable(const std::vector<catalog::Grant>& grants);
[[nodiscard]] QWidget* makePartitionsTable(const catalog::ObjectDetails& details);
[[nodiscard]] QWidget* makeParametersTable(const catalog::ObjectDetails& details);
/// The most frequent values of a column, with their share of the rows.
[[nodiscard]] QTableWidget* makeFrequentTable(const work::ColumnShape& shape);
[[nodiscard]] QWidget* makeRunsTable(const std::vector<store::LedgerEntry>& runs);

/// A link to another object, with what it is to this one.
struct ObjectLink {
    catalog::ObjectName object;
    QString text;
    QString detail;
};
[[nodiscard]] QWidget* makeLinks(const std::vector<ObjectLink>& links, const GoTo& go);

/// Keys that lead away from a relation, then those that lead to it.
[[nodiscard]] std::vector<ObjectLink> linksFrom(const catalog::Relation& relation);
[[nodiscard]] std::vector<ObjectLink> linksTo(const catalog::Relation& relation, const catalog::Catalog& catalog);
[[nodiscard]] std::vector<ObjectLink> linksOf(const std::vector<catalog::Neighbour>& neighbours);

}  // namespace pantry::app
