#include "core/catalog/catalog_list.h"

#include <algorithm>
#include <array>
#include <map>
#include <optional>
#include <utility>

#include "core/base/fuzzy.h"
#include "core/base/text.h"

namespace pantry::catalog {
namespace {

constexpr std::array<ObjectKind, 12> kOrder{ObjectKind::Table,
                                            ObjectKind::ForeignTable,
                                            ObjectKind::VirtualTable,
                                            ObjectKind::View,
                                            ObjectKind::MaterializedView,
                                            ObjectKind::Function,
                                            ObjectKind::Procedure,
                                            ObjectKind::Aggregate,
                                            ObjectKind::Sequence,
                                            ObjectKind::Type,
                                            ObjectKind::Event,
                                            ObjectKind::Extension};

// Enough to choose from; who sees so many writes another letter.
constexpr std::size_t kMaxNames = 400;
constexpr std::size_t kMaxTables = 150;
constexpr std::size_t kMaxColumns = 8;
constexpr std::size_t kMaxTexts = 150;

const std::string& nameOf(const Row& row) { return row.relation != nullptr ? row.relation->name : row.object->name; }
const std::string& commentOf(const Row& row) {
    return row.relation != nullptr ? row.relation->comment : row.object->comment;
}
ObjectKind kindOf(const Row& row) { return row.relation != nullptr ? row.relation->kind : row.object->kind; }

/// A search taken apart.
class Pattern {
public:
    explicit Pattern(std::string_view text) {
        for (const std::string_view word : base::splitAt(text, ' ')) {
            if (!word.empty()) words_.emplace_back(word);
        }
        const std::size_t dot = words_.size() == 1 ? words_[0].find('.') : std::string::npos;
        if (dot != std::string::npos && dot > 0) {
            schema_ = words_[0].substr(0, dot);
            words_[0].erase(0, dot + 1);
            if (words_[0].empty()) words_.clear();
        }
    }

    /// How well a name fits; nothing when it does not.
    [[nodiscard]] std::optional<int> score(std::string_view name) const {
        int sum = 0;
        for (const std::string& word : words_) {
            const auto one = base::wordStartScore(word, name);
            if (!one) return std::nullopt;
            sum += *one;
        }
        return sum;
    }
    [[nodiscard]] bool fitsSchema(std::string_view schema) const {
        return schema_.empty() || base::wordStartScore(schema_, schema).has_value();
    }
    [[nodiscard]] bool hasWords() const { return !words_.empty(); }
    /// A text that says all words.
    [[nodiscard]] bool isIn(std::string_view text) const {
        if (words_.empty() || text.empty()) return false;
        return std::ranges::all_of(words_, [&](const std::string& word) {
            return base::findIgnoringCase(text, word) != std::string_view::npos;
        });
    }
    /// The line of a text that has the first word.
    [[nodiscard]] std::string excerpt(std::string_view text) const {
        const std::size_t at = base::findIgnoringCase(text, words_.front());
        const std::size_t start = at == 0 ? std::string_view::npos : text.rfind('\n', at - 1);
        const std::size_t first = start == std::string_view::npos ? 0 : start + 1;
        const std::size_t end = std::min(text.find('\n', at), text.size());
        return std::string(base::trimmed(text.substr(first, end - first)));
    }

private:
    std::string schema_;
    std::vector<std::string> words_;
};

/// Calls back with each relation and object of a place; whether it is shown is the caller's business.
template <class Take>
void forEachObject(const ListedPlace& listed, std::size_t place, Take take) {
    for (const SchemaPtr& schema : listed.catalog->schemas()) {
        for (const Relation& r : schema->relations) take(Row{.place = place, .relation = &r}, *schema);
        for (const Object& o : schema->objects) take(Row{.place = place, .object = &o}, *schema);
    }
}

bool isShown(const ListedPlace& place, const Row& row, const Schema& schema) {
    return !place.choices.hiddenSchemas.contains(schema.name) && !place.choices.hiddenKinds.contains(kindOf(row));
}

/// Everything of a place, in sections.
class Sections {
public:
    Sections(const ListedPlace& listed, std::size_t place) : listed_(listed), place_(place) {}

    void appendTo(std::vector<Row>& rows) {
        std::map<ObjectKind, std::vector<Row>> byKind;
        std::vector<std::pair<std::string, std::vector<Row>>> own;
        forEachObject(listed_, place_, [&](Row row, const Schema& schema) {
            if (!isShown(listed_, row, schema)) return;
            if (schema.isOwn) {
                if (own.empty() || own.back().first != schema.name) own.emplace_back(schema.name, std::vector<Row>{});
                own.back().second.push_back(std::move(row));
            } else {
                byKind[kindOf(row)].push_back(std::move(row));
            }
        });
        section(rows, "Favourites", named(listed_.choices.favourites));
        section(rows, "Recently used", named(listed_.choices.recent));
        for (const ObjectKind kind : kOrder) section(rows, std::string(kindHeading(kind)), ordered(byKind[kind]));
        for (auto& [schema, all] : own) section(rows, "System schema " + schema, ordered(all));
    }

private:
    void section(std::vector<Row>& rows, std::string heading, std::vector<Row> parts) const {
        if (parts.empty()) return;
        rows.push_back(
            {.kind = Row::Kind::Heading, .place = place_, .text = std::move(heading), .count = parts.size()});
        std::ranges::move(parts, std::back_inserter(rows));
    }

