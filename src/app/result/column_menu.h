#pragma once

#include <QMenu>

#include "app/result/grid_view.h"

namespace pantry::app {

/// What can be done with one column of a result.
class ColumnMenu : public QMenu {
    Q_OBJECT

public:
    ColumnMenu(GridModel* model, GridView* grid, int column, QWidget* parent = nullptr);

Q_SIGNALS:
    void sortWanted(int column, bool isDescending, bool adds);
    void filterWanted(int column);
    void nullsFirstWanted(bool areFirst);
    void choicesChanged(const pantry::data::GridChoices& choices);
    void rangeWanted(int column);

private:
    void addOrder();
    void addForms();
    void addColours();
    void addLabels();
    void change(const std::function<void(data::GridChoices&)>& change);
    void changeFormat(const data::CellFormat& format);
    void addRule(data::ColourRule rule);

    GridModel* model_;
    GridView* grid_;
    int column_;
};

}  // namespace pantry::app
