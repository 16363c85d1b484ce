#pragma once

#include <cstddef>
#include <functional>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/sql/text/text_edit.h"

/// Templates of statements with places to be filled in. Their notation:
///
///     «name»                 a place; the same name is the same place wherever it stands
///     «name=text»            the same, filled with a text at first
///     «name:table»           a place that offers tables; also view, relation, schema, type
///     «name:column of t»     a place that offers the columns of the table in the place t
///     «»                     where the caret goes at the end
///     «each column of t: …»  a part that is repeated for each column of the table in the place t; «column» and «type»
///                            in it are the column's. «each column of t joined by ", ": …» puts a text between.
///     ««                     the sign « itself
namespace pantry::snippet {

/// What a place offers to be filled with.
enum class PlaceKind { Text, Table, View, Relation, Column, Schema, Type };
[[nodiscard]] std::string_view kindWord(PlaceKind kind);

/// A piece of a template.
struct Piece {
    enum class Kind { Text, Place, End, Repeat };
    Kind kind = Kind::Text;
    std::string text;                    ///< of a Text; of a Place what fills it at first
    std::string name;                    ///< of a Place
    bool isFilled = false;               ///< a Place has a text at first, be it empty
    PlaceKind offers = PlaceKind::Text;  ///< of a Place
    std::string of;                      ///< the place whose table's columns are meant
    std::string between;                 ///< of a Repeat
    std::vector<Piece> body;             ///< of a Repeat
};

/// A template that was read.
struct Template {
    std::vector<Piece> pieces;
};

/// Errors: InvalidInput with the byte at which the notation is not understood, and what is expected there.
[[nodiscard]] Result<Template> parseTemplate(std::string_view text);

/// A place in a text that was made from a template.
struct Place {
    std::string name;
    PlaceKind offers = PlaceKind::Text;
    std::string of;
    std::vector<sql::TextRange> ranges;  ///< everywhere that it stands
    bool isFilled = false;
};

/// A column as repeated parts know it.
struct ColumnOfTable {
    std::string name;  ///< quoted where it must be
    std::string type;
};
/// A text made from a template.
struct Rendered {
    std::string text;
    std::vector<Place> places;       ///< in the order in which they come first
    std::optional<std::size_t> end;  ///< where the caret goes at the end
    /// What parts were repeated for, by the place that names the table; none for a table that is not known.
    std::map<std::string, std::vector<ColumnOfTable>> columns;
};

/// The columns of a table that somebody has named; none when it is not known.
using ColumnsOf = std::function<std::vector<ColumnOfTable>(std::string_view table)>;

/// `values`: what fills places, by their names. `indent`: blanks that each line but the first begins with. A place
/// without a value stands as «name», so that it is seen and nothing runs with it.
[[nodiscard]] Rendered render(const Template& from, const std::map<std::string, std::string>& values,
                              const ColumnsOf& columns, std::string_view indent = {});

/// The first place of a statement that is not filled in yet, such as «table»; nothing when all are. What stands in
/// strings and comments may be quoted so by people, and does not count.
[[nodiscard]] std::optional<std::string> unfilledPlace(std::string_view statement,
                                                       const std::vector<sql::TextRange>& words);

}  // namespace pantry::snippet
