#pragma once

#include <QButtonGroup>
#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStackedWidget>
#include <QTimer>

#include "app/desk/desk.h"
#include "app/look/tool_row.h"
#include "app/result/change_strip.h"
#include "app/result/columns_panel.h"
#include "app/result/filter_bar.h"
#include "app/result/filter_panel.h"
#include "app/result/grid_model.h"
#include "app/result/grid_view.h"
#include "app/result/key_labels.h"
#include "app/result/messages_view.h"
#include "app/result/part_strip.h"
#include "app/result/profile_view.h"
#include "app/result/record_view.h"
#include "app/result/result_side.h"
#include "app/result/text_view.h"
#include "app/result/viewer.h"
#include "app/source/result_source.h"
#include "core/data/view/cell_sums.h"
#include "core/data/view/text_search.h"
#include "core/exchange/clipboard_text.h"
#include "core/exchange/formats.h"

namespace pantry::app {

/// The chosen source in one of its views, what there is to say about it, conditions, find, copy and export.
class ResultPane : public QFrame {
    Q_OBJECT

public:
    enum class View { Grid, Record, Text, Json, Profile, Messages };

    explicit ResultPane(Desk& desk, QWidget* parent = nullptr);

    void setSource(ResultSource* source);
    [[nodiscard]] ResultSource* source() const { return model_->source(); }
    [[nodiscard]] GridModel* model() const { return model_; }
    [[nodiscard]] GridView* grid() const { return grid_; }
    [[nodiscard]] View view() const { return view_; }
    void showView(View view);

    void copySelection(bool hasHeadings);
    /// Copies the selected cells in a form; as a list for IN, or only the names of their columns.
    void copyAs(exchange::Format format);
    void copyInList();
    void copyValues();
    /// In the forms that are chosen for their columns, as somebody asked for.
    void copyAsShown();
    void copyColumnNames();
    void openExport();
    void openCompare();
    /// Where the results come from that one can be compared with.
    void setComparable(std::function<std::vector<ResultSource*>()> sources) { comparable_ = std::move(sources); }
    void openFind();
    void openColumns();
    /// Asks for a condition on the column that has the focus.
    void openFilter();
    /// Of the column that has the focus.
    void sortHere(bool isDescending);
    /// Headings no longer put the rows in order that are here: orderWanted() says what somebody wants.
    void setOrdersElsewhere() { ordersElsewhere_ = true; }
    void freezeHere();
    void applySettings();
    /// The panels that stand beside the rows; whoever has a better place for them takes them there.
    [[nodiscard]] ResultSide* side() const { return side_; }

Q_SIGNALS:
    /// A statement that is to be written into the sheet and run.
    void statementWanted(const QString& statement);
    /// A click on a heading, or a choice of its menu, where the order is asked of somebody else.
    void orderWanted(int column, std::optional<bool> isDescending);
    /// What is other than the last time, as a result of its own.
    void differencesWanted(const QString& title, const pantry::data::ResultSetPtr& differences, const QString& text);
    /// The cell that has the focus; row and column -1 when there is none.
    void cellFocused(int row, int column);
    /// What the selected cells add up to.
    void selectionSummed(const QString& text);
    /// Exported rows that are to become a sheet of their own.
    void sheetWanted(const QString& title, const QString& text);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    FilterPanel* filterPanel();
    ColumnsPanel* columnsPanel();
    QWidget* makeBar();
    void addViews();
    void addTools();
    [[nodiscard]] QMenu* makeCopyMenu(QWidget* parent);
    void connectGrid();
    void connectParts();
    void refresh();
    void refreshPage();
    void refreshNotices();
    void noteNewRows();
    void makeViewers();
    [[nodiscard]] const Viewer& viewer() const;
    void noteProgress();
    void loadChoices();
    void storeChoices(const data::GridChoices& choices);
    void refreshFacts();
    void fillView();
    void zoom(int steps);
    void countAll();
    void askWhyEmpty();
    void applyFilterText();
    [[nodiscard]] QString emptyText() const;
    [[nodiscard]] QString summaryText() const;
    void showProgress();
    [[nodiscard]] std::vector<std::size_t> shownColumns() const;

    // Rows: result_pane_rows.cpp
    void sortBy(int column, bool adds);
    void orderBy(int column, bool isDescending, bool adds);
    void setFilter(const data::Filter& filter);
    void addColour(const data::Condition& condition, const QString& colour);
    void addCondition(const data::Condition& condition);
    void changeCondition(int index);
    void openFilterFor(const data::Condition& condition);
    void openColumnMenu(int column, const QPoint& at);
    void readRange(int column);
    void find(bool forward);
    void stepToHit(bool forward);
    void forgetHits();
    void sumSelection();
    void fetchWhenNearEnd();
    void showCellMenu(const QPoint& at);
    [[nodiscard]] std::vector<data::CellBlock> selectedBlocks() const;
    [[nodiscard]] exchange::CellRange selectedRange() const;

    Desk& desk_;
    GridModel* model_;
    ResultLook* look_;  // of the model
    KeyLabels* labels_;
    View view_ = View::Grid;
    std::vector<Viewer> viewers_;  // in the order of View
    QButtonGroup* views_;
    ToolRow* bar_;
    QPushButton* viewChoice_;
    ElidedLabel* summary_;
    QPushButton* allRows_;
    QPushButton* countAll_;
    QLineEdit* filter_;
    QLineEdit* find_;
    QPushButton* columns_;
    QPushButton* copy_;
    QPushButton* export_;
    QPushButton* compare_;
    FilterBar* filterBar_;
    ChangeStrip* change_;
    PartStrip* part_;
    FilterPanel* filterPanel_ = nullptr;    // made when it is wanted
    ColumnsPanel* columnsPanel_ = nullptr;  // likewise
    QStackedWidget* pages_;
    GridView* grid_;
    RecordView* record_;
    TextView* text_;
    ProfileView* profile_;
    MessagesView* messages_;
    QLabel* message_;
    QLabel* notices_;
    ResultSide* side_;
    std::function<std::vector<ResultSource*>()> comparable_;
    QTimer filterTimer_;
    QTimer sumTimer_;
    QTimer progressTimer_;  // while rows are arranged or looked through
    bool isFitted_ = false;
    bool isLabelled_ = false;
    int changedCondition_ = -1;  // that the filter panel is open for; -1: a new one
    std::string gridKey_;
    QString whyEmpty_;            // what the server said about the table of an empty result
    std::int64_t copyAsked_ = 0;  // cells that were too many to copy without asking; 0: none
    base::Cancellation findCancellation_;
    std::optional<base::Progress> findProgress_;  // while cells are looked through
    std::optional<data::SearchHits> hits_;        // of the text in find_, as the rows stand now
    base::Cancellation sumCancellation_;
    bool ordersElsewhere_ = false;
};

}  // namespace pantry::app
