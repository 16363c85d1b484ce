#pragma once

#include <QFrame>
#include <QLabel>
#include <QListWidget>

#include "core/sql/complete/completion.h"

namespace pantry::app {

/// The list of what could stand at the caret. It never takes the focus: the editor passes it the keys it means.
class CompletionPopup : public QFrame {
    Q_OBJECT

public:
    explicit CompletionPopup(QWidget* parent);

    /// Shows the items with its upper left corner below `caret` (parent's coordinates), above it where there is no
    /// room.
    void offer(const sql::Completion& completion, const QPoint& caretTop, int lineHeight);
    [[nodiscard]] const sql::Completion& completion() const { return completion_; }
    [[nodiscard]] int currentIndex() const { return list_->currentRow(); }
    void move(int steps);
    /// Whether somebody went through the list since it was offered.
    [[nodiscard]] bool isMovedTo() const { return isMovedTo_; }

Q_SIGNALS:
    void chosen();

private:
    [[nodiscard]] QWidget* makeNote();
    void showNote(int row);

    sql::Completion completion_;
    QListWidget* list_;
    QFrame* note_ = nullptr;
    QLabel* heading_ = nullptr;
    QLabel* what_ = nullptr;
    QLabel* facts_ = nullptr;
    QLabel* comment_ = nullptr;
    bool isMovedTo_ = false;
    bool hasRoomForNote_ = false;
    int listWidth_ = 0;  ///< without the note beside
};

}  // namespace pantry::app
