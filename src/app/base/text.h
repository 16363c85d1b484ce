#pragma once

#include <QColor>
#include <QString>
#include <string>
#include <string_view>

#include "core/base/result.h"

namespace pantry::app {

// The one place where text of the core becomes text of Qt and back.

[[nodiscard]] QString toQt(std::string_view text);
[[nodiscard]] std::string fromQt(const QString& text);

/// “1 204” and “1 204 rows”, as numbers are written here.
[[nodiscard]] QString grouped(std::size_t number);
[[nodiscard]] QString countedRows(std::size_t rows);

/// An error for a label: message, then what to do.
[[nodiscard]] QString toQt(const Error& error);

}  // namespace pantry::app
