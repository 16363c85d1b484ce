#include "app/shell/reach.h"

#include <QApplication>
#include <QKeyEvent>
#include <QPainter>
#include <QStyledItemDelegate>
#include <QVBoxLayout>
#include <algorithm>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"

namespace pantry::app {
namespace {

enum Role { KindRole = Qt::UserRole, DetailRole, HeadingRole };
constexpr int kRowHeight = 30;
constexpr int kHeadingHeight = 24;
constexpr int kMaxHeight = 372;  // pixels of the list
constexpr int kMaxRows = 12;
constexpr qsizetype kLongestWhole = 700;
constexpr int kWidth = 620;

class RowDelegate : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const override {
        return {100, Theme::px(index.data(HeadingRole).toBool() ? kHeadingHeight : kRowHeight)};
    }
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        const Theme& theme = Theme::current();
        painter->save();
        painter->setRenderHint(QPainter::Antialiasing);
        if (option.state.testFlag(QStyle::State_Selected)) {
            painter->setPen(Qt::NoPen);
            painter->setBrush(theme.colour("selection"));
            painter->drawRoundedRect(option.rect.adjusted(6, 1, -6, -1), 5, 5);
        }
        const QRect area = option.rect.adjusted(16, 0, -16, 0);
        QFont small = option.font;
        small.setPixelSize(Theme::px(12));
        painter->setFont(small);
        painter->setPen(theme.colour("quiet"));
        if (index.data(HeadingRole).toBool()) {
            painter->drawText(area.adjusted(0, 4, 0, 0), Qt::AlignVCenter, index.data().toString());
            return painter->restore();
        }
        painter->drawText(QRect(area.left(), area.top(), Theme::px(62), area.height()), Qt::AlignVCenter,
                          index.data(KindRole).toString());
        const QString detail =
            QFontMetrics(small).elidedText(index.data(DetailRole).toString(), Qt::ElideRight, Theme::px(200));
        painter->drawText(area, Qt::AlignVCenter | Qt::AlignRight, detail);
        QFont font = option.font;
        font.setPixelSize(Theme::px(13));
        painter->setFont(font);
        painter->setPen(theme.colour("ink"));
        const QRect title = area.adjusted(Theme::px(66), 0, -QFontMetrics(small).horizontalAdvance(detail) - 12, 0);
        painter->drawText(title, Qt::AlignVCenter,
                          QFontMetrics(font).elidedText(index.data().toString(), Qt::ElideRight, title.width()));
        painter->restore();
    }
};

QString headingOf(work::ReachKind kind) {
    for (const work::ReachPrefix& one : work::reachPrefixes()) {
        if (one.kind != kind) continue;
        QString text = toQt(one.text);
        text[0] = text[0].toUpper();
        return QStringLiteral("%1  ·  %2:").arg(text).arg(QLatin1Char(one.letter));
    }
    return {};
}

}  // namespace

Reach::Reach(QWidget* parent)
    : QFrame(parent),
      input_(new QLineEdit(this)),
      list_(new QListWidget(this)),
      whole_(makeLabel({}, "code", this)),
      hint_(makeLabel({}, "small", this)) {
    setProperty("look", "float");
    name(this, objectName::kReach, tr("Reach"));
    name(input_, objectName::kReachInput, tr("Reach for a table, sheet, run, action or setting"));
    name(list_, objectName::kReachList, tr("What fits"));
    input_->setProperty("look", "big");
    input_->setPlaceholderText(tr("Reach for a table, sheet, run, action or setting…"));
    input_->installEventFilter(this);
    list_->setItemDelegate(new RowDelegate(list_));
    list_->setFocusPolicy(Qt::NoFocus);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(1, 1, 1, 6);
    layout->setSpacing(2);
    layout->addWidget(input_);
    layout->addWidget(makeFrame("rule"));
    layout->addWidget(list_);
    auto* foot = new QVBoxLayout;  // in line with the rows
    foot->setContentsMargins(16, 4, 16, 2);
    foot->setSpacing(4);
    foot->addWidget(whole_);
    foot->addWidget(hint_);
    layout->addLayout(foot);
    whole_->setObjectName(QStringLiteral("reachWhole"));
    whole_->setTextFormat(Qt::PlainText);
    hint_->setObjectName(QStringLiteral("reachHint"));
    connect(input_, &QLineEdit::textChanged, this, [this](const QString& text) {
        late_.clear();
        search();
        Q_EMIT textChanged(text);
    });
    connect(list_, &QListWidget::itemClicked, this, [this] { take(Take::Open); });
    connect(list_, &QListWidget::currentRowChanged, this, &Reach::showChosen);
    hide();
}

