#include "app/result/tray.h"

#include <QAbstractButton>
#include <QMenu>
#include <QPainter>
#include <QScrollBar>
#include <QTimer>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/base/widgets.h"
#include "app/theme/theme.h"

namespace pantry::app {
namespace {

constexpr int kCardWidth = 172;
constexpr int kCardHeight = 42;

/// One card of the tray: number, title and outcome.
class CardButton : public QAbstractButton {
public:
    CardButton(Card* card, QWidget* parent) : QAbstractButton(parent), card_(card) {
        setCheckable(true);
        setFixedSize(kCardWidth, kCardHeight);
        setFocusPolicy(Qt::StrongFocus);
        setObjectName(QStringLiteral("card%1").arg(card->number()));
        setCursor(Qt::PointingHandCursor);
        connect(card, &Card::changed, this, [this] { refresh(); });
        refresh();
    }
    [[nodiscard]] Card* card() const { return card_; }

protected:
    void paintEvent(QPaintEvent*) override {
        const Theme& theme = Theme::current();
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        const QRectF box = QRectF(rect()).adjusted(0.75, 0.75, -0.75, -0.75);
        const bool isStrong = isChecked() || hasFocus();
        painter.setPen(QPen(theme.colour(isStrong ? "juniper" : "line"), isChecked() ? 1.5 : 1));
        painter.setBrush(theme.colour(isChecked() ? "card" : underMouse() ? "selection" : "paper"));
        painter.drawRoundedRect(box, 6, 6);
        const bool isBad = card_->state() == Card::State::Failed;
        QFont big = font();
        big.setPixelSize(17);
        big.setWeight(QFont::Bold);
        painter.setFont(big);
        painter.setPen(theme.colour(isBad ? "tomato" : "quiet"));
        const QString number = isBad ? QStringLiteral("✗") : QString::number(card_->number());
        const int left = 12 + std::max(12, QFontMetrics(big).horizontalAdvance(number));
        painter.drawText(QRect(8, 0, left - 10, height()), Qt::AlignCenter, number);
        QFont title = font();
        title.setPixelSize(13);
        QFont small = font();
        small.setPixelSize(12);
        const int room = width() - left - 8;
        painter.setFont(title);
        painter.setPen(theme.colour("ink"));
        painter.drawText(QRect(left, 4, room, 18), Qt::AlignVCenter,
                         QFontMetrics(title).elidedText(card_->title(), Qt::ElideRight, room));
        painter.setFont(small);
        painter.setPen(theme.colour(isBad ? "tomato" : "quiet"));
        painter.drawText(QRect(left, 21, room, 17), Qt::AlignVCenter,
                         QFontMetrics(small).elidedText(card_->outcome(), Qt::ElideRight, room));
    }

private:
    void refresh() {
        setAccessibleName(QObject::tr("Result %1: %2, %3").arg(card_->number()).arg(card_->title(), card_->outcome()));
        setToolTip(toQt(std::string_view(card_->statement()).substr(0, 400)));
        update();
    }

    Card* card_;
};

}  // namespace

Tray::Tray(Sheet& sheet, QWidget* parent) : QFrame(parent), sheet_(sheet), scroll_(new QScrollArea(this)) {
    name(this, objectName::kTray, tr("Results of this sheet"));
    setProperty("look", "panel");
    setFixedHeight(kCardHeight + 16);
    auto* inner = new QWidget;
    row_ = new QHBoxLayout(inner);
    row_->setContentsMargins(10, 0, 10, 0);
    row_->setSpacing(8);
    row_->addStretch();
    scroll_->setWidget(inner);
    scroll_->setWidgetResizable(true);
    scroll_->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 6, 0, 6);
    layout->addWidget(scroll_);
    connect(&sheet_, &Sheet::cardAdded, this, &Tray::add);
    connect(&sheet_, &Sheet::cardRemoved, this, &Tray::remove);
    connect(&Theme::current(), &Theme::changed, this, [this] { update(); });
    hide();
}

void Tray::add(Card* card) {
    auto* button = new CardButton(card, this);
    row_->insertWidget(row_->count() - 1, button);
    connect(button, &QAbstractButton::clicked, this, [this, card] { choose(card); });
    button->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(button, &QWidget::customContextMenuRequested, this, [this, card, button](const QPoint& at) {
        auto* menu = new QMenu(this);
        menu->setAttribute(Qt::WA_DeleteOnClose);
        connect(menu->addAction(tr("Remove this result")), &QAction::triggered, this,
                [this, card] { sheet_.removeCard(card); });
        menu->popup(button->mapToGlobal(at));
    });
    show();
    choose(card);
    QTimer::singleShot(0, this,
                       [this] { scroll_->horizontalScrollBar()->setValue(scroll_->horizontalScrollBar()->maximum()); });
}

void Tray::remove(Card* card) {
    for (int i = 0; i < row_->count(); ++i) {
        auto* button = dynamic_cast<CardButton*>(row_->itemAt(i)->widget());
        if (button == nullptr || button->card() != card) continue;
        row_->removeWidget(button);
        button->hide();
        button->deleteLater();
        break;
    }
    if (card != current_) return;
    current_ = nullptr;
    if (!sheet_.cards().empty()) return choose(sheet_.cards().back());
    hide();
    Q_EMIT chosen(nullptr);
}

void Tray::choose(Card* card) {
    current_ = card;
    for (int i = 0; i < row_->count(); ++i) {
        if (auto* button = dynamic_cast<CardButton*>(row_->itemAt(i)->widget())) {
            button->setChecked(button->card() == card);
            if (button->card() == card) scroll_->ensureWidgetVisible(button);
        }
    }
    Q_EMIT chosen(card);
}

}  // namespace pantry::app
