#include <fmt/format.h>

#include "core/sql/forms/form_parts.h"
#include "core/sql/text/lexer.h"

// Users and roles. On PostgreSQL both are roles, of which some may log in.

namespace pantry::sql {
namespace {

const FormField kPassword{
    .id = "password", .label = "Password", .kind = FieldKind::Secret, .hint = "goes to the server and nowhere else"};

std::string rolesQuery(const FormPlace& place) {
    if (isMySql(place)) return "SELECT QUOTE(user) FROM mysql.user WHERE is_role = 'Y' ORDER BY 1";
    return "SELECT rolname::text FROM pg_roles ORDER BY rolname LIKE 'pg\\_%', rolname";
}

FormField memberships(const FormPlace& place) {
    return {.id = "memberOf", .label = "Member of", .kind = FieldKind::Ticks, .choicesQuery = rolesQuery(place)};
}

/// Those of PostgreSQL that a role has.
std::vector<FormField> attributes(const FormPlace& place) {
    return {{.id = "login", .label = "May log in", .kind = FieldKind::Tick},
            kPassword,
            {.id = "createdb", .label = "May make databases", .kind = FieldKind::Tick},
            {.id = "createrole", .label = "May make roles", .kind = FieldKind::Tick},
            {.id = "superuser", .label = "May do everything (superuser)", .kind = FieldKind::Tick},
            {.id = "connections", .label = "Connections at most", .kind = FieldKind::Number},
            {.id = "until", .label = "Password valid until", .hint = "2027-12-31 or infinity"},
            memberships(place),
            {.id = "comment", .label = "Comment"}};
}

/// Those of MariaDB that a user has.
std::vector<FormField> accountFields(const FormPlace& place) {
    return {kPassword,
            {.id = "tls", .label = "Only over TLS", .kind = FieldKind::Tick},
            {.id = "locked", .label = "Locked", .kind = FieldKind::Tick},
            {.id = "connections", .label = "Connections at most", .kind = FieldKind::Number},
            memberships(place)};
}

void addAttributes(Clauses& clauses, const FieldReader& f, const FormPlace& place) {
    const auto onOff = [&](std::string_view id, const std::string& word) {
        clauses.addIf(f.isChanged(id), f.has(id) ? word : "NO" + word);
    };
    onOff("login", "LOGIN");
    clauses.addIf(f.has("password"), "PASSWORD " + quotedString(f["password"], place.dialect));
    onOff("createdb", "CREATEDB");
    onOff("createrole", "CREATEROLE");
    onOff("superuser", "SUPERUSER");
    clauses.addIf(f.isSet("connections"), "CONNECTION LIMIT " + f["connections"]);
    clauses.addIf(f.isSet("until"), "VALID UNTIL " + quotedString(f["until"], place.dialect));
}

void addAccount(Clauses& clauses, const FieldReader& f, const FormPlace& place) {
    clauses.addIf(f.has("password"), "IDENTIFIED BY " + quotedString(f["password"], place.dialect));
    clauses.addIf(f.isChanged("tls"), f.has("tls") ? "REQUIRE SSL" : "REQUIRE NONE");
    clauses.addIf(f.isSet("connections"), "WITH MAX_USER_CONNECTIONS " + f["connections"]);
    clauses.addIf(f.isChanged("locked"), f.has("locked") ? "ACCOUNT LOCK" : "ACCOUNT UNLOCK");
}

void addMemberships(DefinitionChange& change, const FieldReader& f, const std::string& who, const FormPlace& place) {
    for (const std::string& role : f.added("memberOf")) {
        change.steps.push_back(
            {fmt::format("GRANT {} TO {}", granteeName(role, place.dialect), who), "Make it a member of " + role});
    }
    for (const std::string& role : f.removed("memberOf")) {
        change.steps.push_back(
            {fmt::format("REVOKE {} FROM {}", granteeName(role, place.dialect), who), "Take it out of " + role, true});
    }
}

std::vector<FormField> newRole(const FormPlace& place) {
    std::vector<FormField> fields{{.id = "name", .label = "Name", .isNeeded = true}};
    if (isMySql(place)) return fields;
    for (FormField& one : attributes(place)) fields.push_back(std::move(one));
    return fields;
}

DefinitionChange makeRole(const FormPlace& place, const FieldValues& now, const FieldValues& before) {
    const FieldReader f(now, before);
    const std::string name = granteeName(f["name"], place.dialect);
    Clauses create("CREATE ROLE " + name);
    if (isPostgres(place)) addAttributes(create, f, place);
    DefinitionChange change{.steps = {{create.text(), "Make the role " + f["name"]}}};
    addMemberships(change, f, name, place);
    if (f.has("comment")) change.steps.push_back(commentStep("ROLE", name, f["name"], f["comment"]));
    return change;
}

FormField roleSubject(const FormPlace& place) {
    return {.id = "name",
            .label = "Role",
            .kind = FieldKind::Choice,
            .isNeeded = true,
            .choicesQuery = isMySql(place) ? rolesQuery(place) : granteesQuery(place.dialect, false)};
}

std::vector<FormField> changedRole(const FormPlace& place) {
    std::vector<FormField> fields{roleSubject(place), {.id = "newName", .label = "New name"}};
    for (FormField& one : attributes(place)) fields.push_back(std::move(one));
    return fields;
}

std::string roleNow(const FormPlace& place, const std::string& subject) {
    return "SELECT CASE WHEN r.rolcanlogin THEN 'yes' ELSE '' END AS login,\n"
           "       CASE WHEN r.rolcreatedb THEN 'yes' ELSE '' END AS createdb,\n"
           "       CASE WHEN r.rolcreaterole THEN 'yes' ELSE '' END AS createrole,\n"
           "       CASE WHEN r.rolsuper THEN 'yes' ELSE '' END AS superuser,\n"
           "       r.rolconnlimit::text AS connections, r.rolvaliduntil::text AS until,\n"
           "       (SELECT string_agg(m.rolname, E'\\n' ORDER BY m.rolname LIKE 'pg\\_%', m.rolname)\n"
           "        FROM pg_auth_members a JOIN pg_roles m ON m.oid = a.roleid WHERE a.member = r.oid) AS "
           "\"memberOf\",\n"
           "       shobj_description(r.oid, 'pg_authid') AS comment\nFROM pg_roles r\nWHERE r.rolname = " +
           quotedString(subject, place.dialect);
}

DefinitionChange changeRole(const FormPlace& place, const FieldValues& now, const FieldValues& before) {
    const FieldReader f(now, before);
    const std::string name = quotedName(f["name"], place.dialect);
    DefinitionChange change;
    Clauses alter("ALTER ROLE " + name);
    addAttributes(alter, f, place);
    if (!alter.isEmpty()) change.steps.push_back({alter.text(), "Change the role " + f["name"]});
    addMemberships(change, f, name, place);
    if (f.isChanged("comment")) change.steps.push_back(commentStep("ROLE", name, f["name"], f["comment"]));
    if (f.has("newName") && f["newName"] != f["name"]) {
        change.steps.push_back(
            {fmt::format("ALTER ROLE {} RENAME TO {}", name, quotedName(f["newName"], place.dialect)),
             fmt::format("Rename the role {} to {}", f["name"], f["newName"])});
    }
    return change;
}

std::vector<FormField> droppedRole(const FormPlace& place) {
    std::vector<FormField> fields{roleSubject(place)};
    if (isPostgres(place)) {
        fields.push_back({.id = "heir",
                          .label = "What it owns goes to",
                          .kind = FieldKind::Choice,
                          .choicesQuery = granteesQuery(place.dialect, false),
                          .hint = "in this database; its rights are taken away"});
    }
    return fields;
}

DefinitionChange dropRole(const FormPlace& place, const FieldValues& now, const FieldValues& before) {
    const FieldReader f(now, before);
    const std::string name = granteeName(f["name"], place.dialect);
    DefinitionChange change;
    if (f.has("heir")) {
        change.steps.push_back({fmt::format("REASSIGN OWNED BY {} TO {}", name, quotedName(f["heir"], place.dialect)),
                                fmt::format("Give to {} what {} owns", f["heir"], f["name"])});
        change.steps.push_back({"DROP OWNED BY " + name, "Take away the rights of " + f["name"], true});
    }
    change.steps.push_back({"DROP ROLE " + name, "Drop the role " + f["name"], true});
    return change;
}

std::vector<FormField> newUser(const FormPlace& place) {
    std::vector<FormField> fields{{.id = "name", .label = "Name", .isNeeded = true},
                                  {.id = "host",
                                   .label = "From",
                                   .isNeeded = true,
                                   .value = "%",
                                   .hint = "the host that it may connect from; % means any"}};
    for (FormField& one : accountFields(place)) fields.push_back(std::move(one));
    return fields;
}

DefinitionChange makeUser(const FormPlace& place, const FieldValues& now, const FieldValues& before) {
    const FieldReader f(now, before);
    const std::string account = quotedString(f["name"], place.dialect) + "@" + quotedString(f["host"], place.dialect);
    Clauses create("CREATE USER " + account);
    addAccount(create, f, place);
    DefinitionChange change{.steps = {{create.text(), "Make the user " + f["name"]}}};
    addMemberships(change, f, account, place);
    return change;
}

FormField userSubject() {
    return {.id = "name",
            .label = "User",
            .kind = FieldKind::Choice,
            .isNeeded = true,
            .choicesQuery =
                "SELECT CONCAT(QUOTE(user), '@', QUOTE(host)) FROM mysql.user\nWHERE is_role = 'N'\nORDER BY 1"};
}

std::vector<FormField> changedUser(const FormPlace& place) {
    std::vector<FormField> fields{userSubject(), {.id = "newName", .label = "New name", .hint = "user@host"}};
    for (FormField& one : accountFields(place)) fields.push_back(std::move(one));
    return fields;
}

std::string userNow(const FormPlace& place, const std::string& subject) {
    return "SELECT IF(u.ssl_type = '', '', 'yes') AS tls,\n"
           "       IF(JSON_VALUE(g.priv, '$.account_locked'), 'yes', '') AS locked,\n"
           "       CAST(u.max_user_connections AS char) AS connections,\n"
           "       (SELECT GROUP_CONCAT(QUOTE(m.role) ORDER BY m.role SEPARATOR '\\n') FROM mysql.roles_mapping m\n"
           "        WHERE m.user = u.user AND m.host = u.host) AS memberOf\n"
           "FROM mysql.user u\nJOIN mysql.global_priv g ON g.user = u.user AND g.host = u.host\n"
           "WHERE CONCAT(QUOTE(u.user), '@', QUOTE(u.host)) = " +
           quotedString(subject, place.dialect);
}

DefinitionChange changeUser(const FormPlace& place, const FieldValues& now, const FieldValues& before) {
    const FieldReader f(now, before);
    const std::string account = granteeName(f["name"], place.dialect);
    DefinitionChange change;
    Clauses alter("ALTER USER " + account);
    addAccount(alter, f, place);
    if (!alter.isEmpty()) change.steps.push_back({alter.text(), "Change the user " + f["name"]});
    addMemberships(change, f, account, place);
    if (f.has("newName")) {
        change.steps.push_back({fmt::format("RENAME USER {} TO {}", account, granteeName(f["newName"], place.dialect)),
                                fmt::format("Rename the user {} to {}", f["name"], f["newName"])});
    }
    return change;
}

std::vector<FormField> droppedUser(const FormPlace& /*place*/) { return {userSubject()}; }

DefinitionChange dropUser(const FormPlace& place, const FieldValues& now, const FieldValues& before) {
    const FieldReader f(now, before);
    return {.steps = {{"DROP USER " + granteeName(f["name"], place.dialect), "Drop the user " + f["name"], true}}};
}

}  // namespace

std::vector<FormEntry> roleForms() {
    return {
        {"user.new", "New user…", "Make a user", FormGroup::Role, false, isMySql, newUser, nothingYet, makeUser,
         nothingMade},
        {"user.change", "Change a user…", "Change a user", FormGroup::Role, false, isMySql, changedUser, userNow,
         changeUser, nothingMade},
        {"role.new", "New role…", "Make a role", FormGroup::Role, false, isServer, newRole, nothingYet, makeRole,
         nothingMade},
        {"role.change", "Change a role…", "Change a role", FormGroup::Role, false, isPostgres, changedRole, roleNow,
         changeRole, nothingMade},
        {"user.drop", "Drop a user…", "Drop a user", FormGroup::Role, true, isMySql, droppedUser, nothingYet, dropUser,
         nothingMade},
        {"role.drop", "Drop a role…", "Drop a role", FormGroup::Role, true, isServer, droppedRole, nothingYet, dropRole,
         nothingMade},
    };
}

}  // namespace pantry::sql
