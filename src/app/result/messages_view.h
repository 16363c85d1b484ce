#pragma once

#include <QPlainTextEdit>
#include <QPointer>
#include <QPushButton>

#include "app/source/result_source.h"

namespace pantry::app {

/// All that the server said in a run, with its times: when it began, notices, what became of it. Very long texts are
/// cut until somebody wants all of them.
class MessagesView : public QPlainTextEdit {
    Q_OBJECT

public:
    explicit MessagesView(QWidget* parent = nullptr);

    void show(const ResultSource* source);

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void refresh();
    [[nodiscard]] QString shown(const std::string& text);

    QPushButton* showAll_;
    QPointer<const ResultSource> source_;
    bool showsAll_ = false;
    bool hasCut_ = false;
    std::size_t room_ = 0;  // bytes that may still be shown
};

}  // namespace pantry::app
