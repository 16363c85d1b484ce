#pragma once

#include <QFrame>
#include <QHBoxLayout>
#include <QPushButton>

#include "core/data/view/filter.h"

namespace pantry::app {

/// The conditions that hold now, each as a word that takes itself away, and whether all or any of them must hold.
class FilterBar : public QFrame {
    Q_OBJECT

public:
    explicit FilterBar(QWidget* parent = nullptr);

    void show(const data::Filter& filter, const std::vector<data::Column>& columns);

Q_SIGNALS:
    void filterChanged(const pantry::data::Filter& filter);
    /// Somebody wants to change the condition of that number.
    void conditionChosen(int index);

private:
    data::Filter filter_;
    QHBoxLayout* row_;
};

}  // namespace pantry::app