    /// Those of some names that are there and shown, in the order of the names.
    [[nodiscard]] std::vector<Row> named(const std::vector<std::pair<std::string, std::string>>& names) const {
        std::vector<Row> rows;
        for (const auto& [schema, name] : names) {
            const Schema* holder = listed_.catalog->schema(schema);
            if (holder == nullptr) continue;
            Row row{.place = place_};
            const Relation* relation = listed_.catalog->find(schema, name);
            if (relation != nullptr && relation->name == name) {
                row.relation = relation;
            } else {
                const auto found = std::ranges::find(holder->objects, name, &Object::name);
                if (found == holder->objects.end()) continue;
                row.object = &*found;
            }
            if (isShown(listed_, row, *holder)) rows.push_back(row);
        }
        return rows;
    }

    /// The largest first, when that is asked for; what has no number comes last.
    [[nodiscard]] std::vector<Row> ordered(std::vector<Row> rows) const {
        if (listed_.choices.order == ListOrder::Name) return rows;
        const auto number = [this](const Row& row) -> std::int64_t {
            if (row.relation == nullptr) return -1;
            const auto& value =
                listed_.choices.order == ListOrder::Rows ? row.relation->rowEstimate : row.relation->sizeEstimate;
            return value.value_or(-1);
        };
        std::ranges::stable_sort(rows, std::ranges::greater{}, number);
        return rows;
    }

    const ListedPlace& listed_;
    std::size_t place_;
};

/// What fits a search.
class Finding {
public:
    Finding(const std::vector<ListedPlace>& places, const Search& search) : places_(places), pattern_(search.pattern) {}

    std::vector<Row> find() {
        for (std::size_t i = 0; i < places_.size(); ++i) {
            if (!places_[i].catalog) continue;
            forEachObject(places_[i], i, [&](const Row& row, const Schema& schema) {
                if (isShown(places_[i], row, schema) && pattern_.fitsSchema(schema.name)) look(row);
            });
            lookIntoTexts(i);
        }
        addNames();
        addColumns();
        addExcerpts("Comments", comments_);
        addExcerpts("Texts", texts_);
        return std::move(rows_);
    }

private:
    struct Named {
        Row row;
        int score = 0;
    };
    struct WithColumns {
        Row row;
        std::vector<std::pair<int, const Column*>> columns;
        int best = 0;
    };
    struct WithText {
        Row row;
        std::string excerpt;
    };

    void look(const Row& row) {
        const auto score = pattern_.score(nameOf(row));
        if (score) names_.push_back({row, *score});
        if (!pattern_.hasWords()) return;
        if (!score && pattern_.isIn(commentOf(row))) comments_.push_back({row, pattern_.excerpt(commentOf(row))});
        if (row.relation != nullptr) lookIntoColumns(row);
    }

    void lookIntoColumns(const Row& row) {
        WithColumns hit{.row = row};
        for (const Column& column : row.relation->columns) {
            if (const auto score = pattern_.score(column.name)) {
                hit.columns.emplace_back(*score, &column);
                hit.best = std::max(hit.best, *score);
            } else if (pattern_.isIn(column.comment)) {
                comments_.push_back({row, column.name + ": " + pattern_.excerpt(column.comment)});
            }
        }
        if (!hit.columns.empty()) columns_.push_back(std::move(hit));
    }

    void lookIntoTexts(std::size_t place) {
        const ListedPlace& listed = places_[place];
        if (!listed.sources || !pattern_.hasWords()) return;
        for (const SourceText& source : *listed.sources) {
            if (!pattern_.isIn(source.text)) continue;
            Row row{.place = place};
            const ObjectName& name = source.object;
            if (isRelationKind(name.kind)) {
                row.relation = listed.catalog->find(name.schema, name.name);
            } else {
                row.object = listed.catalog->findObject(name.schema, name.name, name.signature);
            }
            const Schema* schema = listed.catalog->schema(name.schema);
            if ((row.relation == nullptr && row.object == nullptr) || schema == nullptr) continue;
            if (!isShown(listed, row, *schema)) continue;
            const std::string excerpt = pattern_.excerpt(source.text);
            texts_.push_back({row, source.part.empty() ? excerpt : source.part + ": " + excerpt});
        }
    }

    void heading(std::string_view text, std::size_t count) {
        rows_.push_back({.kind = Row::Kind::Heading, .text = std::string(text), .count = count});
    }
    void more(std::size_t count, std::string_view one, std::string_view several) {
        if (count == 0) return;
        rows_.push_back({.kind = Row::Kind::More,
                         .text = "and " + base::counted(static_cast<std::int64_t>(count), one, several) +
                                 "; another letter narrows it"});
    }

