#pragma once

#include <QLabel>

#include "app/desk/desk.h"
#include "app/look/tinted_band.h"

namespace pantry::app {

/// Says over a result that has left its sheet where it came from: environment, connection and database.
class OriginBand : public TintedBand {
    Q_OBJECT

public:
    /// `place` is in words; the connection is looked up in the desk, and may be gone by now.
    OriginBand(Desk& desk, const QString& connectionId, const QString& place, QWidget* parent = nullptr);
};

}  // namespace pantry::app
