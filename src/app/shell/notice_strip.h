#pragma once

#include <QFrame>
#include <QLabel>
#include <QPushButton>
#include <QStringList>

namespace pantry::app {

/// What somebody must know, over the pages: one notice at a time, each until it is understood, so that none is lost.
class NoticeStrip : public QFrame {
    Q_OBJECT

public:
    explicit NoticeStrip(QWidget* parent = nullptr);

    /// Behind those that wait; one that says the same is not told twice.
    void add(const QString& notice);

private:
    void refresh();

    QLabel* text_;
    QPushButton* understood_;
    QStringList waiting_;  // the one that shows in front
};

}  // namespace pantry::app
