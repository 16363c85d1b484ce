#include "app/base/text.h"

namespace pantry::app {

QString toQt(std::string_view text) { return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size())); }

std::string fromQt(const QString& text) { return text.toStdString(); }

QString toQt(const Error& error) { return toQt(error.text()); }

}  // namespace pantry::app
