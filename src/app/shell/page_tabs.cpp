#include "app/shell/page_tabs.h"

#include <QPainter>
#include <QToolButton>
#include <algorithm>

#include "app/base/object_names.h"
#include "app/command/command.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"

namespace pantry::app {

PageTabs::PageTabs(QWidget* parent) : QTabBar(parent) {
    name(this, objectName::kSheetTabs, tr("Open pages"));
    setDrawBase(false);
    setExpanding(false);
    setMovable(true);
    setTabsClosable(true);
    setElideMode(Qt::ElideRight);
    setUsesScrollButtons(true);
    setFocusPolicy(Qt::StrongFocus);
    setStyleSheet(
        QStringLiteral("QTabBar { background: transparent; } QTabBar::close-button { image: none; width: 0; } "
                       "QTabBar::scroller { width: 0; }"));
}

QSize PageTabs::minimumTabSizeHint(int index) const {
    constexpr int kLeastReadable = 130;
    const QSize usual = tabSizeHint(index);
    return {std::min(usual.width(), kLeastReadable), usual.height()};
}

QSize PageTabs::minimumSizeHint() const { return {60, QTabBar::minimumSizeHint().height()}; }

void PageTabs::setElapsed(int index, const QString& text) {
    auto* close = index < 0 ? nullptr : qobject_cast<QToolButton*>(tabButton(index, QTabBar::RightSide));
    if (close == nullptr || close->property("elapsed").toString() == text) return;
    close->setProperty("elapsed", text);
    close->setVisible(text.isEmpty());
    setAccessibleTabName(index, text.isEmpty() ? QString() : tr("%1, running for %2").arg(tabText(index), text));
    update();
}

void PageTabs::setPassing(int index, bool isPassing) {
    if (QWidget* close = tabButton(index, QTabBar::RightSide)) close->setProperty("passing", isPassing);
    update();
}

void PageTabs::setApart(int index, bool isApart) {
    if (QWidget* end = tabButton(index, QTabBar::RightSide)) end->setProperty("apart", isApart);
    update();
}

void PageTabs::setPinned(int index, bool isPinned) {
    auto* close = qobject_cast<QToolButton*>(tabButton(index, QTabBar::RightSide));
    if (close == nullptr) return;
    close->setText(isPinned ? QStringLiteral("•") : QStringLiteral("×"));
    close->setToolTip(isPinned ? tr("Pinned; its menu unpins it") : tr("Close (%1)").arg(keyText("page.close")));
    close->setProperty("pinned", isPinned);
}

void PageTabs::scrollBy(int direction) {
    // The bar's own buttons have no place, but know how to scroll.
    const auto which = direction < 0 ? QStringLiteral("ScrollLeftButton") : QStringLiteral("ScrollRightButton");
    if (auto* button = findChild<QToolButton*>(which)) button->click();
}

void PageTabs::resizeEvent(QResizeEvent* event) {
    QTabBar::resizeEvent(event);
    noteRoom();
}

void PageTabs::tabLayoutChange() {
    QTabBar::tabLayoutChange();
    noteRoom();
}

void PageTabs::noteRoom() {
    int wanted = 0;
    for (int i = 0; i < count(); ++i) wanted += minimumTabSizeHint(i).width();
    const bool isOverflow = wanted > width();
    if (isOverflow == isOverflow_) return;
    isOverflow_ = isOverflow;
    QMetaObject::invokeMethod(
        this, [this] { Q_EMIT overflowed(isOverflow_); }, Qt::QueuedConnection);
}

QSize PageTabs::tabSizeHint(int index) const {
    const int text = fontMetrics().horizontalAdvance(tabText(index));
    return {std::min(text + 76, 230), 34};
}

void PageTabs::tabInserted(int index) {
    auto* close = new QToolButton(this);
    close->setText(QStringLiteral("×"));
    close->setAutoRaise(true);
    close->setFocusPolicy(Qt::NoFocus);
    close->setToolTip(tr("Close (%1)").arg(keyText("page.close")));
    close->setStyleSheet(QStringLiteral("QToolButton { border: 0; background: transparent; padding: 0 2px; }"));
    connect(close, &QToolButton::clicked, this, [this, close] {
        for (int i = 0; i < count(); ++i) {
            if (tabButton(i, QTabBar::RightSide) != close || close->property("pinned").toBool()) continue;
            return Q_EMIT tabCloseRequested(i);
        }
    });
    setTabButton(index, QTabBar::RightSide, close);
    updateGeometry();  // while it is hidden, the bar itself does not say that it has grown
}

void PageTabs::paintEvent(QPaintEvent*) {
    const Theme& theme = Theme::current();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    for (int i = 0; i < count(); ++i) {
        const QRect r = tabRect(i);
        const bool isFront = i == currentIndex();
        if (isFront) {
            painter.setPen(Qt::NoPen);
            painter.setBrush(tabData(i).value<QColor>());
            const QWidget* end = tabButton(i, QTabBar::RightSide);
            const bool isApart = end != nullptr && end->property("apart").toBool();
            painter.drawRoundedRect(r.adjusted(0, 3, 0, isApart ? -5 : 10), 7, 7);
        }
        tabIcon(i).paint(&painter, QRect(r.left() + 11, r.center().y() - 8, 18, 18));
        QFont f = font();
        f.setWeight(isFront ? QFont::DemiBold : QFont::Normal);
        f.setItalic(tabButton(i, QTabBar::RightSide) != nullptr &&
                    tabButton(i, QTabBar::RightSide)->property("passing").toBool());
        painter.setFont(f);
        painter.setPen(theme.colour(isFront ? "ink" : "quiet"));
        QRect area = r.adjusted(33, 2, -31, 0);
        const QWidget* close = tabButton(i, QTabBar::RightSide);
        const QString elapsed = close != nullptr ? close->property("elapsed").toString() : QString();
        if (!elapsed.isEmpty()) {
            const QRect place = r.adjusted(33, 2, -10, 0);
            painter.drawText(place, Qt::AlignVCenter | Qt::AlignRight, elapsed);
            area.setRight(place.right() - QFontMetrics(f).horizontalAdvance(elapsed) - 6);
        }
        painter.drawText(area, Qt::AlignVCenter, QFontMetrics(f).elidedText(tabText(i), Qt::ElideRight, area.width()));
        if (isFront && hasFocus()) {
            painter.setPen(QPen(theme.colour("juniper"), 1));
            painter.setBrush(Qt::NoBrush);
            painter.drawRoundedRect(QRectF(r).adjusted(3.5, 6.5, -3.5, -3.5), 5, 5);
        }
    }
}

}  // namespace pantry::app

#include "moc_page_tabs.cpp"
