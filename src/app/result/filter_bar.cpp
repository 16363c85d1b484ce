#include "app/result/filter_bar.h"

#include "app/base/text.h"
#include "app/look/widgets.h"
#include "app/result/result_names.h"

namespace pantry::app {

FilterBar::FilterBar(QWidget* parent) : QFrame(parent), row_(new QHBoxLayout(this)) {
    name(this, resultName::kFilterBar, tr("Conditions on the rows"));
    setProperty("look", "panel");
    row_->setContentsMargins(14, 0, 10, 4);
    row_->setSpacing(6);
    hide();
}

void FilterBar::show(const data::Filter& filter, const std::vector<data::Column>& columns) {
    setVisible(!filter.conditions.empty());
    if (filter_ == filter) return;
    filter_ = filter;
    clearLayout(row_);
    for (std::size_t i = 0; i < filter.conditions.size(); ++i) {
        if (i > 0) {
            auto* join = makeButton(filter.isAnyEnough ? tr("or") : tr("and"), "plain", resultName::kFilterJoin,
                                    tr("All conditions must hold, or any; click to change"));
            connect(join, &QPushButton::clicked, this, [this] {
                data::Filter changed = filter_;
                changed.isAnyEnough = !changed.isAnyEnough;
                Q_EMIT filterChanged(changed);
            });
            row_->addWidget(join);
        }
        const QString text = toQt(data::describe(filter.conditions[i], columns));
        auto* change = makeButton(text, "chip", "filterCondition", tr("Change the condition: %1").arg(text));
        auto* away = makeButton(QStringLiteral("×"), "away", "filterConditionAway", tr("Remove: %1").arg(text));
        away->setFixedWidth(22);
        connect(change, &QPushButton::clicked, this, [this, i] { Q_EMIT conditionChosen(static_cast<int>(i)); });
        connect(away, &QPushButton::clicked, this, [this, i] {
            data::Filter changed = filter_;
            changed.conditions.erase(changed.conditions.begin() + static_cast<std::ptrdiff_t>(i));
            Q_EMIT filterChanged(changed);
        });
        row_->addWidget(change);
        row_->addWidget(away);
    }
    row_->addStretch();
}

}  // namespace pantry::app

#include "moc_filter_bar.cpp"
