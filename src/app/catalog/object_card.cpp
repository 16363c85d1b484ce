#include "app/catalog/object_card.h"

#include <QVBoxLayout>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/catalog/card_columns.h"
#include "app/look/elided_label.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/text.h"

namespace pantry::app {

ObjectCard::ObjectCard(QWidget* parent)
    : QFrame(parent),
      name_(new ElidedLabel(this)),
      size_(makeLabel({}, "small", this)),
      problem_(makeLabel({}, "bad", this)),
      columns_(new CardColumns(this)) {
    name(this, objectName::kObjectCard, tr("The chosen table or view"));
    name_->setProperty("look", "heading");
    problem_->setWordWrap(true);
    auto* top = new QHBoxLayout;
    top->addWidget(name_, 1);
    top->addWidget(size_);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 8, 8, 6);
    layout->setSpacing(5);
    layout->addLayout(top);
    layout->addWidget(problem_);
    layout->addWidget(columns_, 1);
    Theme::fit(this, [this] { setMinimumHeight(Theme::px(90)); });
    hide();
}

void ObjectCard::show(const catalog::Relation* relation) {
    setVisible(relation != nullptr);
    if (relation == nullptr) return;
    name_->setText(toQt(relation->name));
    size_->setText(relation->rowEstimate
                       ? QStringLiteral("≈ ") + toQt(base::counted(*relation->rowEstimate, "row", "rows"))
                       : toQt(catalog::kindName(relation->kind)));
    problem_->setText(toQt(relation->problem));
    problem_->setVisible(!relation->problem.empty());
    columns_->show(*relation);
}

}  // namespace pantry::app
