#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>

#include "core/data/view/column_profile.h"
#include "core/data/view/filter.h"

namespace pantry::app {

/// Asks for one condition on one column: a test with its values, or ticks on the commonest values. Its rows are shown
/// alone, or its cells coloured.
class FilterPanel : public QFrame {
    Q_OBJECT

public:
    explicit FilterPanel(QWidget* parent = nullptr);

    /// Opens below `at`, for a new condition or to change one.
    void open(const data::ResultView& view, const data::Condition& condition, const QPoint& at);

Q_SIGNALS:
    void accepted(const pantry::data::Condition& condition);
    /// The cells that fulfil it are to have a colour.
    void colourWanted(const pantry::data::Condition& condition, const QString& colour);

private:
    void showTest();
    void showCommon(const std::vector<data::ColumnProfile::Common>& values);
    [[nodiscard]] data::Test test() const;
    [[nodiscard]] data::Condition condition() const;
    void accept();
    void colour(const QString& colour);
    [[nodiscard]] bool check(const data::Condition& wanted);

    std::vector<data::Column> columns_;
    data::Condition start_;
    QLabel* heading_;
    QCheckBox* not_;
    QComboBox* test_;
    QLineEdit* value_;
    QLineEdit* second_;
    QListWidget* common_;
    QLabel* problem_;
    base::Cancellation cancellation_;
};

}  // namespace pantry::app
