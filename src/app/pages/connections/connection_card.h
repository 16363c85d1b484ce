#pragma once

#include <QAbstractButton>
#include <functional>

#include "app/desk/desk.h"

namespace pantry::app {

/// The kind of what is dragged from a card: the connection's id.
inline constexpr const char* kConnectionMime = "application/x-agile-pantry-connection";

/// A saved connection: colour at its edge, name, environment, where it leads, how it was used. It can be dragged to
/// another place, and takes what is dropped before it.
class ConnectionCard : public QAbstractButton {
    Q_OBJECT

public:
    ConnectionCard(Desk& desk, const db::ConnectionProfile& profile, const QString& facts,
                   std::function<QString()> usage, QWidget* parent);

    /// Whether its form holds changes that nobody has saved.
    void setDraft(bool hasDraft);

    static constexpr int kHeight = 76;
    static constexpr int kMinimumWidth = 230;  ///< that it should have

Q_SIGNALS:
    void openRequested();
    void menuRequested(const QPoint& at);
    /// One place further up or down in its group.
    void moveRequested(int by);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dragLeaveEvent(QDragLeaveEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    [[nodiscard]] const char* environmentRole() const;

    Desk& desk_;
    db::ConnectionProfile profile_;
    QString facts_;
    std::function<QString()> usage_;
    QPoint pressedAt_;
    bool hasDraft_ = false;
    bool isTarget_ = false;  // something would be dropped before it
};

}  // namespace pantry::app
