#include "app/connections/explained_field.h"

#include <QEvent>

#include "app/base/widgets.h"

namespace pantry::app {

ExplainedField::ExplainedField(const QString& label, const QString& explanation, QWidget* input, QWidget* shown)
    : explanation_(makeLabel(explanation, "small")) {
    setObjectName(QStringLiteral("plainBox"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(3);
    auto* text = makeLabel(label, "field");
    text->setBuddy(input);
    layout->addWidget(text);
    layout->addWidget(shown != nullptr ? shown : input);
    explanation_->setWordWrap(true);
    explanation_->hide();
    layout->addWidget(explanation_);
    setExplanation(explanation);
    input->installEventFilter(this);
}

void ExplainedField::setExplanation(const QString& explanation) {
    explanation_->setText(explanation);
    setToolTip(explanation);
}

bool ExplainedField::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::FocusIn) explanation_->setVisible(!explanation_->text().isEmpty());
    if (event->type() == QEvent::FocusOut) explanation_->hide();
    return QWidget::eventFilter(watched, event);
}

}  // namespace pantry::app
