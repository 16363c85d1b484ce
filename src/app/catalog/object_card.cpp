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
      comment_(makeLabel({}, "small", this)),
      text_(makeLabel({}, "code", this)),
      columns_(new CardColumns(this)) {
    name(this, objectName::kObjectCard, tr("The chosen table or view"));
    name_->setProperty("look", "heading");
    for (QLabel* label : {problem_, comment_, text_}) label->setWordWrap(true);
    text_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    text_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    auto* top = new QHBoxLayout;
    top->addWidget(name_, 1);
    top->addWidget(size_);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 8, 8, 6);
    layout->setSpacing(5);
    layout->addLayout(top);
    layout->addWidget(problem_);
    layout->addWidget(comment_);
    layout->addWidget(text_, 1);
    layout->addWidget(columns_, 1);
    Theme::fit(this, [this] { setMinimumHeight(Theme::px(90)); });
    hide();
}

void ObjectCard::show(const catalog::Relation& relation) {
    name_->setText(toQt(relation.name));
    size_->setText(relation.rowEstimate
                       ? QStringLiteral("≈ ") + toQt(base::counted(*relation.rowEstimate, "row", "rows"))
                       : toQt(catalog::kindName(relation.kind)));
    problem_->setText(toQt(relation.problem));
    showComment(relation.comment);
    problem_->setVisible(!relation.problem.empty());
    text_->hide();
    columns_->show(relation);
    columns_->setVisible(true);
    setVisible(true);
}

void ObjectCard::show(const catalog::Object& object) {
    name_->setText(toQt(object.name));
    size_->setText(toQt(catalog::kindName(object.kind)));
    problem_->hide();
    showComment(object.comment);
    columns_->hide();
    const bool isRoutine = object.kind == catalog::ObjectKind::Function ||
                           object.kind == catalog::ObjectKind::Procedure ||
                           object.kind == catalog::ObjectKind::Aggregate;
    QString text = isRoutine ? QStringLiteral("(%1)").arg(toQt(object.signature)) : toQt(object.detail);
    if (isRoutine && !object.detail.empty()) text += QStringLiteral(" → ") + toQt(object.detail);
    text_->setText(text);
    text_->show();
    setVisible(true);
}

/// Two lines of it; the details have the rest.
void ObjectCard::showComment(const std::string& comment) {
    constexpr int kMaxLetters = 110;
    QString text = toQt(comment);
    if (text.size() > kMaxLetters) text = text.left(kMaxLetters - 1) + QStringLiteral("…");
    comment_->setText(text);
    comment_->setToolTip(toQt(comment));
    comment_->setVisible(!comment.empty());
}

}  // namespace pantry::app

#include "moc_object_card.cpp"
