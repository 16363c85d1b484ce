#pragma once

#include <QFrame>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <functional>
#include <vector>

namespace pantry::app {

/// A small list that opens where it was asked for, whose choices are ticked at first: all of them are taken by Return,
/// or all but those that were unticked. Typing narrows it, Space ticks, Esc takes nothing. It deletes itself.
class TickList : public QFrame {
    Q_OBJECT

public:
    struct Choice {
        QString text;
        QString detail;  ///< quiet, at the right
    };

    /// `verb` stands on the button that takes; `taken` hears the places of what is ticked, at least one.
    TickList(const std::vector<Choice>& choices, const QString& what, const QString& verb,
             std::function<void(std::vector<std::size_t>)> taken, QWidget* parent);
    void openAt(const QPoint& global);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void narrow();
    void tickAll(bool isTicked);
    void noteTicks();
    void take();

    std::function<void(std::vector<std::size_t>)> taken_;
    QString verb_;
    QLineEdit* find_;
    QListWidget* list_;
    QPushButton* take_;
};

}  // namespace pantry::app
