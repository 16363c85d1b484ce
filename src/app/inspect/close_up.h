#pragma once

#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPlainTextEdit>
#include <optional>

#include "app/inspect/finding_note.h"
#include "app/inspect/follow_links.h"
#include "app/inspect/value_tree.h"
#include "app/result/grid_model.h"
#include "app/result/value_text.h"
#include "core/base/cancellation.h"

namespace pantry::app {

/// The panel at the right: the cell that has the focus in full, and its row.
class CloseUp : public QFrame {
    Q_OBJECT

public:
    explicit CloseUp(QWidget* parent = nullptr);

    /// Shows a cell of a model, and where its row's keys lead; row -1 shows what one can do here.
    void show(GridModel* model, int row, int column, sql::Dialect dialect);
    /// Shows what stands at the end of a way: the first of these rows.
    void showThere(const FollowLink& link, const Result<data::ResultSetPtr>& rows);
    /// Shows what is marked at the cursor of the sheet in front, above all else; nothing takes it away.
    void showFinding(const std::optional<FindingText>& finding);
    void setTextSize(int points);
    /// Who and where the sheet in front runs; what it shows while no cell is chosen.
    void setPlace(const QString& facts);
    /// What takes the focus here; nothing when there is nothing to go through.
    [[nodiscard]] QWidget* stop() const;

Q_SIGNALS:
    /// A column of the row was chosen.
    void columnChosen(int column);
    /// Somebody wants to see what a key leads to, here or in a sheet.
    void followWanted(const pantry::app::FollowLink& link);
    void sheetWanted(const pantry::app::FollowLink& link);
    void mendRequested();
    void silenceRequested();

private:
    void makeLayout();
    void makeThere();
    void showValue(const data::Cell& cell, data::ColumnType type);
    void fitValue(const QString& text);
    void showText(const ValueText& value, const ValueTree::Parts& parts);
    void showRow(int row, int column);
    void addFact(const data::Column& column, const data::Cell& cell);
    void showLinks(int row, sql::Dialect dialect);
    void goBack();
    void findInValue();

    QLabel* place_;
    FindingNote* finding_;
    QLabel* columnName_;
    QLabel* facts_;
    QLabel* server_;
    QLineEdit* find_;
    QPlainTextEdit* value_;
    ValueTree* tree_;
    QLabel* picture_;
    QListWidget* row_;
    QWidget* links_;
    QWidget* there_;  // where we are when a key was followed, and the way back
    QLabel* thereText_;
    FollowLink thereLink_;
    base::Cancellation reading_;  // of the value that is shown
    GridModel* model_ = nullptr;
    int shownRow_ = -1;
    int shownColumn_ = -1;
    sql::Dialect dialect_ = sql::Dialect::Ansi;
};

}  // namespace pantry::app
