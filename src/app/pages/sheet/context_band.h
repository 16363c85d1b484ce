#pragma once

#include <QLabel>
#include <QPushButton>

#include <utility>

#include "app/look/tinted_band.h"
#include "app/look/tool_row.h"
#include "app/sheet/sheet.h"

namespace pantry::app {

/// The coloured band over a sheet: where it will run, and the verbs.
class ContextBand : public TintedBand {
    Q_OBJECT

public:
    ContextBand(Desk& desk, Sheet& sheet, QWidget* parent = nullptr);

    void offerConnections();
    void offerSession();

    /// Who and where: server, version, user, database, encryption, since when; a line each.
    [[nodiscard]] QString facts() const;

Q_SIGNALS:
    void runRequested();
    void runAllRequested();
    void stopRequested();
    void formatRequested();
    void versionsRequested();

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void refresh();
    void refreshElapsed();
    void refreshSaved();
    [[nodiscard]] QString placeText(const db::ConnectionProfile& p, int widest) const;
    [[nodiscard]] bool isLockShown() const;
    [[nodiscard]] std::pair<int, int> roomForWords(const QString& wholeName) const;

    Desk& desk_;
    Sheet& sheet_;
    QPushButton* connection_;
    QPushButton* place_;
    QLabel* lock_;
    ToolRow* row_;
    ElidedLabel* elapsed_;
    QPushButton* run_;
    QPushButton* runAll_;
    QPushButton* stop_;
    QPushButton* format_;
    QPushButton* saved_;
};

}  // namespace pantry::app
