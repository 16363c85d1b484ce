#include "core/sql/define/object_words.h"

namespace pantry::sql {

using catalog::ObjectKind;

std::string_view objectWord(ObjectKind kind, std::string_view detail) {
    switch (kind) {
        case ObjectKind::View: return "VIEW";
        case ObjectKind::MaterializedView: return "MATERIALIZED VIEW";
        case ObjectKind::ForeignTable: return "FOREIGN TABLE";
        case ObjectKind::Sequence: return "SEQUENCE";
        case ObjectKind::Function: return "FUNCTION";
        case ObjectKind::Procedure: return "PROCEDURE";
        case ObjectKind::Aggregate: return "AGGREGATE";
        case ObjectKind::Type: return detail.starts_with("domain") ? "DOMAIN" : "TYPE";
        case ObjectKind::Event: return "EVENT";
        case ObjectKind::Extension: return "EXTENSION";
        case ObjectKind::Table:
        case ObjectKind::VirtualTable: break;
    }
    return "TABLE";
}

bool isRoutineKind(ObjectKind kind) { return kind == ObjectKind::Function || kind == ObjectKind::Procedure; }

std::string withParameters(std::string name, const catalog::ObjectName& object, Dialect dialect) {
    const bool overloads = isRoutineKind(object.kind) || object.kind == ObjectKind::Aggregate;
    if (!overloads || dialect != Dialect::Postgres) return name;
    const bool isBare = object.kind == ObjectKind::Aggregate && object.signature.empty();
    return name + "(" + (isBare ? "*" : object.signature) + ")";
}

}  // namespace pantry::sql
