#include "app/editor/completion_popup.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QStyledItemDelegate>
#include <QVBoxLayout>
#include <algorithm>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/text.h"

namespace pantry::app {
namespace {

constexpr int kRowHeight = 22;
constexpr int kMaxRows = 9;
constexpr std::size_t kLongestRow = 160;  // bytes; more finds no room in any list
constexpr int kNoteWidth = 250;
constexpr int kNoteHeight = 150;
constexpr int kApart = 4;  // from the line that is written
constexpr int kDetailRole = Qt::UserRole;
constexpr int kStrongRole = Qt::UserRole + 1;

/// Name at the left in the code font, detail at the right in the quiet colour.
class Delegate : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;

    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override {
        return {100, Theme::px(kRowHeight)};
    }

    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        const Theme& theme = Theme::current();
        const bool isCurrent = option.state.testFlag(QStyle::State_Selected);
        painter->save();
        painter->setRenderHint(QPainter::Antialiasing);
        if (isCurrent) {
            painter->setPen(Qt::NoPen);
            painter->setBrush(theme.colour("selection"));
            painter->drawRoundedRect(option.rect, 4, 4);
        }
        const QRect area = option.rect.adjusted(8, 0, -8, 0);
        QFont code(QStringLiteral("Hack"));
        code.setPixelSize(Theme::px(13));
        const bool isStrong = index.data(kStrongRole).toBool();
        code.setBold(isStrong);
        const QString detail = index.data(kDetailRole).toString();
        QFont small = option.font;
        small.setPixelSize(Theme::px(12));
        const int detailWidth = std::min(QFontMetrics(small).horizontalAdvance(detail) + 2, area.width() / 2);
        painter->setFont(small);
        painter->setPen(theme.colour("quiet"));
        painter->drawText(area, Qt::AlignVCenter | Qt::AlignRight,
                          QFontMetrics(small).elidedText(detail, Qt::ElideRight, detailWidth));
        painter->setFont(code);
        painter->setPen(theme.colour(isStrong ? "juniper" : "ink"));
        const QRect left = area.adjusted(0, 0, -detailWidth - 12, 0);
        painter->drawText(left, Qt::AlignVCenter,
                          QFontMetrics(code).elidedText(index.data().toString(), Qt::ElideRight, left.width()));
        painter->restore();
    }
};

}  // namespace

CompletionPopup::CompletionPopup(QWidget* parent) : QFrame(parent), list_(new QListWidget(this)) {
    setProperty("look", "float");
    name(this, objectName::kCompletion, tr("Completion"));
    list_->setFocusPolicy(Qt::NoFocus);
    list_->setItemDelegate(new Delegate(list_));
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->setAccessibleName(tr("What could stand here"));
    setFocusPolicy(Qt::NoFocus);
    auto* choices = new QVBoxLayout;
    choices->setContentsMargins(5, 5, 5, 4);
    choices->setSpacing(3);
    choices->addWidget(list_);
    choices->addStretch();
    choices->addWidget(makeFrame("rule"));
    choices->addWidget(makeLabel(tr("Tab takes it · ↑ ↓ choose · Esc closes"), "small"));
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 1, 1, 1);
    layout->setSpacing(0);
    layout->addLayout(choices, 1);
    layout->addWidget(makeNote());
    connect(list_, &QListWidget::itemClicked, this, [this] { Q_EMIT chosen(); });
    connect(list_, &QListWidget::currentRowChanged, this, &CompletionPopup::showNote);
    hide();
}

QWidget* CompletionPopup::makeNote() {
    note_ = makeFrame("note");
    name(note_, objectName::kCompletionNote, tr("About the offer that is chosen"));
    Theme::fit(note_, [this] { note_->setFixedWidth(Theme::px(kNoteWidth)); });
    auto* layout = new QVBoxLayout(note_);
    layout->setContentsMargins(12, 9, 12, 8);
    layout->setSpacing(3);
    for (QLabel** label : {&heading_, &what_, &facts_, &comment_}) {
        *label = makeLabel({}, label == &heading_ ? "code" : label == &facts_ ? "" : "quiet", note_);
        (*label)->setWordWrap(true);
        layout->addWidget(*label);
    }
    QFont bold = heading_->font();
    bold.setBold(true);
    heading_->setFont(bold);
    layout->addStretch();
    return note_;
}

