#pragma once

#include <QPointer>
#include <QWidget>

#include "app/result/compare_panel.h"
#include "app/result/export_panel.h"

namespace pantry::app {

/// The panels beside a result: export, comparison. Each is made when somebody opens it; most results are never
/// exported, and a window may have many.
class ResultSide : public QWidget {
    Q_OBJECT

public:
    /// `cards`: see ComparePanel.
    ResultSide(Desk& desk, Sheet& sheet, GridWishes grid, std::function<std::vector<Card*>()> cards, QWidget* parent);

    void openExport(Card* card);
    void openCompare(Card* card, const std::vector<std::size_t>& primaryKey);
    // What is open follows the grid.
    void setCard(Card* card);
    void noteRows();

Q_SIGNALS:
    void sheetWanted(const QString& title, const QString& text);
    /// A panel is about to close; what was being looked at may take the focus.
    void left();

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    void closePanel(QWidget* panel);
    Desk& desk_;
    Sheet& sheet_;
    GridWishes grid_;
    std::function<std::vector<Card*>()> cards_;
    ExportPanel* export_ = nullptr;
    ComparePanel* compare_ = nullptr;
};

}  // namespace pantry::app
