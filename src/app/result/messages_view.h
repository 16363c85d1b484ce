#pragma once

#include <QPlainTextEdit>

#include "app/sheet/card.h"

namespace pantry::app {

/// All that the server said in a run, with its times: when it began, notices, what became of it.
class MessagesView : public QPlainTextEdit {
    Q_OBJECT

public:
    explicit MessagesView(QWidget* parent = nullptr);

    void show(const Card* card);
};

}  // namespace pantry::app
