#pragma once

#include <QFrame>
#include <QIcon>
#include <QLineEdit>
#include <QListWidget>
#include <functional>
#include <vector>

namespace pantry::app {

/// A small list that opens where it was asked for and is narrowed by typing: for choices of which there may be many.
/// Return or a click takes one, Esc none; the focus goes back to where it was. It deletes itself.
class PickList : public QFrame {
    Q_OBJECT

public:
    struct Choice {
        QString text;
        QString detail;  ///< quiet, at the right
        QIcon icon;
        bool isCurrent = false;
        std::function<void()> act;
    };

    /// `what` completes “Find a …” for screen readers and the empty field.
    PickList(std::vector<Choice> choices, const QString& what, QWidget* parent);
    void openAt(const QPoint& global);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    void fill();
    void take();

    std::vector<Choice> choices_;
    std::vector<std::size_t> shown_;
    QLineEdit* input_;
    QListWidget* list_;
};

}  // namespace pantry::app
