#pragma once

#include <cstdint>
#include <string>
#include <string_view>

namespace pantry::data {

/// What a column holds, as far as display, order and export care.
enum class ColumnType : std::uint8_t {
    Unknown,
    Integer,
    Real,
    Decimal,
    Boolean,
    Text,
    Date,
    Time,
    Timestamp,
    Json,
    Binary
};

/// A column of a result as the server described it.
struct Column {
    std::string name;
    std::string typeName;  ///< as the engine writes it; empty where it tells none
    ColumnType type = ColumnType::Unknown;
    std::string originTable = {};  ///< the relation it comes from unchanged, as the engine tells; empty otherwise
    std::string originColumn = {};
    std::string originSchema =
        {};  ///< of that relation; of MariaDB its database, of SQLite main, temp or what is attached
    friend bool operator==(const Column&, const Column&) = default;
};

/// The type that a declared SQL type name means; Unknown for an empty or unheard-of one.
[[nodiscard]] ColumnType typeFromName(std::string_view typeName);

/// Whether values of this type are shown at the right, digits below digits.
[[nodiscard]] bool isNumeric(ColumnType type);

}  // namespace pantry::data
