#include "app/base/text.h"

#include "core/base/text.h"

namespace pantry::app {

QString toQt(std::string_view text) { return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size())); }

std::string fromQt(const QString& text) { return text.toStdString(); }

QString toQt(const Error& error) { return toQt(error.text()); }

QString grouped(std::size_t number) { return toQt(base::grouped(static_cast<std::int64_t>(number))); }

QString countedRows(std::size_t rows) { return toQt(base::counted(static_cast<std::int64_t>(rows), "row", "rows")); }

}  // namespace pantry::app
