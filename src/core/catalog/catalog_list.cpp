#include "core/catalog/catalog_list.h"

#include <algorithm>
#include <array>

#include "core/base/fuzzy.h"

namespace pantry::catalog {
namespace {

constexpr std::array<ObjectKind, 11> kOrder{ObjectKind::Table,
                                            ObjectKind::ForeignTable,
                                            ObjectKind::VirtualTable,
                                            ObjectKind::View,
                                            ObjectKind::MaterializedView,
                                            ObjectKind::Function,
                                            ObjectKind::Procedure,
                                            ObjectKind::Aggregate,
                                            ObjectKind::Sequence,
                                            ObjectKind::Type,
                                            ObjectKind::Event};

constexpr int kNameBonus = 50;  // a table whose name fits comes before one of whose columns does

struct Hit {
    Row row;
    int score = 0;
};

class Lister {
public:
    Lister(const Catalog& catalog, std::string_view pattern, const Choices& choices)
        : catalog_(catalog), pattern_(pattern), choices_(choices) {}

    std::vector<Row> list() {
        forEachShown([this](const Row& row, ObjectKind kind) { take(row, kind); });
        return pattern_.empty() ? sections() : found();
    }

private:
    template <class Take>
    void forEachShown(Take take) {
        for (const SchemaPtr& schema : catalog_.schemas()) {
            if (choices_.hiddenSchemas.contains(schema->name)) continue;
            for (const Relation& r : schema->relations) {
                if (!choices_.hiddenKinds.contains(r.kind)) take({.relation = &r}, r.kind);
            }
            for (const Object& o : schema->objects) {
                if (!choices_.hiddenKinds.contains(o.kind)) take({.object = &o}, o.kind);
            }
        }
    }

    void take(Row row, ObjectKind kind) {
        const std::string& name = row.relation != nullptr ? row.relation->name : row.object->name;
        if (pattern_.empty()) {
            hits_.push_back({row, static_cast<int>(kind)});
            return;
        }
        int best = -1;
        bool fits = false;
        if (const auto score = base::fuzzyScore(pattern_, name)) {
            best = *score + kNameBonus;
            fits = true;
        }
        if (row.relation != nullptr && !fits) {
            for (const Column& column : row.relation->columns) {
                const auto score = base::fuzzyScore(pattern_, column.name);
                if (!score || (fits && *score <= best)) continue;
                best = *score;
                row.column = column.name;
                fits = true;
            }
        }
        if (fits) hits_.push_back({row, best});
    }

    std::vector<Row> sections() {
        std::vector<Row> rows;
        const auto addSection = [&](std::string_view heading, const auto& isIn) {
            const std::size_t at = rows.size();
            for (const Hit& hit : hits_) {
                if (isIn(hit)) rows.push_back(hit.row);
            }
            if (rows.size() == at) return;
            const Row head{.heading = std::string(heading), .count = rows.size() - at};
            rows.insert(rows.begin() + static_cast<std::ptrdiff_t>(at), head);
        };
        if (!choices_.favourites.empty()) {
            addSection("Favourites", [this](const Hit& hit) {
                const ObjectName name = hit.row.name();
                return choices_.isFavourite(name.schema, name.name);
            });
        }
        for (const ObjectKind kind : kOrder) {
            addSection(kindHeading(kind), [kind](const Hit& hit) { return hit.score == static_cast<int>(kind); });
        }
        return rows;
    }

    std::vector<Row> found() {
        std::ranges::stable_sort(hits_, std::ranges::greater{}, &Hit::score);
        std::vector<Row> rows;
        if (!hits_.empty()) rows.push_back({.heading = "Found", .count = hits_.size()});
        for (const Hit& hit : hits_) rows.push_back(hit.row);
        return rows;
    }

    const Catalog& catalog_;
    std::string_view pattern_;
    const Choices& choices_;
    std::vector<Hit> hits_;
};

}  // namespace

bool Choices::isFavourite(std::string_view schema, std::string_view name) const {
    return std::ranges::any_of(favourites, [&](const auto& f) { return f.first == schema && f.second == name; });
}

void Choices::toggleFavourite(const std::string& schema, const std::string& name) {
    if (std::erase(favourites, std::pair(schema, name)) == 0) favourites.emplace_back(schema, name);
}

ObjectName Row::name() const {
    if (relation != nullptr) return {.kind = relation->kind, .schema = relation->schema, .name = relation->name};
    if (object == nullptr) return {};
    return {.kind = object->kind, .schema = object->schema, .name = object->name, .signature = object->signature};
}

std::vector<Row> listCatalog(const Catalog& catalog, std::string_view pattern, const Choices& choices) {
    return Lister(catalog, pattern, choices).list();
}

}  // namespace pantry::catalog
