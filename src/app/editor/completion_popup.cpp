#include "app/editor/completion_popup.h"

#include <QPainter>
#include <QStyledItemDelegate>
#include <QVBoxLayout>
#include <algorithm>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"

namespace pantry::app {
namespace {

constexpr int kRowHeight = 22;
constexpr int kMaxRows = 9;
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
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(5, 5, 5, 4);
    layout->setSpacing(3);
    layout->addWidget(list_);
    layout->addWidget(makeFrame("rule"));
    layout->addWidget(makeLabel(tr("Tab takes it · ↑ ↓ choose · Esc closes"), "small"));
    connect(list_, &QListWidget::itemClicked, this, [this] { Q_EMIT chosen(); });
    hide();
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
        auto* row = new QListWidgetItem(toQt(item.text), list_);
        row->setData(kDetailRole, toQt(item.detail));
        row->setData(kStrongRole, item.kind == sql::CompletionKind::Join);
        widest = std::max(widest,
                          metrics.horizontalAdvance(row->text()) + metrics.horizontalAdvance(toQt(item.detail)) + 60);
    }
    list_->setCurrentRow(0);
    // Where there is more room, with as many rows as fit there: the line that is written stays in sight.
    const int edges = Theme::px(42);
    const int row = Theme::px(kRowHeight);
    const int wanted = std::min<int>(static_cast<int>(completion.items.size()), kMaxRows);
    const int below = parentWidget()->height() - caretTop.y() - lineHeight - kApart;
    const int above = caretTop.y() - kApart;
    const bool isBelow = below >= wanted * row + edges || below >= above;
    const int rows = std::clamp(((isBelow ? below : above) - edges) / row, 1, wanted);
    list_->setFixedHeight(rows * row + 2);
    resize(std::clamp(widest, Theme::px(260), Theme::px(560)), rows * row + edges);
    const int x = std::clamp(caretTop.x() - 12, 0, std::max(0, parentWidget()->width() - width()));
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
