#pragma once

#include <QCheckBox>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QPushButton>
#include <QTimer>
#include <QWidget>
#include <vector>

#include "app/desk/desk.h"
#include "app/ledger/fold_list.h"

namespace pantry::app {

/// The page Ledger of the left column: what ran, newest first, by day, equal runs as one; for a quick look.
///
/// Threads: the window's thread.
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
    void search();
    void noteFilled(bool isAnew);
    void noteRested();
    [[nodiscard]] const store::LedgerFold* chosen() const { return model_->foldAt(list_->currentIndex()); }
    void openChosen();
    void removeChosen();
    void showMenu(const QPoint& at);

    Desk& desk_;
    QString connectionId_;
    QLineEdit* find_;
    QCheckBox* onlyThis_;
    QListView* list_;
    FoldModel* model_;
    QLabel* state_;
    QPushButton* undo_;
    QTimer debounce_;
    std::vector<store::LedgerEntry> removed_;  // the last ones, to be put back
    std::optional<store::LedgerEntry> kept_;   // what was chosen before the list began anew
};

}  // namespace pantry::app
