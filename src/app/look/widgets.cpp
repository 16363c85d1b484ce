#include "app/look/widgets.h"

#include <QKeyEvent>
#include <QPainter>
#include <QPixmap>
#include <QStyle>
#include <algorithm>
#include <vector>

#include "app/look/theme.h"

namespace pantry::app {

QLabel* makeLabel(const QString& text, const char* look, QWidget* parent) {
    auto* label = new QLabel(text, parent);
    label->setProperty("look", look);
    label->setTextFormat(Qt::PlainText);
    return label;
}

QPushButton* makeButton(const QString& text, const char* look, const char* objectName, const QString& accessibleName,
                        QWidget* parent) {
    auto* button = new QPushButton(text, parent);
    button->setProperty("look", look);
    button->setAutoDefault(false);
    name(button, objectName, accessibleName);
    return button;
}

QFrame* makeFrame(const char* look, QWidget* parent) {
    auto* frame = new QFrame(parent);
    frame->setProperty("look", look);
    return frame;
}

QSplitter* makeSplitter(Qt::Orientation orientation, QWidget* parent) {
    auto* splitter = new QSplitter(orientation, parent);
    splitter->setHandleWidth(1);  // before anything is in it: it is laid out anew for that
    splitter->setChildrenCollapsible(false);
    return splitter;
}

void setLook(QWidget* widget, const char* look) {
    if (widget->property("look") == QLatin1String(look)) return;
    widget->setProperty("look", look);
    if (!widget->testAttribute(Qt::WA_WState_Polished)) return;  // it is dressed when it is shown
    widget->style()->unpolish(widget);
    widget->style()->polish(widget);
}

void clearLayout(QLayout* layout) {
    while (QLayoutItem* item = layout->takeAt(0)) {
        if (item->layout() != nullptr) clearLayout(item->layout());
        if (QWidget* widget = item->widget()) {
            widget->hide();
            widget->deleteLater();
        }
        delete item;
    }
}

bool stepInList(QListWidget* list, int key, int pageRows) {
    const int count = std::max(1, list->count());
    const int row = list->currentRow();
    switch (key) {
        case Qt::Key_Down: list->setCurrentRow((row + 1) % count); return true;
        case Qt::Key_Up: list->setCurrentRow((row + count - 1) % count); return true;
        case Qt::Key_PageDown: list->setCurrentRow(std::min(count - 1, row + pageRows)); return true;
        case Qt::Key_PageUp: list->setCurrentRow(std::max(0, row - pageRows)); return true;
        default: return false;
    }
}

void putBehindInTabOrder(QWidget* before, QWidget* part) {
    QWidget* last = before;
    while (before->isAncestorOf(last->nextInFocusChain())) last = last->nextInFocusChain();
    // Qt puts nothing behind what takes no focus: what stands before that is as good.
    QWidget* const begin = last;
    while (last->focusPolicy() == Qt::NoFocus) {
        QWidget* const previous = last->previousInFocusChain();
        if (previous == begin || previous == part || part->isAncestorOf(previous)) break;
        last = previous;
    }
    std::vector<QWidget*> moved;
    for (QWidget* one = part; one == part || part->isAncestorOf(one); one = one->nextInFocusChain()) {
        if (!moved.empty() && one == part) break;  // nothing else is in the window
        moved.push_back(one);
    }
    for (QWidget* one : moved) {
        if (one->focusPolicy() == Qt::NoFocus || one->focusProxy() != nullptr) continue;
        QWidget::setTabOrder(last, one);
        last = one;
    }
}

bool claimsReturn(QEvent* event, Qt::KeyboardModifier with) {
    if (event->type() != QEvent::ShortcutOverride) return false;
    const auto* key = static_cast<QKeyEvent*>(event);
    const bool isReturn = key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter;
    if (!isReturn || key->modifiers() != with) return false;
    event->accept();
    return true;
}

void name(QWidget* widget, const char* objectName, const QString& accessibleName) {
    widget->setObjectName(QLatin1String(objectName));
    widget->setAccessibleName(accessibleName);
}

// Drawn: the usual font has no such sign, and to find one in another takes the start of the window some milliseconds.
void showFold(QPushButton* heading, bool isOpen) {
    constexpr int kSize = 10;
    const int size = Theme::px(kSize);
    const double ratio = heading->devicePixelRatioF();
    QPixmap picture(QSize(size, size) * ratio);
    picture.setDevicePixelRatio(ratio);
    picture.fill(Qt::transparent);
    QPainter painter(&picture);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.scale(size / double{kSize}, size / double{kSize});
    painter.setPen(Qt::NoPen);
    painter.setBrush(Theme::current().colour("quiet"));
    painter.drawPolygon(isOpen ? QPolygonF({{1.5, 3}, {8.5, 3}, {5, 8}}) : QPolygonF({{3, 1.5}, {8, 5}, {3, 8.5}}));
    painter.end();
    heading->setIconSize({size, size});
    heading->setIcon(QIcon(picture));
}

QIcon markIcon(const QColor& colour) {
    constexpr int kSize = 10;
    constexpr int kMarkGap = 4;
    QPixmap mark(kSize + kMarkGap, kSize);
    mark.fill(Qt::transparent);
    QPainter(&mark).fillRect(QRect(0, 0, kSize, kSize), colour);
    return mark;
}

}  // namespace pantry::app