/// What is known of the offer; the whole of a name that finds no room in the list stands here too.
void CompletionPopup::showNote(int row) {
    if (row < 0 || row >= static_cast<int>(completion_.items.size())) return;
    const sql::CompletionItem& item = completion_.items[static_cast<std::size_t>(row)];
    const std::optional<sql::NameFacts> facts = sql::factsOf(item);
    constexpr std::size_t kLong = 30;  // letters that find no room in the list
    const bool isWorthSaying = facts || item.text.size() > kLong;
    heading_->setText(!isWorthSaying ? QString() : toQt(facts ? facts->heading : item.text));
    what_->setText(!isWorthSaying ? QString() : toQt(facts ? facts->what : item.detail));
    QStringList lines;
    if (facts) {
        for (const auto& [label, value] : facts->facts) lines += QStringLiteral("%1: %2").arg(toQt(label), toQt(value));
    }
    facts_->setText(lines.join(QLatin1Char('\n')));
    facts_->setVisible(!lines.isEmpty());
    comment_->setText(facts ? toQt(facts->comment) : QString());
    comment_->setVisible(facts && !facts->comment.empty());
    // Where nothing is known, nothing stands beside: an empty half says less than none.
    note_->setVisible(hasRoomForNote_ && isWorthSaying);
    resize(listWidth_ + (note_->isVisibleTo(this) ? note_->width() : 0), height());
}

void CompletionPopup::offer(const sql::Completion& completion, const QPoint& caretTop, int lineHeight) {
    completion_ = completion;
    isMovedTo_ = false;
    list_->clear();
    int widest = 220;
    QFont code(QStringLiteral("Hack"));
    code.setPixelSize(Theme::px(13));
    const QFontMetrics metrics(code);
    for (const sql::CompletionItem& item : completion.items) {
        auto* row = new QListWidgetItem(toQt(base::oneLine(item.text, kLongestRow)), list_);
        row->setData(kDetailRole, toQt(item.detail));
        row->setData(kStrongRole, item.kind == sql::CompletionKind::Join);
        widest = std::max(widest,
                          metrics.horizontalAdvance(row->text()) + metrics.horizontalAdvance(toQt(item.detail)) + 60);
    }
    // What is known stands beside, where there is room and something is known.
    const bool isKnown = std::ranges::any_of(completion.items, [](const auto& one) {
        return one.relation != nullptr || one.example != nullptr || one.kind == sql::CompletionKind::Statement;
    });
    const int noteWidth = Theme::px(kNoteWidth);
    hasRoomForNote_ = isKnown && parentWidget()->width() >= Theme::px(300) + noteWidth;
    // Where there is more room, with as many rows as fit there: the line that is written stays in sight.
    const int edges = Theme::px(42);
    const int row = Theme::px(kRowHeight);
    const int wanted = std::min<int>(static_cast<int>(completion.items.size()), kMaxRows);
    const int below = parentWidget()->height() - caretTop.y() - lineHeight - kApart;
    const int above = caretTop.y() - kApart;
    const bool isBelow = below >= wanted * row + edges || below >= above;
    const int rows = std::clamp(((isBelow ? below : above) - edges) / row, 1, wanted);
    list_->setFixedHeight(rows * row + 2);
    const int whole = std::min(std::clamp(widest, Theme::px(260), Theme::px(560)) + (hasRoomForNote_ ? noteWidth : 0),
                               parentWidget()->width());
    listWidth_ = whole - (hasRoomForNote_ ? noteWidth : 0);
    const int tall = std::min(std::max(rows * row + edges, hasRoomForNote_ ? Theme::px(kNoteHeight) : 0),
                              std::max(rows * row + edges, isBelow ? below : above));
    resize(whole, tall);
    list_->setCurrentRow(0);
    showNote(0);
    const int x = std::clamp(caretTop.x() - 12, 0, std::max(0, parentWidget()->width() - whole));
    QFrame::move(x, isBelow ? caretTop.y() + lineHeight + kApart : std::max(0, caretTop.y() - height() - kApart));
    show();
    raise();
}

void CompletionPopup::move(int steps) {
    const int count = list_->count();
    if (count == 0) return;
    isMovedTo_ = true;
    list_->setCurrentRow((list_->currentRow() + steps % count + count) % count);
}

}  // namespace pantry::app

#include "moc_completion_popup.cpp"
