#include "app/inspect/follow_links.h"

#include <QObject>
#include <optional>

#include "app/base/text.h"
#include "core/base/text.h"
#include "core/sql/write/key_queries.h"

namespace pantry::app {
namespace {

constexpr std::size_t kShownValue = 24;  // bytes of a key's value

/// The values of some columns of a relation in a row; nothing when one of them is not in the result, or is NULL.
std::optional<std::vector<std::optional<std::string>>> valuesOf(const GridModel& model, int row,
                                                                const catalog::Relation& relation,
                                                                const std::vector<std::string>& columns) {
    const auto& shown = model.source()->result()->columns();
    std::vector<std::optional<std::string>> values;
    for (const std::string& wanted : columns) {
        std::optional<std::string> value;
        for (std::size_t i = 0; i < shown.size() && !value; ++i) {
            const int column = static_cast<int>(i);
            const bool isIt = model.look()->facts().of(column).origin == &relation && shown[i].originColumn == wanted;
            if (!isIt) continue;
            const data::Cell cell = model.cell(row, column);
            if (cell.isNull()) return std::nullopt;
            value = data::toText(cell);
        }
        if (!value) return std::nullopt;
        values.push_back(std::move(value));
    }
    return values;
}

std::vector<const catalog::Relation*> originsOf(const GridModel& model) {
    std::vector<const catalog::Relation*> origins;
    for (int column = 0; column < model.columnCount(); ++column) {
        const auto* origin = model.look()->facts().of(column).origin;
        if (origin != nullptr && std::ranges::find(origins, origin) == origins.end()) origins.push_back(origin);
    }
    return origins;
}

QString shownKey(const std::vector<std::optional<std::string>>& values) {
    QStringList parts;
    for (const auto& value : values) parts += toQt(base::oneLine(value.value_or(""), kShownValue));
    return parts.join(QStringLiteral(", "));
}

/// What the grid knows the row to be called that a key points at.
QString labelOf(const GridModel& model, int row, const catalog::ForeignKey& key) {
    for (int column = 0; column < model.columnCount(); ++column) {
        if (model.look()->facts().of(column).key == &key)
            return model.index(row, column).data(GridModel::LabelRole).toString();
    }
    return {};
}

}  // namespace

std::vector<FollowLink> followLinks(const GridModel& model, int row, sql::Dialect dialect) {
    std::vector<FollowLink> links;
    const catalog::CatalogPtr& catalog = model.look()->facts().catalog();
    if (!catalog || row < 0 || row >= model.rowCount()) return links;
    const catalog::View view(catalog);
    for (const catalog::Relation* origin : originsOf(model)) {
        for (const catalog::ForeignKey& key : origin->foreignKeys) {
            const auto* target = catalog->find(key.schema.empty() ? origin->schema : key.schema, key.relation);
            const auto values = valuesOf(model, row, *origin, key.columns);
            if (target == nullptr || !values || key.referencedColumns.size() != key.columns.size()) continue;
            const QString label = labelOf(model, row, key);
            links.push_back({QObject::tr("%1 %2").arg(toQt(target->name), shownKey(*values)) +
                                 (label.isEmpty() ? QString() : QStringLiteral(" · ") + label),
                             sql::rowsQuery(*target, key.referencedColumns, *values, view, dialect)});
        }
    }
    for (const catalog::Relation* origin : originsOf(model)) {
        for (const catalog::Catalog::Reference& reference : catalog->referencesTo(*origin)) {
            const auto values = valuesOf(model, row, *origin, reference.key->referencedColumns);
            if (!values) continue;
            links.push_back({QObject::tr("%1 · %2 %3")
                                 .arg(toQt(reference.from->name), toQt(reference.key->columns[0]), shownKey(*values)),
                             sql::rowsQuery(*reference.from, reference.key->columns, *values, view, dialect), false});
        }
    }
    return links;
}

}  // namespace pantry::app
