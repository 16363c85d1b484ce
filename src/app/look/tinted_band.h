#pragma once

#include <QColor>
#include <QFrame>
#include <QLabel>

#include "core/db/profile.h"

namespace pantry::app {

/// A band in the colour of a connection, with a line of it below: where something runs, or where it came from.
class TintedBand : public QFrame {
    Q_OBJECT

public:
    explicit TintedBand(QWidget* parent = nullptr);

    /// nullptr: no connection, in the quiet colour. The theme's change is followed by whoever calls this.
    void showConnection(const db::ConnectionProfile* profile);
    /// The word of the environment, in the connection's colour; to be put into the band by whoever fills it.
    [[nodiscard]] QLabel* chip() const { return chip_; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    QLabel* chip_;
    QColor colour_;
};

}  // namespace pantry::app
