#include "core/work/parameter_values.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/base/secret_text.h"
#include "core/base/text.h"
#include "core/db/parameters.h"
#include "core/sql/meaning/secrets.h"

namespace pantry::work {
namespace {

/// One value of a list, and where the next one begins.
struct TypedItem {
    std::optional<std::string> value;
    bool isThere = false;
    std::size_t next = 0;
};

bool partsList(char c) { return c == ',' || c == '\n' || c == '\r'; }

TypedItem itemAt(std::string_view typed, std::size_t at) {
    while (at < typed.size() && (typed[at] == ' ' || typed[at] == '\t')) ++at;
    TypedItem item;
    std::string text;
    const bool isQuoted = at < typed.size() && typed[at] == '\'';
    if (isQuoted) {
        ++at;
        while (at < typed.size()) {
            if (typed[at] == '\'') {
                if (at + 1 >= typed.size() || typed[at + 1] != '\'') break;
                ++at;
            }
            text += typed[at++];
        }
        while (at < typed.size() && !partsList(typed[at])) ++at;
    } else {
        const std::size_t start = at;
        while (at < typed.size() && !partsList(typed[at])) ++at;
        text = base::trimmed(typed.substr(start, at - start));
    }
    const bool isNull = !isQuoted && base::equalsIgnoringCase(text, "NULL");
    item.isThere = isQuoted || !text.empty();
    if (!isNull) item.value = std::move(text);
    item.next = at + 1;
    return item;
}

/// The parameters that stand for secrets: by their name, or since a text at their place would be hidden.
std::set<std::string, std::less<>> secretKeys(const sql::Statement& statement) {
    std::set<std::string, std::less<>> secrets;
    std::map<std::string, std::string> marks;  // texts that stand in the parameters' places, by key
    for (const auto& [key, value] : statement.parameters()) {
        if (base::isSecretName(key)) secrets.insert(key);
        marks.emplace(key, fmt::format("'value-of-{}'", marks.size()));
    }
    const auto marked = db::BoundStatement::make(
        statement.text(), statement.language(), statement.parameters(),
        [&](const std::string& key, const std::optional<std::string>&) { return marks.at(key); });
    if (!marked) return secrets;
    const std::string shown = sql::withoutSecrets(marked->text(), statement.language());
    for (const auto& [key, mark] : marks) {
        if (shown.find(mark) == std::string::npos && marked->text().find(mark) != std::string::npos)
            secrets.insert(key);
    }
    return secrets;
}

}  // namespace

sql::ParameterValue typedValue(std::string_view typed, bool isList) {
    if (!isList) return std::string(typed);
    std::vector<std::optional<std::string>> items;
    for (std::size_t at = 0; at < typed.size();) {
        TypedItem item = itemAt(typed, at);
        if (item.isThere) items.push_back(std::move(item.value));
        at = item.next;
    }
    return sql::ParameterValue(std::move(items));
}

sql::Statement withThose(const sql::Statement& statement, const sql::ParameterValues& values) {
    if (values.empty()) return statement;
    sql::ParameterValues its;
    sql::ParameterKeys keys;
    for (const sql::Token& token : statement.tokens()) {
        if (!sql::isOpenParameter(token, statement.text(), statement.kind())) continue;
        const auto found = values.find(keys.next(token.textIn(statement.text())));
        if (found != values.end()) its.insert(*found);
    }
    return its.empty() ? statement : statement.with(std::move(its));
}

sql::Statement withValuesOf(const std::string& text, const sql::Statement& whole) {
    sql::Statement part(text, whole.language());
    if (whole.parameters().empty()) return part;
    const auto unnamed = [](const sql::Statement& statement) {
        return static_cast<std::size_t>(std::ranges::count_if(statement.tokens(), [&](const sql::Token& token) {
            return token.kind == sql::TokenKind::Parameter && token.length == 1;
        }));
    };
    sql::ParameterValues values = whole.parameters();
    const std::size_t all = unnamed(whole);
    const std::size_t here = unnamed(part);
    for (std::size_t i = 1; i <= here && here <= all; ++i) {
        const auto found = whole.parameters().find(std::to_string(all - here + i));
        if (found != whole.parameters().end()) values.insert_or_assign(std::to_string(i), found->second);
    }
    return withThose(part, values);
}

sql::Statement withTyped(const sql::Statement& statement,
                         const std::map<std::string, std::string, std::less<>>& typed) {
    if (typed.empty()) return statement;
    const catalog::View nothing;
    const sql::ScopeFinder scope(statement.text(), statement.tree(), nothing);
    sql::ParameterValues values;
    for (const sql::StatementParameter& one : sql::parametersOf(statement.text(), statement.tree(), scope)) {
        const auto found = typed.find(one.key);
        if (found != typed.end()) values.emplace(one.key, typedValue(found->second, one.isList));
    }
    return values.empty() ? statement : statement.with(std::move(values));
}

std::string parametersText(const sql::Statement& statement) {
    std::string out;
    const std::set<std::string, std::less<>> secrets = secretKeys(statement);
    for (const auto& [key, value] : statement.parameters()) {
        std::string shown;
        for (const std::optional<std::string>& item : value.items)
            shown += (shown.empty() ? "" : ", ") + item.value_or("NULL");
        if (value.items.size() != 1) shown = "(" + shown + ")";
        if (secrets.contains(key)) shown = base::kHidden;
        out += fmt::format("{}{} = {}", out.empty() ? "" : ", ", key, shown);
    }
    return out;
}

ParameterMemory::Given ParameterMemory::given(const std::string& key) const {
    const auto found = known_.find(key);
    return found == known_.end() ? Given{} : found->second.given;
}

void ParameterMemory::give(const std::string& key, Given value) { known_[key].given = std::move(value); }

std::vector<std::string> ParameterMemory::before(const std::string& key) const {
    const auto found = known_.find(key);
    return found == known_.end() ? std::vector<std::string>() : found->second.before;
}

Result<sql::ParameterValues> ParameterMemory::valuesFor(const std::vector<sql::StatementParameter>& parameters) {
    for (const sql::StatementParameter& one : parameters) {
        if (given(one.key).isThere()) continue;
        return Error{.kind = ErrorKind::NotFound,
                     .message = fmt::format("The parameter {} has no value yet.", one.written),
                     .hint = "Give it one in the strip above the text."};
    }
    sql::ParameterValues values;
    for (const sql::StatementParameter& one : parameters) {
        store::KeptParameter& known = known_[one.key];
        if (known.given.isNull) {
            values.emplace(one.key, std::optional<std::string>());
            continue;
        }
        values.emplace(one.key, typedValue(known.given.typed, one.isList));
        if (known.given.typed.empty() || base::isSecretName(one.key)) continue;
        std::erase(known.before, known.given.typed);
        known.before.insert(known.before.begin(), known.given.typed);
        if (known.before.size() > kRemembered) known.before.resize(kRemembered);
    }
    return values;
}

store::KeptParameters ParameterMemory::kept() const {
    store::KeptParameters out = known_;
    std::erase_if(out, [](const auto& one) { return base::isSecretName(one.first); });
    return out;
}

}  // namespace pantry::work
