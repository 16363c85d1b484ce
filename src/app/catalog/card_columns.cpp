#include "app/catalog/card_columns.h"

#include <QPainter>
#include <QStyledItemDelegate>

#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/text.h"

namespace pantry::app {
namespace {

constexpr int kTypeRole = Qt::UserRole;
constexpr int kSignRole = Qt::UserRole + 1;
constexpr int kLineHeight = 19;

class ColumnDelegate : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override {
        return {60, Theme::px(kLineHeight)};
    }
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        const Theme& theme = Theme::current();
        painter->save();
        QFont small = option.font;
        small.setPixelSize(Theme::px(12));
        QFont code(QStringLiteral("Hack"));
        code.setPixelSize(Theme::px(12));
        const QFontMetrics names(code);
        const QFontMetrics types(small);
        painter->setFont(small);
        painter->setPen(theme.colour("marigold"));
        painter->drawText(option.rect, Qt::AlignVCenter | Qt::AlignLeft, index.data(kSignRole).toString());
        const QRect area = option.rect.adjusted(Theme::px(14), 0, -2, 0);
        const QString name = index.data().toString();
        const QString type = index.data(kTypeRole).toString();
        // The name goes first, the type has at least a third.
        const int apart = 8;
        const int nameRoom = std::min(names.horizontalAdvance(name), area.width() * 2 / 3 - apart);
        const int typeRoom = area.width() - nameRoom - apart;
        painter->setPen(theme.colour("quiet"));
        painter->drawText(area, Qt::AlignVCenter | Qt::AlignRight, types.elidedText(type, Qt::ElideRight, typeRoom));
        const int left = area.width() - std::min(types.horizontalAdvance(type), typeRoom) - apart;
        painter->setFont(code);
        painter->setPen(theme.colour("ink"));
        painter->drawText(area, Qt::AlignVCenter | Qt::AlignLeft, names.elidedText(name, Qt::ElideMiddle, left));
        painter->restore();
    }
};

}  // namespace

CardColumns::CardColumns(QWidget* parent) : QListWidget(parent) {
    name(this, "objectCardColumns", tr("Columns of the chosen table or view"));
    setItemDelegate(new ColumnDelegate(this));
    setProperty("look", "bare");
    setSelectionMode(QAbstractItemView::NoSelection);
    setFocusPolicy(Qt::NoFocus);  // the details page has them all, by Return
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setUniformItemSizes(true);
    connect(&Theme::current(), &Theme::changed, this, &QListWidget::doItemsLayout);
}

void CardColumns::show(const catalog::Relation& relation) {
    clear();
    for (const catalog::Column& c : relation.columns) {
        const catalog::ForeignKey* key = relation.foreignKeyOf(c.name);
        const bool isPrimary = c.keyPosition > 0;
        const QString type = toQt(base::toLower(c.typeName));
        auto* item = new QListWidgetItem(toQt(c.name), this);
        item->setData(kTypeRole, type);
        item->setData(kSignRole, isPrimary ? QStringLiteral("●") : key != nullptr ? QStringLiteral("↗") : QString());
        QString tip = toQt(c.name) + QStringLiteral(" · ") + type;
        tip += isPrimary ? tr(" · part of the primary key") : c.isNullable ? tr(" · nullable") : tr(" · not null");
        if (key != nullptr) tip += tr(" · refers to %1").arg(toQt(key->relation));
        item->setToolTip(tip);
    }
}

}  // namespace pantry::app

#include "moc_card_columns.cpp"
