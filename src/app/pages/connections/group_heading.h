#pragma once

#include <QLineEdit>
#include <QPushButton>
#include <QWidget>

#include "app/desk/desk.h"

namespace pantry::app {

/// The heading of a group of connections: opens and closes it, takes connections that are dropped on it, and has the
/// group's own menu.
class GroupHeading : public QWidget {
    Q_OBJECT

public:
    /// `group` is empty for connections without one, which has no menu.
    GroupHeading(Desk& desk, const std::string& group, std::size_t count, QWidget* parent = nullptr);

    /// Lets the name be typed over.
    void beginRename();
    /// Whether somebody types a name now.
    [[nodiscard]] bool isNaming() const { return !edit_->isHidden(); }

Q_SIGNALS:
    void namingEnded();

protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void showMenu();
    void rename();

    Desk& desk_;
    std::string group_;
    QColor colour_;
    QPushButton* name_;
    QLineEdit* edit_;
};

}  // namespace pantry::app
