#include "core/sql/forms/form.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>

#include "core/base/text.h"
#include "core/sql/forms/form_parts.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

bool isWholeNumber(const std::string& text) {
    std::int64_t number = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), number);
    return error == std::errc() && end == text.data() + text.size();
}

std::vector<std::string> without(std::vector<std::string> some, const std::vector<std::string>& others) {
    std::erase_if(some, [&](const std::string& one) { return std::ranges::find(others, one) != others.end(); });
    return some;
}

}  // namespace

std::string valueOf(const FieldValues& values, std::string_view id) {
    const auto found = values.find(id);
    return found == values.end() ? std::string() : found->second;
}

std::vector<std::string> ticksOf(const FieldValues& values, std::string_view id) {
    std::vector<std::string> ticks;
    const std::string all = valueOf(values, id);
    for (const std::string_view one : base::splitAt(all, kBetweenTicks)) {
        if (!one.empty()) ticks.emplace_back(one);
    }
    return ticks;
}

std::vector<std::string> FieldReader::added(std::string_view id) const {
    return without(ticksOf(now_, id), ticksOf(before_, id));
}

std::vector<std::string> FieldReader::removed(std::string_view id) const {
    return without(ticksOf(before_, id), ticksOf(now_, id));
}

const std::vector<FormEntry>& formEntries() {
    static const std::vector<FormEntry> kEntries = [] {
        std::vector<FormEntry> all;
        for (std::vector<FormEntry>& some :
             std::array{objectForms(), sequenceForms(), schemaForms(), databaseForms(), roleForms(), rightForms()}) {
            all.insert(all.end(), some.begin(), some.end());
        }
        return all;
    }();
    return kEntries;
}

const FormEntry* formEntry(std::string_view id) {
    const auto found = std::ranges::find(formEntries(), id, &FormEntry::id);
    return found == formEntries().end() ? nullptr : &*found;
}

std::string whyIncomplete(const std::vector<FormField>& fields, const FieldValues& values) {
    for (const FormField& field : fields) {
        const std::string value = valueOf(values, field.id);
        if (field.isNeeded && value.empty()) return fmt::format("“{}” is not filled in yet.", field.label);
        if (field.kind == FieldKind::Number && !value.empty() && !isWholeNumber(value)) {
            return fmt::format("{} takes a whole number, not “{}”.", field.label, value);
        }
    }
    return {};
}

bool isPostgres(const FormPlace& place) { return place.dialect == Dialect::Postgres; }
bool isMySql(const FormPlace& place) { return place.dialect == Dialect::MySql; }
bool isServer(const FormPlace& place) { return isPostgres(place) || isMySql(place); }
std::string nothingYet(const FormPlace& /*place*/, const std::string& /*subject*/) { return {}; }
std::optional<catalog::ObjectName> nothingMade(const FormPlace& /*place*/, const FieldValues& /*now*/) { return {}; }
std::optional<catalog::ObjectName> sameObject(const FormPlace& place, const FieldValues& /*now*/) {
    return place.object;
}

DefinitionStep commentStep(std::string_view word, const std::string& quoted, const std::string& name,
                           const std::string& comment) {
    const std::string literal = comment.empty() ? "NULL" : quotedString(comment, Dialect::Postgres);
    return {fmt::format("COMMENT ON {} {} IS {}", word, quoted, literal), "Comment on " + name};
}

std::string granteesQuery(Dialect dialect, bool withPublic) {
    if (dialect == Dialect::MySql) {
        return "SELECT IF(is_role = 'Y', QUOTE(user), CONCAT(QUOTE(user), '@', QUOTE(host)))\n"
               "FROM mysql.user\nORDER BY 1";
    }
    const std::string roles = "SELECT rolname::text FROM pg_roles WHERE rolname NOT LIKE 'pg\\_%'";
    return withPublic ? "SELECT 'PUBLIC'\nUNION ALL\n(" + roles + " ORDER BY 1)" : roles + "\nORDER BY 1";
}

std::string granteeName(const std::string& text, Dialect dialect) {
    if (text.empty()) return text;
    if (dialect != Dialect::MySql) return text == "PUBLIC" ? text : quotedName(text, dialect);
    if (text.front() == '\'' || text.front() == '`' || text.front() == '"') return text;
    const std::size_t at = text.rfind('@');
    if (at == std::string::npos) return quotedString(text, dialect);
    return quotedString(text.substr(0, at), dialect) + "@" + quotedString(text.substr(at + 1), dialect);
}

}  // namespace pantry::sql
