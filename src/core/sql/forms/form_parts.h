#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/sql/forms/form.h"

// What the files of this room share.

namespace pantry::sql {

[[nodiscard]] std::vector<FormEntry> objectForms();
[[nodiscard]] std::vector<FormEntry> databaseForms();
[[nodiscard]] std::vector<FormEntry> schemaForms();
[[nodiscard]] std::vector<FormEntry> sequenceForms();
[[nodiscard]] std::vector<FormEntry> roleForms();
[[nodiscard]] std::vector<FormEntry> rightForms();

/// Fields with what was filled in, and what they held before.
class FieldReader {
public:
    FieldReader(const FieldValues& now, const FieldValues& before) : now_(now), before_(before) {}

    [[nodiscard]] std::string operator[](std::string_view id) const { return valueOf(now_, id); }
    [[nodiscard]] std::string before(std::string_view id) const { return valueOf(before_, id); }
    [[nodiscard]] bool has(std::string_view id) const { return !valueOf(now_, id).empty(); }
    [[nodiscard]] bool isChanged(std::string_view id) const { return valueOf(now_, id) != valueOf(before_, id); }
    /// It has a value, and another one than before.
    [[nodiscard]] bool isSet(std::string_view id) const { return has(id) && isChanged(id); }
    [[nodiscard]] std::vector<std::string> added(std::string_view id) const;
    [[nodiscard]] std::vector<std::string> removed(std::string_view id) const;

private:
    const FieldValues& now_;
    const FieldValues& before_;
};

/// A statement that grows by clauses; nothing was said as long as it has none.
class Clauses {
public:
    explicit Clauses(std::string head) : text_(std::move(head)) {}
    Clauses& add(const std::string& clause) {
        text_ += " " + clause;
        isEmpty_ = false;
        return *this;
    }
    Clauses& addIf(bool isWanted, const std::string& clause) { return isWanted ? add(clause) : *this; }
    [[nodiscard]] bool isEmpty() const { return isEmpty_; }
    [[nodiscard]] const std::string& text() const { return text_; }

private:
    std::string text_;
    bool isEmpty_ = true;
};

[[nodiscard]] bool isPostgres(const FormPlace& place);
[[nodiscard]] bool isMySql(const FormPlace& place);
[[nodiscard]] bool isServer(const FormPlace& place);
[[nodiscard]] std::string nothingYet(const FormPlace& place, const std::string& subject);
[[nodiscard]] std::optional<catalog::ObjectName> nothingMade(const FormPlace& place, const FieldValues& now);
[[nodiscard]] std::optional<catalog::ObjectName> sameObject(const FormPlace& place, const FieldValues& now);

/// COMMENT ON word name IS … of PostgreSQL.
[[nodiscard]] DefinitionStep commentStep(std::string_view word, const std::string& quoted, const std::string& name,
                                         const std::string& comment);

/// A query that lists everybody who can be granted something; on PostgreSQL `withPublic` puts PUBLIC before them.
[[nodiscard]] std::string granteesQuery(Dialect dialect, bool withPublic);
/// A role or user as statements name it: what is quoted already stays, user@host of MariaDB becomes two quoted parts.
[[nodiscard]] std::string granteeName(const std::string& text, Dialect dialect);

}  // namespace pantry::sql
