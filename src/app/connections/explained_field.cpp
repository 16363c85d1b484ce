#include "app/connections/explained_field.h"

#include <QLabel>
#include <QVBoxLayout>

#include "app/base/widgets.h"

namespace pantry::app {

ExplainedField::ExplainedField(const QString& label, const QString& explanation, QWidget* input, QWidget* shown)
    : explanation_(explanation) {
    setObjectName(QStringLiteral("plainBox"));
    setToolTip(explanation);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(3);
    auto* text = makeLabel(label, "field");
    text->setBuddy(input);
    layout->addWidget(text);
    layout->addWidget(shown != nullptr ? shown : input);
    input->setAccessibleDescription(explanation);
}

const ExplainedField* ExplainedField::around(const QWidget* widget) {
    for (const QWidget* w = widget; w != nullptr; w = w->parentWidget()) {
        if (const auto* field = qobject_cast<const ExplainedField*>(w)) return field;
    }
    return nullptr;
}

}  // namespace pantry::app
