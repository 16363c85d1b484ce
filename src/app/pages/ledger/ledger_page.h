#pragma once

#include <QButtonGroup>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QPushButton>
#include <QSplitter>
#include <QStackedWidget>
#include <QTimer>

#include "app/ledger/fold_list.h"
#include "app/page/page.h"
#include "app/pages/ledger/run_details.h"
#include "app/pages/ledger/statistics_view.h"

namespace pantry::app {

/// The ledger in full: at the left the runs by day, equal ones as one entry; at the right the chosen one. What the find
/// field understood stands below it as words that can be removed.
///
/// Threads: the window's thread.
class LedgerPage : public Page {
    Q_OBJECT

public:
    explicit LedgerPage(Desk& desk, QWidget* parent = nullptr);

    [[nodiscard]] QString title() const override { return tr("Ledger"); }
    [[nodiscard]] QIcon icon() const override;
    void enter() override;

    /// Whose runs “Connection” and “Group” mean.
    void setConnection(const QString& id);
    /// One run, whatever is in the list.
    void showRun(const store::LedgerEntry& entry);
    [[nodiscard]] RunDetails& details() { return *details_; }
    [[nodiscard]] FoldModel& model() { return *model_; }

Q_SIGNALS:
    void runRequested(const QString& connectionId, const QString& statement);
    void sheetRequested(const QString& connectionId, const QString& statement);
    void remarked(const QString& text);

protected:
    void resizeEvent(QResizeEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    enum Scope { OfConnection, OfGroup, OfAll };
    [[nodiscard]] QWidget* makeLeft();
    [[nodiscard]] QLayout* makeScopes();
    [[nodiscard]] std::vector<std::string> connectionsMeant() const;
    void search();
    void showTerms();
    void takeOut(std::size_t start, std::size_t length);
    void noteFilled(bool isAnew);
    void noteRested();
    void chooseRow(const QModelIndex& index);
    void openWords();
    void showStatistics(bool isShown);
    void remove(const std::vector<std::int64_t>& ids);

    Desk& desk_;
    QString connectionId_;
    QLineEdit* find_;
    QButtonGroup* scopes_;
    QWidget* terms_;
    QListView* list_;
    FoldModel* model_;
    QLabel* state_;
    QSplitter* splitter_;  // list and chosen run
    QWidget* undoStrip_;
    QLabel* undoText_;
    QPushButton* statisticsTab_;
    QStackedWidget* right_;
    RunDetails* details_;
    StatisticsView* statistics_;
    QTimer debounce_;
    std::vector<store::LedgerEntry> removed_;  // the last ones, to be put back
};

}  // namespace pantry::app
