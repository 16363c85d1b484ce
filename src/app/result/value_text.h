#pragma once

#include <QImage>
#include <QString>

#include "core/data/store/chunk.h"
#include "core/data/store/column.h"

namespace pantry::app {

/// A value in full, as the close-up shows it.
struct ValueText {
    QString text;        ///< indented where it is JSON, a hexadecimal table where it is binary
    QString facts;       ///< “1 204 bytes · JSON”, “null”
    QImage picture;      ///< what it is a picture of, small; null when it is none
    bool isCut = false;  ///< too long to show whole; the facts say so
};

/// Works a value out for reading. Values beyond some hundred kilobytes are shown up to there,
/// endless lines broken.
[[nodiscard]] ValueText valueText(const data::Cell& cell, data::ColumnType type);

}  // namespace pantry::app
