#pragma once

#include <QPointer>
#include <QWidget>

#include "app/desk/desk.h"
#include "app/result/compare_panel.h"
#include "app/result/export_panel.h"

namespace pantry::app {

/// The panels beside a result: export, comparison. Each is made when somebody opens it; most results are never
/// exported, and a window may have many.
class ResultSide : public QWidget {
    Q_OBJECT

public:
    /// `sources`: see ComparePanel.
    ResultSide(Desk& desk, GridWishes grid, std::function<std::vector<ResultSource*>()> sources, QWidget* parent);

    void openExport(ResultSource* source);
    void openCompare(ResultSource* source, const std::vector<std::size_t>& primaryKey);
    // What is open follows the grid.
    void setSource(ResultSource* source);
    void noteRows();

Q_SIGNALS:
    void compared(const QString& title, const data::ResultSetPtr& differences, const QString& text);
    void sheetWanted(const QString& title, const QString& text);
    /// A panel is about to close; what was being looked at may take the focus.
    void left();

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    void closePanel(QWidget* panel);
    Desk& desk_;
    GridWishes grid_;
    std::function<std::vector<ResultSource*>()> sources_;
    ExportPanel* export_ = nullptr;
    ComparePanel* compare_ = nullptr;
};

}  // namespace pantry::app
