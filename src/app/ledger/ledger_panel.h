#pragma once

#include <QCheckBox>
#include <QLineEdit>
#include <QListWidget>
#include <QTimer>
#include <QWidget>

#include "app/desk/desk.h"

namespace pantry::app {

/// The page Ledger of the left column: what ran, newest first, by day.
class LedgerPanel : public QWidget {
    Q_OBJECT

public:
    explicit LedgerPanel(Desk& desk, QWidget* parent = nullptr);

    void setConnection(const QString& id);
    void focusFind();

Q_SIGNALS:
    /// The entry's statement is wanted in a sheet on its connection.
    void statementRequested(const QString& connectionId, const QString& statement);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void reload();
    void fill(const std::vector<store::LedgerEntry>& entries);
    void openCurrent();
    void showMenu(const QPoint& at);

    Desk& desk_;
    QString connectionId_;
    QLineEdit* find_;
    QCheckBox* onlyThis_;
    QListWidget* list_;
    QTimer restTimer_;
    std::size_t limit_ = 300;  // entries that are shown; older ones come when asked for
    bool isFromTop_ = false;   // another search begins at its top
    std::vector<store::LedgerEntry> entries_;
};

}  // namespace pantry::app
