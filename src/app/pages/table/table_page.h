#pragma once

#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSplitter>
#include <QTableView>
#include <QTimer>
#include <memory>
#include <optional>

#include "app/define/definition_panel.h"
#include "app/define/table_wish.h"
#include "app/pages/table/design_models.h"
#include "app/place/place_page.h"

namespace pantry::app {

/// A table as it is to be: its columns as lines of a grid, its keys and rules below, and the statements that make it or
/// change it, as one types. It is run here, once somebody has seen them, or taken into a sheet.
///
/// Threads: the window's thread; statements are worked out beside it.
class TablePage : public PlacePage {
    Q_OBJECT

public:
    using Wish = TableWish;

    /// A new table in a schema (place.object.schema), or the one that is there.
    TablePage(Desk& desk, ObjectPlace place, Wish wish, QWidget* parent);
    /// A new table that begins with columns that somebody else has found out, such as those of a file.
    void beginWith(const sql::TableDesign& design);

    [[nodiscard]] bool isNew() const { return place_.object.name.empty(); }
    [[nodiscard]] const sql::TableDesign& design() const { return design_; }

    [[nodiscard]] QString title() const override;
    [[nodiscard]] QIcon icon() const override;
    [[nodiscard]] std::optional<UnfinishedText> unfinished() const override;
    void enter() override;

Q_SIGNALS:
    /// The statements are to go into a sheet.
    void sheetRequested(const pantry::app::ObjectPlace& place, const QString& title, const QString& text);
    void closeRequested();
    /// It is done: the table is there, under this name.
    void done(const pantry::app::ObjectPlace& place);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void makeLayout();
    QWidget* makeTop();
    QWidget* makeGrids();
    QWidget* makeRuleVerbs();
    void read();
    void readTable();
    void begin(const sql::TableDesign& design);
    void noteEdited();
    void writeStatements();
    /// Runs the statements of what stands in the form now, a cell that is being written included.
    void apply();
    void showProblems(const std::vector<sql::DesignProblem>& problems);
    void finish();
    void addRule(sql::DesignRule::Kind kind);
    bool columnsKey(QKeyEvent* event);
    void fitGrids();
    [[nodiscard]] QStringList offersFor(const QModelIndex& index) const;

    Wish wish_;
    sql::TableDesign before_;
    sql::TableDesign design_;
    sql::OwnStatements own_;
    bool isRead_ = false;
    quint64 asked_ = 0;
    quint64 shown_ = 0;      // the question whose answer the panel has
    bool isRunDue_ = false;  // as soon as the panel has the statements
    QTimer restTimer_;

    QLabel* heading_;
    QLineEdit* name_;
    QLineEdit* schema_;
    QLineEdit* comment_;
    QLineEdit* options_;
    ColumnsModel* columnsModel_ = nullptr;
    RulesModel* rulesModel_ = nullptr;
    QTableView* columns_;
    QTableView* rules_;
    DefinitionPanel* panel_;
    bool isOver_ = false;  // done, or given up
};

}  // namespace pantry::app
