#pragma once

#include <QLabel>
#include <QWidget>

namespace pantry::app {

/// A field of a form under its label. What it means stands in its tool tip, and wherever the form shows the explanation
/// of the field that somebody is in.
class ExplainedField : public QWidget {
    Q_OBJECT

public:
    /// `input` takes the focus; `shown` (input itself by default) is what stands under the label.
    ExplainedField(const QString& label, const QString& explanation, QWidget* input, QWidget* shown = nullptr);

    void setWords(const QString& label, const QString& explanation);
    [[nodiscard]] const QString& explanation() const { return explanation_; }

    /// The field that holds a widget; nullptr when none does.
    [[nodiscard]] static const ExplainedField* around(const QWidget* widget);

private:
    QString explanation_;
    QLabel* label_;
    QWidget* input_;
};

}  // namespace pantry::app
