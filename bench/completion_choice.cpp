// Prints rows of the table in docs/benchmarks.md: how well completion chooses. In queries over four schemas of
// different naming habits (bench/choice) each name is taken out in turn and asked for after 0, 1, 2 and 3 of its
// letters, once with nothing written behind the caret, as it is when somebody types, and once with the rest of the
// query there. The even queries are for working on the choice, the odd ones for judging it.
//
// completion_choice --missed [SCHEMA]: instead, the names of the even queries that were not first after two letters.
#include <fmt/format.h>
#include <sqlite3.h>

#include <algorithm>
#include <array>
#include <fstream>
#include <future>
#include <sstream>

#include "core/base/text.h"
#include "core/db/session.h"
#include "core/sql/complete/completion.h"
#include "core/sql/syntax/script.h"
#include "measure.h"
#include "support/temporary_folder.h"

namespace {

using namespace pantry;

constexpr std::size_t kLetters = 4;  // after 0 to 3 of them
constexpr std::size_t kSeen = 10;    // what somebody looks through

struct Schema {
    std::string_view name;
    sql::Dialect dialect;
};
constexpr std::array<Schema, 4> kSchemas{{{"orchard", sql::Dialect::Postgres},
                                          {"kitchen", sql::Dialect::MySql},
                                          {"seeds", sql::Dialect::Sqlite},
                                          {"market", sql::Dialect::Postgres}}};

std::string contentOf(const std::string& file) {
    std::ifstream in(std::string(CHOICE_FOLDER) + "/" + file);
    std::ostringstream out;
    out << in.rdbuf();
    return out.str();
}

/// The catalog of a schema, as the program reads it from a database.
catalog::View catalogOf(std::string_view name) {
    const test::TemporaryFolder folder;
    const std::string file = folder / "schema.db";
    sqlite3* connection = nullptr;
    sqlite3_open(file.c_str(), &connection);
    sqlite3_exec(connection, contentOf(fmt::format("{}.schema.sql", name)).c_str(), nullptr, nullptr, nullptr);
    sqlite3_close(connection);
    db::ConnectionProfile profile;
    profile.database = file;
    db::Session session(profile, std::nullopt);
    std::promise<Result<catalog::CatalogPtr>> promise;
    session.loadCatalog({}, [&](Result<catalog::CatalogPtr> c) { promise.set_value(std::move(c)); });
    return catalog::View(promise.get_future().get().value());
}

/// A name in a query that completion could know.
struct Name {
    std::string_view query;
    std::size_t start = 0;
    std::size_t length = 0;
};

std::vector<Name> namesIn(std::string_view query, sql::Dialect dialect) {
    sql::Script script(dialect);
    script.setText(query);
    std::vector<Name> names;
    for (const sql::ScriptStatement& statement : script.statements()) {
        for (std::size_t i = 0; i < statement.tree->tokens.size(); ++i) {
            const sql::Token& token = statement.tree->tokens[i];
            const bool isName = token.kind == sql::TokenKind::Word || token.kind == sql::TokenKind::QuotedName;
            const sql::TokenRole role = statement.tree->roles[i];
            if (isName && (role == sql::TokenRole::Relation || role == sql::TokenRole::Column))
                names.push_back({query, statement.span.start + token.start, token.length});
        }
    }
    return names;
}

bool isWordByte(char c) {
    return base::isAsciiDigit(c) || (base::asciiLower(c) >= 'a' && base::asciiLower(c) <= 'z') || c == '_';
}

/// Whether an item writes what the query goes on with, as far as it goes.
bool isRight(const sql::CompletionItem& item, const Name& name) {
    const std::string_view rest = name.query.substr(name.start);
    const std::string& text = item.text;
    if (text.size() < name.length || text.size() > rest.size()) return false;
    if (!base::equalsIgnoringCase(text, rest.substr(0, text.size()))) return false;
    return text.size() == rest.size() || !isWordByte(rest[text.size()]) || !isWordByte(text.back());
}

/// The place of the right item after so many letters; nothing when it is not offered.
std::optional<std::size_t> placeOf(const Name& name, std::size_t letters, bool withRest, sql::Dialect dialect,
                                   const catalog::View& catalog) {
    const std::size_t caret = name.start + std::min(letters, name.length);
    std::string text(name.query.substr(0, caret));
    if (withRest) text += name.query.substr(name.start + name.length);
    const sql::Completion offered = sql::completeAt(text, caret, dialect, catalog);
    const auto found = std::ranges::find_if(offered.items, [&](const auto& item) { return isRight(item, name); });
    if (found == offered.items.end()) return std::nullopt;
    return static_cast<std::size_t>(found - offered.items.begin());
}

struct Tally {
    std::size_t names = 0;
    std::array<std::size_t, kLetters> first{};
    std::array<std::size_t, kLetters> seen{};
    std::size_t keys = 0;
    std::size_t pressed = 0;

