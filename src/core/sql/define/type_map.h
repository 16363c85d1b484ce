#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/sql/text/dialect.h"

namespace pantry::sql {

/// How a type of one engine is written for another.
struct MappedType {
    std::string name;
    std::string remark;  ///< what the other type does not keep; empty when nothing is lost
};

/// Where a column of the type stands.
struct TypePlace {
    bool isInKey = false;  ///< in a key or an index, for which some engines need a length
    /// Labels of an enumeration that the type's name stands for, where the catalog knows it.
    std::vector<std::string> labels = {};
};

/// The type of a column for another engine, as near as it has one. Within one dialect the name stays.
[[nodiscard]] MappedType typeIn(std::string_view typeName, Dialect from, Dialect to, const TypePlace& place = {});

}  // namespace pantry::sql
