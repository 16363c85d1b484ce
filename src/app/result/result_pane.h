#pragma once

#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStackedWidget>
#include <QTableView>
#include <QTimer>

#include "app/result/export_panel.h"
#include "app/result/grid_model.h"
#include "app/sheet/sheet.h"
#include "core/data/text_search.h"

namespace pantry::app {

/// The rows of the chosen card: grid, what there is to say about it, find, filter, copy and export.
class ResultPane : public QFrame {
    Q_OBJECT

public:
    explicit ResultPane(Sheet& sheet, QWidget* parent = nullptr);

    void setCard(Card* card);
    [[nodiscard]] Card* card() const { return model_->card(); }
    [[nodiscard]] GridModel* model() const { return model_; }
    [[nodiscard]] QTableView* grid() const { return grid_; }

    void copySelection(bool hasHeadings);
    void openExport();
    void openFind();
    void setTextSize(int points);

Q_SIGNALS:
    /// The cell that has the focus; row and column -1 when there is none.
    void cellFocused(int row, int column);
    /// What the selected cells add up to.
    void selectionSummed(const QString& words);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    QWidget* makeBar();
    void makeGrid();
    void refresh();
    void refreshNotices();
    void fitColumns();
    void sortBy(int column, bool adds);
    void find(bool forward);
    void stepToHit(bool forward);
    void sumSelection();
    void fetchWhenNearEnd();
    void showCellMenu(const QPoint& at);
    [[nodiscard]] QString emptyWords() const;

    Sheet& sheet_;
    GridModel* model_;
    QLabel* summary_;
    QPushButton* allRows_;
    QLineEdit* filter_;
    QLineEdit* find_;
    QPushButton* copy_;
    QPushButton* export_;
    QStackedWidget* pages_;
    QTableView* grid_;
    QLabel* message_;
    QLabel* notices_;
    ExportPanel* exportPanel_;
    QTimer filterTimer_;
    QTimer sumTimer_;
    bool isFitted_ = false;
    base::Cancellation findCancellation_;
    std::optional<data::SearchHits> hits_;  // of the text in find_, as the rows stand now
    base::Cancellation sumCancellation_;
};

}  // namespace pantry::app
