#pragma once

#include <QGridLayout>
#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QWidget>
#include <optional>
#include <vector>

#include "app/desk/desk.h"
#include "app/editor/code_text.h"
#include "app/ledger/run_line.h"

namespace pantry::app {

/// One run in full: the runs of its statement as a line, what became of it, the statement, what differs from the run
/// before, and what it was run with.
///
/// Threads: the window's thread.
class RunDetails : public QWidget {
    Q_OBJECT

public:
    explicit RunDetails(Desk& desk, QWidget* parent = nullptr);

    /// Shows the last run of a fold; the others of it are read meanwhile.
    void show(const store::LedgerEntry& entry, store::LedgerAlike alike = store::LedgerAlike::Form);
    void clear();
    /// nullptr while nothing is shown.
    [[nodiscard]] const store::LedgerEntry* entry() const { return shown_ ? &*shown_ : nullptr; }
    [[nodiscard]] const std::vector<store::LedgerEntry>& runs() const { return runs_; }

    /// All runs of the entry that is shown, also those that are not.
    void removeAll();
    void copy();
    void copyLink();
    void toggleStar();
    void editNote();

Q_SIGNALS:
    void runRequested(const QString& connectionId, const QString& statement);
    void sheetRequested(const QString& connectionId, const QString& statement);
    void removeRequested(const std::vector<std::int64_t>& ids);
    void remarked(const QString& text);

private:
    [[nodiscard]] QLayout* makeVerbs();
    void showRun(std::int64_t id);
    void refresh();
    void showStatement();
    void showPlan();
    void showFacts();
    void addFact(const QString& what, const QString& value, const QString& before = {});
    void openPlaces();
    [[nodiscard]] const store::LedgerEntry* runBefore() const;

    Desk& desk_;
    QLabel* heading_;
    QLabel* hint_;
    RunLine* line_;
    QLabel* outcome_;
    QPushButton* again_;
    QPushButton* star_;
    QLabel* note_;
    CodeText* statement_;
    QLabel* planHeading_;
    QPlainTextEdit* plan_;
    QLabel* factsHeading_;
    QGridLayout* facts_;
    QWidget* content_;
    QLabel* empty_;
    std::optional<store::LedgerEntry> shown_;
    store::LedgerAlike alike_ = store::LedgerAlike::Form;
    std::vector<store::LedgerEntry> runs_;  // of the same statement, the newest first
    std::uint64_t asked_ = 0;
};

}  // namespace pantry::app
