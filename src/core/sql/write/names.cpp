#include "core/sql/write/names.h"

#include "core/base/text.h"

#include "core/sql/text/lexer.h"

namespace pantry::sql {

std::string qualifiedName(std::string_view schema, std::string_view name, Dialect dialect) {
    const std::string quoted = quotedName(name, dialect);
    return schema.empty() ? quoted : quotedName(schema, dialect) + "." + quoted;
}

std::string nameOf(const catalog::Relation& relation, const catalog::View& view, Dialect dialect) {
    const catalog::Relation* meant = view.find({}, relation.name);
    const bool isEnough = meant != nullptr && meant->schema == relation.schema && meant->name == relation.name;
    return qualifiedName(isEnough ? std::string_view() : std::string_view(relation.schema), relation.name, dialect);
}

std::string dottedName(std::string_view name, Dialect dialect) {
    std::string out;
    for (const std::string_view part : base::splitAt(name, '.')) {
        out += (out.empty() ? "" : ".") + quotedName(part, dialect);
    }
    return out;
}

}  // namespace pantry::sql
