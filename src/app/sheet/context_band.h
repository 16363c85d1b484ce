#pragma once

#include <QFrame>
#include <QLabel>
#include <QPushButton>

#include "app/sheet/sheet.h"

namespace pantry::app {

/// The coloured band over a sheet: where it will run, and the verbs.
class ContextBand : public QFrame {
    Q_OBJECT

public:
    ContextBand(Desk& desk, Sheet& sheet, QWidget* parent = nullptr);

Q_SIGNALS:
    void runRequested();
    void runAllRequested();
    void stopRequested();
    void formatRequested();

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void refresh();
    void offerConnections();
    [[nodiscard]] QString placeWords(const db::ConnectionProfile& p) const;

    Desk& desk_;
    Sheet& sheet_;
    QLabel* environment_;
    QPushButton* connection_;
    QPushButton* place_;
    QPushButton* run_;
    QPushButton* runAll_;
    QPushButton* stop_;
    QPushButton* format_;
};

}  // namespace pantry::app
