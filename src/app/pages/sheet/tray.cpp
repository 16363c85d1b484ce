#include "app/pages/sheet/tray.h"

#include <QAbstractButton>
#include <QKeyEvent>
#include <QMenu>
#include <QPainter>
#include <QScrollBar>
#include <QTimer>
#include <QVariantAnimation>

#include <algorithm>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/name_field.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"

namespace pantry::app {
namespace {

constexpr int kCardWidth = 172;
constexpr int kCardHeight = 38;
constexpr int kFlashMs = 900;

/// One card of the tray: number, title and outcome.
class CardButton : public QAbstractButton {
public:
    CardButton(const Sheet& sheet, Card* card, QWidget* parent) : QAbstractButton(parent), sheet_(sheet), card_(card) {
        setCheckable(true);
        Theme::fit(this, [this] { setFixedSize(Theme::px(kCardWidth), Theme::px(kCardHeight)); });
        setFocusPolicy(Qt::StrongFocus);
        setObjectName(QStringLiteral("card%1").arg(card->number()));
        setCursor(Qt::PointingHandCursor);
        connect(card, &Card::changed, this, [this] { refresh(); });
        flash_.setDuration(kFlashMs);
        flash_.setStartValue(1.0);
        flash_.setEndValue(0.0);
        connect(&flash_, &QVariantAnimation::valueChanged, this, [this] { update(); });
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
        if (flash_.state() == QAbstractAnimation::Running) {  // a fresh result is seen to be one
            QColor light = theme.colour("hit");
            light.setAlphaF(flash_.currentValue().toFloat());
            painter.setBrush(light);
            painter.drawRoundedRect(box, 6, 6);
        }
        if (card_->isPinned()) {
            painter.setPen(Qt::NoPen);
            painter.setBrush(theme.colour("marigold"));
            painter.drawEllipse(QPointF(width() - 9.0, 9.0), 3.2, 3.2);
        }
        // A result that is from elsewhere than its sheet is now says from where.
        const bool isForeign = !sheet_.isFromHere(card_) && !card_->isComparison();
        if (isForeign) painter.fillRect(QRectF(2, 8, 4, height() - 16), sheet_.colourOf(card_->connectionId()));
        const bool isBad = card_->state() == Card::State::Failed;
        QFont big = font();
        big.setPixelSize(Theme::px(17));
        big.setWeight(QFont::Bold);
        painter.setFont(big);
        painter.setPen(theme.colour(isBad ? "tomato" : "quiet"));
        const QString number = isBad ? QStringLiteral("✗") : QString::number(card_->number());
        const int left = Theme::px(14) + std::max(Theme::px(11), QFontMetrics(big).horizontalAdvance(number));
        painter.drawText(QRect(8, 0, left - 10, height()), Qt::AlignCenter, number);
        QFont title = font();
        title.setPixelSize(Theme::px(13));
        QFont small = font();
        small.setPixelSize(Theme::px(12));
        const int room = width() - left - 8;
        painter.setFont(title);
        painter.setPen(theme.colour("ink"));
        painter.drawText(QRect(left, Theme::px(2), room, Theme::px(18)), Qt::AlignVCenter,
                         QFontMetrics(title).elidedText(card_->title(), Qt::ElideRight, room));
        painter.setFont(small);
        painter.setPen(theme.colour(isBad ? "tomato" : isForeign ? "marigold" : "quiet"));
        const QString below = isForeign ? QObject::tr("from %1").arg(card_->place()) : card_->outcome();
        painter.drawText(QRect(left, Theme::px(19), room, Theme::px(17)), Qt::AlignVCenter,
                         QFontMetrics(small).elidedText(below, Qt::ElideRight, room));
    }

private:
    void refresh() {
        const bool isFresh = wasGoingOn_ && !card_->isGoingOn();
        wasGoingOn_ = card_->isGoingOn();
        if (isFresh) flash_.start();
        setAccessibleName(QObject::tr("Result %1: %2, %3").arg(card_->number()).arg(card_->title(), card_->outcome()));
        setToolTip(toQt(std::string_view(card_->statement().text()).substr(0, 400)));
        update();
    }

