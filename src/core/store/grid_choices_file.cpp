#include "core/store/grid_choices_file.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.h"
#include "core/base/time.h"
#include "core/sql/text/lexer.h"
#include "core/store/json_file.h"

namespace pantry::store {
namespace {

using nlohmann::json;

constexpr int kGridChoicesVersion = 1;
constexpr std::size_t kMaxQueries = 500;

data::GridChoices choicesOf(const json& object) {
    data::GridChoices choices;
    choices.order = textsIn(object, "order");
    choices.frozen = std::max(0, memberOr(object, "frozen", 0));
    if (const auto columns = object.find("columns"); columns != object.end() && columns->is_object()) {
        for (const auto& [name, c] : columns->items()) {
            data::ColumnChoice choice;
            choice.width = std::clamp(memberOr(c, "width", 0), 0, 10'000);
            choice.isHidden = memberOr(c, "hidden", false);
            choice.format.form =
                data::formFromWord(memberOr<std::string>(c, "form", "")).value_or(data::CellForm::AsSent);
            choice.format.decimals = std::clamp(memberOr(c, "decimals", -1), -1, 30);
            choice.labelColumn = memberOr<std::string>(c, "label", "");
            choices.columns[name] = std::move(choice);
        }
    }
    if (const auto rules = object.find("colours"); rules != object.end() && rules->is_array()) {
        for (const json& r : *rules) {
            const auto test = data::testFromWord(memberOr<std::string>(r, "test", ""));
            if (!test) continue;
            choices.rules.push_back({.column = memberOr<std::string>(r, "column", ""),
                                     .test = *test,
                                     .values = textsIn(r, "values"),
                                     .colour = memberOr<std::string>(r, "colour", "marigold"),
                                     .isScale = memberOr(r, "scale", false)});
        }
    }
    return choices;
}

json toJson(const data::GridChoices& choices) {
    json columns = json::object();
    for (const auto& [name, c] : choices.columns) {
        json one = json::object();
        if (c.width > 0) one["width"] = c.width;
        if (c.isHidden) one["hidden"] = true;
        if (c.format.form != data::CellForm::AsSent) one["form"] = data::formWord(c.format.form);
        if (c.format.decimals >= 0) one["decimals"] = c.format.decimals;
        if (!c.labelColumn.empty()) one["label"] = c.labelColumn;
        if (!one.empty()) columns[name] = one;
    }
    json rules = json::array();
    for (const data::ColourRule& r : choices.rules) {
        rules.push_back({{"column", r.column},
                         {"test", data::testText(r.test)},
                         {"values", r.values},
                         {"colour", r.colour},
                         {"scale", r.isScale}});
    }
    return {{"columns", columns}, {"order", choices.order}, {"frozen", choices.frozen}, {"colours", rules}};
}

/// Takes away those that were chosen longest ago.
void forgetOldest(json& queries) {
    while (queries.size() > kMaxQueries) {
        auto oldest = queries.begin();
        for (auto at = queries.begin(); at != queries.end(); ++at) {
            if (memberOr<std::string>(*at, "chosen", "") < memberOr<std::string>(*oldest, "chosen", "")) oldest = at;
        }
        queries.erase(oldest);
    }
}

}  // namespace

std::string gridKey(std::string_view connectionId, std::string_view statement, sql::Dialect dialect) {
    std::uint64_t hash = 0xCBF29CE484222325ULL;  // FNV-1a (Fowler, Noll, Vo)
    const auto mix = [&hash](std::string_view text) {
        for (const char c : text) hash = (hash ^ static_cast<unsigned char>(c)) * 0x100000001B3ULL;
    };
    for (const sql::Token& token : sql::lex(statement, dialect)) {
        if (token.isTrivia()) continue;
        const bool isWord = token.kind == sql::TokenKind::Word;
        mix(isWord ? base::toLower(token.textIn(statement)) : std::string(token.textIn(statement)));
        mix(" ");
    }
    return fmt::format("{}:{:016x}", connectionId, hash);
}

Result<AllGridChoices> loadGridChoices(const std::filesystem::path& path) {
    auto document = readJsonFile(path, kGridChoicesVersion);
    if (!document) return document.error();
    AllGridChoices all;
    const auto queries = document->content.find("queries");
    if (queries == document->content.end() || !queries->is_object()) return all;
    for (const auto& [key, object] : queries->items()) {
        if (object.is_object()) all[key] = choicesOf(object);
    }
    return all;
}

Status saveGridChoices(const std::filesystem::path& path, const std::string& key, const data::GridChoices& choices) {
    const FileLock lock(path.string() + ".lock");
    if (!lock.status()) return lock.status();
    auto document = readJsonFile(path, kGridChoicesVersion);
    if (!document) return document.error();
    document->content["version"] = kGridChoicesVersion;
    json& queries = objectIn(document->content, "queries");
    queries[key] = toJson(choices);
    queries[key]["chosen"] = base::isoUtc(base::now());
    forgetOldest(queries);
    return writeJsonFile(path, document->content);
}

std::string gridChoicesLine(const data::GridChoices& choices) {
    json line = toJson(choices);
    for (const char* name : {"columns", "order", "colours"}) {
        if (line[name].empty()) line.erase(name);
    }
    if (choices.frozen == 0) line.erase("frozen");
    return line.empty() ? std::string() : line.dump();
}

std::optional<data::GridChoices> gridChoicesIn(std::string_view line) {
    const json object = json::parse(line, nullptr, false);
    return object.is_object() ? std::optional(choicesOf(object)) : std::nullopt;
}

}  // namespace pantry::store
