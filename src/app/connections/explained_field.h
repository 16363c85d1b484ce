#pragma once

#include <QLabel>
#include <QVBoxLayout>
#include <QWidget>

namespace pantry::app {

/// A field of a form under its label, with a line below that says what it means while somebody is in it.
class ExplainedField : public QWidget {
    Q_OBJECT

public:
    /// `input` takes the focus; `shown` (input itself by default) is what stands under the label.
    ExplainedField(const QString& label, const QString& explanation, QWidget* input, QWidget* shown = nullptr);

    void setExplanation(const QString& explanation);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    QLabel* explanation_;
};

}  // namespace pantry::app