void Reach::open(Scope scope) {
    scope_ = std::move(scope);
    auto searched = std::make_shared<work::ReachScope>();
    for (auto [from, to] : {std::pair{&scope_.before, &searched->before}, {&scope_.behind, &searched->behind}}) {
        for (const Reachable& r : *from) to->push_back({fromQt(r.title), fromQt(r.also), r.of});
    }
    searched->catalogs = scope_.catalogs;
    searched->reached = scope_.reached;
    searched_ = std::move(searched);
    late_.clear();
    found_.clear();
    input_->clear();
    search();
    fill();
    if (!isVisible()) before_ = QApplication::focusWidget();
    show();
    raise();
    input_->setFocus();
    Q_EMIT textChanged({});
}

void Reach::type(const QString& text) { input_->setText(text); }

void Reach::add(const QString& forText, std::vector<Reachable> found) {
    if (!isVisible() || forText != input_->text()) return;
    late_ = std::move(found);
    fill();
}

/// Looks for what fits the text; what is looked for in vain now is given up.
void Reach::search() {
    search_.request();
    search_ = base::Cancellation();
    isSearching_ = true;
    due_.reset();
    inBackground(
        this,
        [wish = work::reachWish(fromQt(input_->text())), scope = searched_, cancellation = search_] {
            constexpr std::size_t kMaxHits = 60;
            return work::reachFor(wish, *scope, kMaxHits, cancellation);
        },
        [this, cancellation = search_](const std::optional<std::vector<work::ReachHit>>& hits) {
            if (hits && !cancellation.isRequested()) noteFound(*hits);
        });
}

void Reach::noteFound(const std::vector<work::ReachHit>& hits) {
    isSearching_ = false;
    found_.clear();
    for (const work::ReachHit& hit : hits) found_.push_back(reachableOf(hit));
    fill();
    if (const auto how = std::exchange(due_, std::nullopt)) take(*how);
}

Reachable Reach::reachableOf(const work::ReachHit& hit) const {
    switch (hit.part) {
        case work::ReachHit::Part::Before: return scope_.before[hit.index];
        case work::ReachHit::Part::Behind: return scope_.behind[hit.index];
        case work::ReachHit::Part::Relation: break;
    }
    return scope_.ofRelation(scope_.catalogs[hit.index], *hit.relation);
}

void Reach::addHeading(work::ReachKind kind) {
    auto* item = new QListWidgetItem(headingOf(kind), list_);
    item->setData(HeadingRole, true);
    item->setFlags(Qt::NoItemFlags);
    shown_.push_back(nullptr);
}

void Reach::addRow(const Reachable& one) {
    auto* item = new QListWidgetItem(one.title, list_);
    item->setData(KindRole, one.kind);
    item->setData(DetailRole, one.detail);
    shown_.push_back(&one);
}

/// A heading before each kind, where there are several.
void Reach::fill() {
    {
        const QSignalBlocker quiet(list_);
        list_->clear();
        shown_.clear();
        std::optional<work::ReachKind> kind;
        for (const std::vector<Reachable>* part : {&found_, &late_}) {
            for (const Reachable& one : *part) {
                if (kind != one.of && !work::reachWish(fromQt(input_->text())).kind) addHeading(one.of);
                kind = one.of;
                addRow(one);
            }
        }
        if (shown_.empty() && !isSearching_) {
            auto* item = new QListWidgetItem(tr("Nothing here fits “%1”").arg(input_->text()), list_);
            item->setFlags(Qt::NoItemFlags);
            shown_.push_back(nullptr);
        }
        const auto first = std::ranges::find_if(shown_, [](const Reachable* one) { return one != nullptr; });
        list_->setCurrentRow(first == shown_.end() ? -1 : static_cast<int>(first - shown_.begin()));
    }
    int height = 0;
    for (int row = 0; row < list_->count(); ++row)
        height += Theme::px(list_->item(row)->data(HeadingRole).toBool() ? kHeadingHeight : kRowHeight);
    list_->setFixedHeight(std::clamp(height, Theme::px(kRowHeight), Theme::px(kMaxHeight)) + 4);
    showChosen();
    list_->scrollToTop();  // with the heading of the first
}

