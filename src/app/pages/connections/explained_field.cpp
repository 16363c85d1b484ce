#include "app/pages/connections/explained_field.h"

#include <QVBoxLayout>

#include "app/look/widgets.h"

namespace pantry::app {

ExplainedField::ExplainedField(const QString& label, const QString& explanation, QWidget* input, QWidget* shown)
    : label_(makeLabel({}, "field")), input_(input) {
    setObjectName(QStringLiteral("plainBox"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(3);
    label_->setBuddy(input);
    layout->addWidget(label_);
    layout->addWidget(shown != nullptr ? shown : input);
    setWords(label, explanation);
}

void ExplainedField::setWords(const QString& label, const QString& explanation) {
    explanation_ = explanation;
    label_->setText(label);
    setToolTip(explanation);
    input_->setAccessibleDescription(explanation);
}

const ExplainedField* ExplainedField::around(const QWidget* widget) {
    for (const QWidget* w = widget; w != nullptr; w = w->parentWidget()) {
        if (const auto* field = qobject_cast<const ExplainedField*>(w)) return field;
    }
    return nullptr;
}

}  // namespace pantry::app

#include "moc_explained_field.cpp"
