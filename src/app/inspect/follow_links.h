#pragma once

#include <QString>
#include <string>
#include <vector>

#include "app/result/grid_model.h"
#include "core/sql/text/dialect.h"

namespace pantry::app {

/// A way from a row along a key: to the row that it points at, or to those that point at it.
struct FollowLink {
    QString text;       ///< “plot 17 · Larkspur”
    std::string query;  ///< reads the rows there
    bool isOutward = true;
};

/// The ways that lead on from a row of a grid, as far as the catalog knows its columns.
[[nodiscard]] std::vector<FollowLink> followLinks(const GridModel& model, int row, sql::Dialect dialect);

}  // namespace pantry::app
