#pragma once

#include <map>
#include <string>
#include <vector>

#include "core/data/view/cell_format.h"
#include "core/data/view/filter.h"

namespace pantry::data {

/// A colour for the cells of a column that fulfil a test, or, as a scale, for all by their size.
struct ColourRule {
    std::string column;  ///< its name
    Test test = Test::Equals;
    std::vector<std::string> values;
    std::string colour = "marigold";  ///< a name of the theme's palette
    bool isScale = false;             ///< pale for the smallest, full for the largest
    friend bool operator==(const ColourRule&, const ColourRule&) = default;
};

/// What somebody chose for one column of a query's grid.
struct ColumnChoice {
    int width = 0;  ///< in pixels; 0: by its content
    bool isHidden = false;
    CellFormat format;
    std::string labelColumn;  ///< of the table that a key points at; empty: chosen by itself, “-”: none
    friend bool operator==(const ColumnChoice&, const ColumnChoice&) = default;
};

/// What somebody chose for the grid of one query; it outlives the result and is there again when the query runs again.
struct GridChoices {
    std::map<std::string, ColumnChoice> columns;  ///< by name
    std::vector<std::string> order;               ///< names from left to right; empty: as the server sends them
    int frozen = 0;                               ///< columns that stay at the left
    std::vector<ColourRule> rules;
    friend bool operator==(const GridChoices&, const GridChoices&) = default;
};

}  // namespace pantry::data
