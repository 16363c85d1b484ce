#pragma once

#include <QLabel>
#include <QPlainTextEdit>
#include <QWidget>
#include <functional>

#include "core/base/cancellation.h"
#include "core/data/view/result_view.h"

namespace pantry::app {

/// The rows of a view written out as text, ready to be copied: aligned, or as JSON.
class TextView : public QWidget {
    Q_OBJECT

public:
    enum class Form { Aligned, Json };

    explicit TextView(QWidget* parent = nullptr);

    /// Writes it out elsewhere; the first rows show, and all of them are copied.
    void show(const data::ResultView& view, const std::vector<std::size_t>& columns, Form form);
    void setTextSize(int points);

Q_SIGNALS:
    void remarked(const QString& text);

private:
    void copyAll();

    std::optional<data::ResultView> view_;
    std::vector<std::size_t> columns_;
    Form form_ = Form::Aligned;
    QLabel* facts_;
    QPlainTextEdit* text_;
    base::Cancellation cancellation_;
};

}  // namespace pantry::app
