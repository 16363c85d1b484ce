#pragma once

#include <QGridLayout>
#include <QLabel>
#include <QScrollArea>
#include <QWidget>
#include <optional>

#include "core/data/view/column_profile.h"

namespace pantry::app {

/// What each column of a view is like, a card a column; a click on a value or a bar of it makes a condition.
class ProfileView : public QScrollArea {
    Q_OBJECT

public:
    explicit ProfileView(QWidget* parent = nullptr);

    /// Works the profiles out elsewhere, one column after another, in the order given.
    void show(const data::ResultView& view, const std::vector<std::size_t>& columns);

Q_SIGNALS:
    void conditionWanted(const pantry::data::Condition& condition);

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void workOut(std::size_t number);
    void place();

    std::optional<data::ResultView> view_;
    std::vector<std::size_t> columns_;
    QWidget* body_;
    QGridLayout* grid_;
    std::vector<QWidget*> cards_;
    base::Cancellation cancellation_;
};

}  // namespace pantry::app