    /// A name costs its letters, or fewer of them, the steps down the list, and the key that takes.
    void add(const Name& name, const std::array<std::optional<std::size_t>, kLetters>& places) {
        ++names;
        std::size_t least = name.length;
        for (std::size_t k = 0; k < kLetters; ++k) {
            if (!places[k]) continue;
            if (*places[k] == 0) ++first[k];
            if (*places[k] >= kSeen) continue;
            ++seen[k];
            least = std::min(least, k + *places[k] + 1);
        }
        keys += name.length;
        pressed += least;
    }
    void add(const Tally& other) {
        names += other.names;
        for (std::size_t k = 0; k < kLetters; ++k) {
            first[k] += other.first[k];
            seen[k] += other.seen[k];
        }
        keys += other.keys;
        pressed += other.pressed;
    }
    [[nodiscard]] std::string text() const {
        const auto share = [this](const std::array<std::size_t, kLetters>& counts) {
            std::string out;
            for (const std::size_t count : counts)
                out += fmt::format("{}{:.0f}", out.empty() ? "" : ", ", 100.0 * double(count) / double(names));
            return out;
        };
        return fmt::format("{} names; first {}; in ten {}; keys saved {:.0f} %", names, share(first), share(seen),
                           100.0 * (1.0 - double(pressed) / double(keys)));
    }
};

std::vector<std::string> queriesOf(std::string_view schema) {
    std::vector<std::string> queries;
    std::istringstream lines(contentOf(fmt::format("{}.queries.sql", schema)));
    for (std::string line; std::getline(lines, line);) queries.push_back(line);
    return queries;
}

Tally measure(const Schema& schema, const catalog::View& catalog, std::size_t half, bool withRest) {
    Tally tally;
    const std::vector<std::string> queries = queriesOf(schema.name);
    for (std::size_t i = half; i < queries.size(); i += 2) {
        for (const Name& name : namesIn(queries[i], schema.dialect)) {
            std::array<std::optional<std::size_t>, kLetters> places;
            for (std::size_t k = 0; k < kLetters; ++k) places[k] = placeOf(name, k, withRest, schema.dialect, catalog);
            tally.add(name, places);
        }
    }
    return tally;
}

void tellMissed(const Schema& schema) {
    const catalog::View catalog = catalogOf(schema.name);
    const std::vector<std::string> queries = queriesOf(schema.name);
    for (std::size_t i = 0; i < queries.size(); i += 2) {
        for (const Name& name : namesIn(queries[i], schema.dialect)) {
            const auto place = placeOf(name, 2, false, schema.dialect, catalog);
            if (place && *place == 0) continue;
            const std::size_t caret = name.start + std::min<std::size_t>(2, name.length);
            const std::string text = queries[i].substr(0, caret);
            const auto offered = sql::completeAt(text, caret, schema.dialect, catalog);
            std::string list;
            for (std::size_t n = 0; n < std::min<std::size_t>(6, offered.items.size()); ++n)
                list += offered.items[n].text + "  ";
            fmt::print("{}: {} [{}] {}\n    {}\n", place ? std::to_string(*place + 1) : "-", text,
                       queries[i].substr(name.start, name.length), "", list);
        }
    }
}

}  // namespace

int main(int argc, char** argv) {
    if (argc > 1 && std::string_view(argv[1]) == "--missed") {
        for (const Schema& schema : kSchemas) {
            if (argc < 3 || schema.name == argv[2]) tellMissed(schema);
        }
        return 0;
    }
    for (const bool withRest : {false, true}) {
        for (const std::size_t half : {0U, 1U}) {
            Tally all;
            for (const Schema& schema : kSchemas) {
                const Tally one = measure(schema, catalogOf(schema.name), half, withRest);
                all.add(one);
                bench::row(fmt::format("{}, {}, {}", schema.name, half == 0 ? "worked on" : "judged",
                                       withRest ? "the rest is there" : "nothing behind"),
                           one.text(), "");
            }
            bench::row(
                fmt::format("all, {}, {}", half == 0 ? "worked on" : "judged",
                            withRest ? "the rest is there" : "nothing behind"),
                all.text(),
                withRest ? "first 90 and in ten 98 after 3" : "first 70, in ten 95 after 3, 85 after 1; 65 % saved");
        }
    }
}
