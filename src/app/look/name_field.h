#pragma once

#include <QLineEdit>

namespace pantry::app {

/// A name that is written where it stands: on a tab, a card, a heading. Return takes it, and so does a click elsewhere;
/// Escape leaves the name as it was. It shows itself with all of its text chosen, has the focus, and is gone when it
/// has ended.
///
/// Threads: the window's thread.
class NameField : public QLineEdit {
    Q_OBJECT

public:
    /// Over `place` of `named`, and as wide as a name needs where that is narrower. Belongs to the parent of `named`.
    NameField(const QString& now, QWidget* named, const QRect& place);

Q_SIGNALS:
    /// `name` has no blanks around it, and is empty where nothing shall change. The field has the focus still if it
    /// was ended by a key.
    void ended(const QString& name);

protected:
    bool event(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void end(const QString& name);

    bool isOver_ = false;
};

}  // namespace pantry::app
