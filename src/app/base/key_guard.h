#pragma once

#include <QObject>

namespace pantry::app {

/// Keeps the keys that run a sheet for the sheet: while somebody is in a field, Ctrl+Return means that field.
class KeyGuard : public QObject {
    Q_OBJECT

public:
    /// Watches the whole application.
    explicit KeyGuard(QObject* parent);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
};

}  // namespace pantry::app