    void addNames() {
        if (names_.empty()) return;
        std::ranges::stable_sort(names_, std::ranges::greater{}, &Named::score);
        heading("Names", names_.size());
        const std::size_t shown = std::min(names_.size(), kMaxNames);
        for (std::size_t i = 0; i < shown; ++i) rows_.push_back(names_[i].row);
        more(names_.size() - shown, "more", "more");
    }

    void addColumns() {
        if (columns_.empty()) return;
        std::ranges::stable_sort(columns_, std::ranges::greater{}, &WithColumns::best);
        std::size_t count = 0;
        for (const WithColumns& hit : columns_) count += hit.columns.size();
        heading("Columns", count);
        const std::size_t shown = std::min(columns_.size(), kMaxTables);
        for (std::size_t i = 0; i < shown; ++i) {
            WithColumns& hit = columns_[i];
            rows_.push_back(hit.row);
            std::ranges::stable_sort(hit.columns, std::ranges::greater{}, &std::pair<int, const Column*>::first);
            const std::size_t columns = std::min(hit.columns.size(), kMaxColumns);
            for (std::size_t c = 0; c < columns; ++c) {
                Row row = hit.row;
                row.kind = Row::Kind::Column;
                row.column = hit.columns[c].second;
                rows_.push_back(std::move(row));
            }
            more(hit.columns.size() - columns, "column more", "columns more");
        }
        more(columns_.size() - shown, "table more", "tables more");
    }

    void addExcerpts(std::string_view label, const std::vector<WithText>& hits) {
        if (hits.empty()) return;
        heading(label, hits.size());
        const std::size_t shown = std::min(hits.size(), kMaxTexts);
        for (std::size_t i = 0; i < shown; ++i) {
            const bool isSame = i > 0 && hits[i - 1].row.relation == hits[i].row.relation &&
                                hits[i - 1].row.object == hits[i].row.object &&
                                hits[i].row.place == hits[i - 1].row.place;
            if (!isSame) rows_.push_back(hits[i].row);
            Row row = hits[i].row;
            row.kind = Row::Kind::Excerpt;
            row.text = hits[i].excerpt;
            rows_.push_back(std::move(row));
        }
        more(hits.size() - shown, "more", "more");
    }

    const std::vector<ListedPlace>& places_;
    Pattern pattern_;
    std::vector<Named> names_;
    std::vector<WithColumns> columns_;
    std::vector<WithText> comments_;
    std::vector<WithText> texts_;
    std::vector<Row> rows_;
};

}  // namespace

ObjectName Row::name() const {
    if (relation != nullptr) return {.kind = relation->kind, .schema = relation->schema, .name = relation->name};
    if (object == nullptr) return {};
    return {.kind = object->kind, .schema = object->schema, .name = object->name, .signature = object->signature};
}

std::vector<Row> listCatalog(const std::vector<ListedPlace>& places, const Search& search) {
    if (!search.isEmpty()) return Finding(places, search).find();
    std::vector<Row> rows;
    for (std::size_t i = 0; i < places.size(); ++i) {
        if (places[i].catalog) Sections(places[i], i).appendTo(rows);
    }
    return rows;
}

std::vector<Elsewhere> foundElsewhere(const std::vector<ListedPlace>& places, const Search& search) {
    const Pattern pattern(search.pattern);
    std::vector<Elsewhere> all;
    const auto note = [&all](const Elsewhere& one) {
        const auto same = [&](const Elsewhere& other) {
            return other.where == one.where && other.place == one.place && other.schema == one.schema &&
                   other.kind == one.kind;
        };
        const auto known = std::ranges::find_if(all, same);
        if (known == all.end()) {
            all.push_back(one);
        } else {
            known->count += one.count;
        }
    };
    for (std::size_t i = 0; i < places.size(); ++i) {
        const ListedPlace& listed = places[i];
        if (!listed.catalog) continue;
        forEachObject(listed, i, [&](const Row& row, const Schema& schema) {
            if (isShown(listed, row, schema) || !pattern.fitsSchema(schema.name)) return;
            if (!search.isEmpty() && !pattern.score(nameOf(row))) return;
            const bool isSchema = listed.choices.hiddenSchemas.contains(schema.name);
            note({.where = isSchema ? Elsewhere::Where::HiddenSchema : Elsewhere::Where::HiddenKind,
                  .place = i,
                  .schema = isSchema ? schema.name : std::string(),
                  .kind = isSchema ? ObjectKind::Table : kindOf(row),
                  .count = 1});
        });
        for (const SchemaPtr& schema : listed.catalog->schemas()) {
            if (!schema->isLoaded && !schema->isOwn) {
                note({.where = Elsewhere::Where::UnreadSchema, .place = i, .schema = schema->name});
            }
            if (schema->forbidden > 0) {
                note({.where = Elsewhere::Where::Forbidden,
                      .place = i,
                      .schema = schema->name,
                      .count = schema->forbidden});
            }
        }
    }
    return all;
}

}  // namespace pantry::catalog