const Reachable* Reach::chosen() const {
    const int row = list_->currentRow();
    return row < 0 || row >= static_cast<int>(shown_.size()) ? nullptr : shown_[static_cast<std::size_t>(row)];
}

/// All of a statement, and which keys do what.
void Reach::showChosen() {
    const Reachable* one = chosen();
    const QString whole = one != nullptr ? one->whole : QString();
    whole_->setText(whole.size() > kLongestWhole ? whole.left(kLongestWhole) + QStringLiteral("…") : whole);
    whole_->setVisible(!whole.isEmpty());
    QStringList parts;
    if (input_->text().isEmpty()) {
        for (const work::ReachPrefix& prefix : work::reachPrefixes())
            parts << QStringLiteral("%1: %2").arg(QLatin1Char(prefix.letter)).arg(toQt(prefix.text));
    } else if (one != nullptr) {
        parts << tr("Return opens") << tr("Ctrl+Return beside");
        if (one->runNow) parts << tr("Alt+Return runs");
    }
    hint_->setText(parts.join(QStringLiteral("  ·  ")));
    hint_->setWordWrap(true);
    hint_->setVisible(!parts.isEmpty());
    const int width = std::min(Theme::px(kWidth), parentWidget()->width() - 40);
    setFixedWidth(width);
    adjustSize();
    move((parentWidget()->width() - width) / 2, 56);
}

/// To the next row that is none of a heading; round at the ends by pages only.
void Reach::step(int key) {
    const int before = list_->currentRow();
    stepInList(list_, key, kMaxRows);
    if (chosen() != nullptr) return;
    const bool isDown = key == Qt::Key_Down || key == Qt::Key_PageDown;
    int row = list_->currentRow() + (isDown ? 1 : -1);
    if (row < 0 || row >= list_->count()) row = before;
    list_->setCurrentRow(row);
}

/// What was chosen, once the list is that of the text.
void Reach::take(Take how) {
    if (isSearching_) {
        due_ = how;
        return;
    }
    const Reachable* one = chosen();
    if (one == nullptr || (how == Take::Run && !one->runNow)) return;
    const auto act = how == Take::Run ? one->runNow : one->act;
    const QString title = one->of == work::ReachKind::Run ? QString() : one->title;
    close();
    if (!title.isEmpty()) Q_EMIT reached(title);
    act();
    if (how == Take::Beside) Q_EMIT besideRequested();
}

/// Whoever reaches for something goes on where they were, unless what they chose leads elsewhere.
void Reach::close() {
    hide();
    QWidget* back = before_ != nullptr && before_->isVisible() ? before_.data() : parentWidget();
    back->setFocus();
}

bool Reach::eventFilter(QObject* watched, QEvent* event) {
    if (watched == input_ && event->type() == QEvent::FocusOut && isVisible()) hide();
    if (watched == input_ && (claimsReturn(event) || claimsReturn(event, Qt::AltModifier))) return true;
    if (watched != input_ || event->type() != QEvent::KeyPress) return QFrame::eventFilter(watched, event);
    const auto* pressed = static_cast<QKeyEvent*>(event);
    const int key = pressed->key();
    switch (key) {
        case Qt::Key_Up:
        case Qt::Key_Down:
        case Qt::Key_PageUp:
        case Qt::Key_PageDown: step(key); return true;
        case Qt::Key_Return:
        case Qt::Key_Enter:
            take(pressed->modifiers().testFlag(Qt::ControlModifier) ? Take::Beside
                 : pressed->modifiers().testFlag(Qt::AltModifier)   ? Take::Run
                                                                    : Take::Open);
            return true;
        case Qt::Key_Escape: close(); return true;
        default: return false;
    }
}

}  // namespace pantry::app

#include "moc_reach.cpp"