    const Sheet& sheet_;
    Card* card_;
    bool wasGoingOn_ = true;
    QVariantAnimation flash_;
};

}  // namespace

Tray::Tray(Sheet& sheet, QWidget* parent) : QFrame(parent), sheet_(sheet), scroll_(new QScrollArea(this)) {
    name(this, objectName::kTray, tr("Results of this sheet"));
    setProperty("look", "panel");
    Theme::fit(this, [this] { setFixedHeight(Theme::px(kCardHeight) + 8); });
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
    layout->setContentsMargins(0, 4, 0, 4);
    layout->addWidget(scroll_);
    connect(&sheet_, &Sheet::cardAdded, this, &Tray::add);
    connect(&sheet_, &Sheet::cardRemoved, this, &Tray::remove);
    connect(&sheet_, &Sheet::cardMoved, this, [this](const Card* card, int position) {
        QWidget* button = buttonOf(card);
        row_->removeWidget(button);
        row_->insertWidget(position, button);
        button->setFocus();
    });
    connect(&Theme::current(), &Theme::changed, this, [this] { update(); });
    connect(&sheet_, &Sheet::connectionChanged, this, [this] { scroll_->widget()->update(); });
    connect(&sheet_, &Sheet::sessionChanged, this, [this] { scroll_->widget()->update(); });
    constexpr int kChooseEveryMs = 60;
    chooseTimer_.setSingleShot(true);
    chooseTimer_.setInterval(kChooseEveryMs);
    connect(&chooseTimer_, &QTimer::timeout, this, [this] {
        if (!latest_) {
            inARow_ = 0;
            return;
        }
        choose(latest_);
        chooseTimer_.start();
    });
    hide();
}

void Tray::add(Card* card) {
    auto* button = new CardButton(sheet_, card, this);
    row_->insertWidget(row_->count() - 1, button);
    connect(button, &QAbstractButton::clicked, this, [this, card] { choose(card); });
    button->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(button, &QWidget::customContextMenuRequested, this,
            [this, card, button](const QPoint& at) { openMenu(card, button->mapToGlobal(at)); });
    button->installEventFilter(this);
    show();
    chooseSoon(card);
    QTimer::singleShot(0, this,
                       [this] { scroll_->horizontalScrollBar()->setValue(scroll_->horizontalScrollBar()->maximum()); });
}

void Tray::openMenu(Card* card, const QPoint& at) {
    auto* menu = new QMenu(this);
    menu->setObjectName(QStringLiteral("trayMenu"));
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const auto add = [&](const QString& text, std::function<void()> act) {
        connect(menu->addAction(text), &QAction::triggered, this, std::move(act));
    };
    add(card->isPinned() ? tr("Unpin\tP") : tr("Pin\tP"), [card] { card->setPinned(!card->isPinned()); });
    add(tr("Rename…\tF2"), [this, card] { rename(card); });
    add(tr("Run again into this card\tR"), [this, card] { sheet_.runs().rerun(card->runPtr()); });
    add(tr("In a window of its own\tW"), [this, card] { Q_EMIT windowWanted(card); });
    menu->addSeparator();
    add(tr("Remove this result\tDelete"), [this, card] { sheet_.runs().remove(card->runPtr()); });
    menu->popup(at);
}

/// The name is typed where it stands.
void Tray::rename(Card* card) {
    QAbstractButton* button = buttonOf(card);
    if (button == nullptr) return;
    auto* field = new NameField(card->title(), button, button->rect().adjusted(24, 4, -4, -14));
    name(field, "cardName", tr("Name of the result"));
    connect(field, &NameField::ended, this, [this, field, guard = QPointer<Card>(card)](const QString& typed) {
        if (guard && !typed.isEmpty()) guard->rename(typed);
        QAbstractButton* named = guard ? buttonOf(guard) : nullptr;
        if (field->hasFocus() && named != nullptr) named->setFocus();
    });
}

QAbstractButton* Tray::buttonOf(const Card* card) const {
    for (int i = 0; i < row_->count(); ++i) {
        auto* button = dynamic_cast<CardButton*>(row_->itemAt(i)->widget());
        if (button != nullptr && button->card() == card) return button;
    }
    return nullptr;
}

/// Keys for the card that has the focus.
bool Tray::eventFilter(QObject* watched, QEvent* event) {
    auto* button = dynamic_cast<CardButton*>(watched);
    if (button == nullptr || event->type() != QEvent::KeyPress) return QFrame::eventFilter(watched, event);
    Card* card = button->card();
    const auto* key = static_cast<QKeyEvent*>(event);
    const bool isMove = key->modifiers().testFlag(Qt::AltModifier);
    const int step = key->key() == Qt::Key_Left ? -1 : key->key() == Qt::Key_Right ? 1 : 0;
    if (step != 0 && isMove) {
        sheet_.runs().move(card->runPtr(), step);
    } else if (step != 0) {
        const auto& cards = sheet_.cards();
        const auto at = std::ranges::find(cards, card) - cards.begin() + step;
        if (at < 0 || at >= std::ssize(cards)) return true;
        choose(cards[static_cast<std::size_t>(at)]);
        buttonOf(current_)->setFocus();
    } else if (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter) {
        choose(card);
        Q_EMIT rowsWanted();
    } else if (key->key() == Qt::Key_P) {
        card->setPinned(!card->isPinned());
    } else if (key->key() == Qt::Key_F2) {
        rename(card);
    } else if (key->key() == Qt::Key_R) {
        sheet_.runs().rerun(card->runPtr());
    } else if (key->key() == Qt::Key_W) {
        Q_EMIT windowWanted(card);
    } else if (key->key() == Qt::Key_Delete) {
        sheet_.runs().remove(card->runPtr());
    } else {
        return QFrame::eventFilter(watched, event);
    }
    return true;
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

/// A result is shown as soon as it begins; of very many in a row some, and the last.
void Tray::chooseSoon(Card* card) {
    constexpr int kAtOnce = 10;
    if (++inARow_ > kAtOnce && chooseTimer_.isActive()) {
        latest_ = card;
        return;
    }
    choose(card);
    chooseTimer_.start();
}

void Tray::choose(Card* card) {
    latest_.clear();
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

#include "moc_tray.cpp"
