#pragma once

#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QTimer>
#include <optional>
#include <string>
#include <vector>

#include "app/desk/desk.h"
#include "app/editor/sql_editor.h"
#include "app/sheet/sheet.h"

namespace pantry::app {

/// Over the text: searches what ran, backwards, with each letter. The statements of the sheet's connection come first,
/// those of others behind. The text stays as it is until one is taken.
///
/// Threads: the window's thread.
class RanBefore : public QFrame {
    Q_OBJECT

public:
    RanBefore(Desk& desk, Sheet& sheet, SqlEditor& editor, QWidget* parent);

    /// Opens it with what is selected, or goes to the next older one when it is open.
    void open();

Q_SIGNALS:
    /// To be put into the sheet. `toEdit`: with its first value selected.
    void taken(const std::string& statement, bool toEdit);
    /// The same, and to be run.
    void runRequested(const std::string& statement);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void search();
    void add(const std::vector<store::LedgerFold>& folds, bool isOwn);
    void showList();
    void showChosen();
    void step(int by);
    /// What a key wants to be done with the chosen statement.
    enum class Take { Put, Edit, Run };
    /// At once, or when the list is that of the letters before the key.
    void take(Take how);
    [[nodiscard]] const store::LedgerEntry* chosen() const;
    void close();
    void place();

    Desk& desk_;
    Sheet& sheet_;
    SqlEditor& editor_;
    QLineEdit* find_;
    QListWidget* list_;
    QLabel* whole_;
    QLabel* hint_;
    QTimer debounce_;
    std::vector<store::LedgerFold> own_;
    std::vector<store::LedgerFold> others_;
    std::vector<const store::LedgerFold*> shown_;
    std::uint64_t asked_ = 0;
    bool isSearching_ = false;
    std::optional<Take> due_;  // a key was pressed before what fits was there
};

}  // namespace pantry::app
