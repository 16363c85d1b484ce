#include "app/ledger/fold_list.h"

#include <QPainter>
#include <algorithm>

#include "app/base/text.h"
#include "app/ledger/run_line.h"
#include "app/ledger/run_words.h"
#include "app/look/connection_colours.h"
#include "app/look/theme.h"
#include "core/base/text.h"
#include "core/work/run_difference.h"

namespace pantry::app {
namespace {

constexpr int kDayHeight = 32;
constexpr int kFoldHeight = 48;
constexpr int kNarrowDayHeight = 26;
constexpr int kNarrowHeight = 44;
constexpr int kTimeWidth = 50;
constexpr int kLineWidth = 100;
constexpr int kCountWidth = 44;
constexpr std::size_t kLongestText = 300;  // bytes of a statement that a row could ever show

}  // namespace

FoldModel::FoldModel(Desk& desk, QObject* parent)
    : QAbstractListModel(parent),
      desk_(desk),
      list_(desk.ledger(),
            {.added = [this](std::size_t first) { take(first); }, .rested = [this] { Q_EMIT rested(); }}) {}

std::vector<FoldModel::Row> FoldModel::rowsFrom(std::size_t first) const {
    std::vector<Row> rows;
    const base::Moment now = base::now();
    const auto dayOf = [&](std::size_t i) { return toQt(base::spokenDay(list_.folds()[i].last.startedAt, now)); };
    QString day = first > 0 ? dayOf(first - 1) : QString();
    for (std::size_t i = first; i < list_.folds().size(); ++i) {
        const QString own = dayOf(i);
        if (own != day) rows.push_back({std::nullopt, own});
        day = own;
        rows.push_back({i, {}});
    }
    return rows;
}

void FoldModel::take(std::size_t first) {
    const bool isAnew = first == 0;
    std::vector<Row> more = rowsFrom(first);
    if (isAnew) {
        beginResetModel();
        rows_ = std::move(more);
        endResetModel();
    } else if (!more.empty()) {
        beginInsertRows({}, rowCount(), rowCount() + static_cast<int>(more.size()) - 1);
        rows_.insert(rows_.end(), more.begin(), more.end());
        endInsertRows();
    }
    Q_EMIT filled(isAnew);
}

int FoldModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

const store::LedgerFold* FoldModel::foldAt(const QModelIndex& index) const {
    if (!index.isValid() || index.row() >= rowCount()) return nullptr;
    const Row& row = rows_[static_cast<std::size_t>(index.row())];
    return row.fold && *row.fold < list_.folds().size() ? &list_.folds()[*row.fold] : nullptr;
}

std::optional<int> FoldModel::rowOf(const store::LedgerEntry& entry) const {
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        if (!rows_[i].fold || *rows_[i].fold >= list_.folds().size()) continue;
        const store::LedgerEntry& last = list_.folds()[*rows_[i].fold].last;
        if (last.form == entry.form && last.start.connectionId == entry.start.connectionId) return static_cast<int>(i);
    }
    return std::nullopt;
}

QModelIndex FoldModel::firstFold() const {
    const auto found = std::ranges::find_if(rows_, [](const Row& row) { return row.fold.has_value(); });
    return found == rows_.end() ? QModelIndex() : index(static_cast<int>(found - rows_.begin()));
}

QVariant FoldModel::data(const QModelIndex& index, int role) const {
    const store::LedgerFold* fold = foldAt(index);
    if (role == IsDayRole) return fold == nullptr;
    if (fold == nullptr)
        return role == Qt::DisplayRole && index.isValid() ? QVariant(rows_[static_cast<std::size_t>(index.row())].day)
                                                          : QVariant();
    const store::LedgerEntry& last = fold->last;
    switch (role) {
        case Qt::DisplayRole: return toQt(base::oneLine(last.start.statement, kLongestText));
        case Qt::ToolTipRole: {
            const QString with =
                last.start.parameters.empty() ? QString() : tr("\n\nwith %1").arg(toQt(last.start.parameters));
            return toQt(std::string_view(last.start.statement).substr(0, 1500)) + with;
        }
        case Qt::AccessibleTextRole:
            return QStringLiteral("%1, %2").arg(data(index, Qt::DisplayRole).toString(), outcomeOf(last));
        case TimeRole: return toQt(base::localTime(last.startedAt).substr(0, 5));
        case OutcomeRole: return statusSign(last.end.status) + outcomeOf(last);
        case StatusRole: return QLatin1String(statusColour(last.end.status));
        case SlownessRole: return toQt(work::slownessOf(fold->points));
        case RunsRole: return static_cast<qlonglong>(fold->runs);
        case ConnectionRole: return toQt(last.start.connectionName);
        case ColourRole: {
            const auto* p = desk_.connections().profile(last.start.connectionId);
            return p != nullptr ? Theme::current().connectionColour(signalColour(*p)) : Theme::current().colour("line");
        }
        default: return {};
    }
}

Qt::ItemFlags FoldModel::flags(const QModelIndex& index) const {
    return foldAt(index) != nullptr ? Qt::ItemIsEnabled | Qt::ItemIsSelectable : Qt::NoItemFlags;
}

bool FoldModel::canFetchMore(const QModelIndex& parent) const {
    return !parent.isValid() && !list_.isReading() && list_.hasMore();
}

void FoldModel::fetchMore(const QModelIndex&) { list_.more(); }

QSize FoldDelegate::sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const {
    return {200, Theme::px(index.data(FoldModel::IsDayRole).toBool() ? kDayHeight : kFoldHeight)};
}

namespace {

QFont wordFont(const QStyleOptionViewItem& option, int pixels, QFont::Weight weight = QFont::Normal) {
    QFont font = option.font;
    font.setPixelSize(Theme::px(pixels));
    font.setWeight(weight);
    return font;
}

void paintDay(QPainter& painter, const QStyleOptionViewItem& option, const QModelIndex& index) {
    const Theme& theme = Theme::current();
    painter.fillRect(option.rect, theme.colour("paper"));
    painter.setFont(wordFont(option, 13, QFont::DemiBold));
    painter.setPen(theme.colour("ink"));
    painter.drawText(option.rect.adjusted(14, 0, -14, 0), Qt::AlignVCenter, index.data().toString());
}

void paintBackground(QPainter& painter, const QStyleOptionViewItem& option) {
    const Theme& theme = Theme::current();
    const QRect row = option.rect;
    const bool isChosen = option.state.testFlag(QStyle::State_Selected);
    painter.fillRect(row, theme.colour(isChosen ? "selection" : "card"));
    if (isChosen && option.state.testFlag(QStyle::State_HasFocus)) {
        painter.setPen(theme.colour("juniper"));
        painter.drawRect(row.adjusted(0, 0, -1, -1));
    }
    painter.setPen(theme.colour("fineLine"));
    painter.drawLine(row.bottomLeft(), row.bottomRight());
}

/// When it ran, the connection's colour, and the statement's text in the upper half of `area`.
void paintStatement(QPainter& painter, const QStyleOptionViewItem& option, const QModelIndex& index, QRect area) {
    const Theme& theme = Theme::current();
    const QRect row = option.rect;
    const int time = Theme::px(kTimeWidth);
    painter.fillRect(QRect(row.left() + 14 + time, row.top() + 7, 3, row.height() - 14),
                     index.data(FoldModel::ColourRole).value<QColor>());
    painter.setFont(wordFont(option, 13));
    painter.setPen(theme.colour("quiet"));
    painter.drawText(QRect(row.left() + 14, area.top(), time, area.height() / 2), Qt::AlignVCenter,
                     index.data(FoldModel::TimeRole).toString());
    QFont code(QStringLiteral("Hack"));
    code.setPixelSize(Theme::px(12));
    painter.setFont(code);
    painter.setPen(theme.colour("ink"));
    const QRect line(area.left(), area.top(), area.width(), area.height() / 2);
    painter.drawText(line, Qt::AlignVCenter,
                     QFontMetrics(code).elidedText(index.data().toString(), Qt::ElideRight, line.width()));
}

/// How the last run ended, and whether it got slower.
void paintOutcome(QPainter& painter, const QStyleOptionViewItem& option, const QModelIndex& index, QRect place) {
    const Theme& theme = Theme::current();
    const QFont font = wordFont(option, 12);
    const QFontMetrics metrics(font);
    painter.setFont(font);
    const QString slowness = index.data(FoldModel::SlownessRole).toString();
    const int slowWidth = slowness.isEmpty() ? 0 : metrics.horizontalAdvance(QStringLiteral(" · ") + slowness);
    const QString outcome =
        metrics.elidedText(index.data(FoldModel::OutcomeRole).toString(), Qt::ElideRight, place.width() - slowWidth);
    painter.setPen(theme.colour(index.data(FoldModel::StatusRole).toString().toLatin1().constData()));
    painter.drawText(place, Qt::AlignVCenter, outcome);
    if (slowness.isEmpty()) return;
    painter.setPen(theme.colour("marigold"));
    painter.drawText(place.adjusted(metrics.horizontalAdvance(outcome), 0, slowWidth, 0), Qt::AlignVCenter,
                     QStringLiteral(" · ") + slowness);
}

void paintCount(QPainter& painter, const QStyleOptionViewItem& option, qlonglong runs, QRect place) {
    painter.setFont(wordFont(option, 12, QFont::DemiBold));
    painter.setPen(Theme::current().colour("ink"));
    painter.drawText(place, Qt::AlignVCenter | Qt::AlignRight, QStringLiteral("×") + toQt(base::grouped(runs)));
}

}  // namespace

void FoldDelegate::paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const {
    painter->save();
    painter->setRenderHint(QPainter::Antialiasing);
    if (index.data(FoldModel::IsDayRole).toBool()) {
        paintDay(*painter, option, index);
        return painter->restore();
    }
    paintBackground(*painter, option);
    const QRect area = option.rect.adjusted(14 + Theme::px(kTimeWidth) + 12, 4, -12, -5);
    paintStatement(*painter, option, index, area);
    const int count = Theme::px(kCountWidth);
    const int line = Theme::px(kLineWidth);
    const QRect second(area.left(), area.top() + area.height() / 2, area.width() - count - line - 12,
                       area.height() / 2);
    paintOutcome(*painter, option, index, second);
    const auto* model = qobject_cast<const FoldModel*>(index.model());
    const store::LedgerFold* fold = model != nullptr ? model->foldAt(index) : nullptr;
    if (fold != nullptr && fold->points.size() > 1)
        paintRunLine(*painter, QRectF(area.right() - count - line, second.top() + 4, line - 6, second.height() - 8),
                     fold->points);
    const auto runs = index.data(FoldModel::RunsRole).toLongLong();
    if (runs > 1) paintCount(*painter, option, runs, {area.right() - count, second.top(), count, second.height()});
    painter->restore();
}

QSize NarrowFoldDelegate::sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const {
    return {80, Theme::px(index.data(FoldModel::IsDayRole).toBool() ? kNarrowDayHeight : kNarrowHeight)};
}

void NarrowFoldDelegate::paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const {
    const Theme& theme = Theme::current();
    painter->save();
    painter->setRenderHint(QPainter::Antialiasing);
    QFont textFont = option.font;
    textFont.setPixelSize(Theme::px(12));
    painter->setFont(textFont);
    if (index.data(FoldModel::IsDayRole).toBool()) {
        painter->setPen(theme.colour("quiet"));
        painter->drawText(option.rect.adjusted(14, 4, -10, 0), Qt::AlignVCenter, index.data().toString());
        return painter->restore();
    }
    const QRect box = option.rect.adjusted(8, 1, -8, -1);
    if (option.state.testFlag(QStyle::State_Selected)) {
        painter->setPen(option.state.testFlag(QStyle::State_HasFocus) ? QPen(theme.colour("juniper")) : Qt::NoPen);
        painter->setBrush(theme.colour("selection"));
        painter->drawRoundedRect(box, 4, 4);
    }
    painter->fillRect(QRect(box.left() + 5, box.top() + 6, 3, box.height() - 12),
                      index.data(FoldModel::ColourRole).value<QColor>());
    const QRect area = box.adjusted(15, 3, -6, -3);
    const QRect first(area.left(), area.top(), area.width(), area.height() / 2);
    QRect second(area.left(), first.bottom() + 1, area.width(), area.height() - first.height());
    QFont code(QStringLiteral("Hack"));
    code.setPixelSize(Theme::px(12));
    painter->setFont(code);
    painter->setPen(theme.colour("ink"));
    painter->drawText(first, Qt::AlignVCenter,
                      QFontMetrics(code).elidedText(index.data().toString(), Qt::ElideRight, first.width()));
    painter->setFont(textFont);
    const auto runs = index.data(FoldModel::RunsRole).toLongLong();
    if (runs > 1) {
        const QString count = QStringLiteral("×") + toQt(base::grouped(runs));
        painter->drawText(second, Qt::AlignVCenter | Qt::AlignRight, count);
        second.setRight(second.right() - QFontMetrics(textFont).horizontalAdvance(count) - 6);
    }
    const QString facts = index.data(FoldModel::TimeRole).toString() + QStringLiteral(" · ") +
                          index.data(FoldModel::OutcomeRole).toString() + QStringLiteral(" · ") +
                          index.data(FoldModel::ConnectionRole).toString();
    const QString role = index.data(FoldModel::StatusRole).toString();
    painter->setPen(theme.colour(role == QLatin1String("sage") ? "quiet" : role.toLatin1().constData()));
    painter->drawText(second, Qt::AlignVCenter,
                      QFontMetrics(textFont).elidedText(facts, Qt::ElideRight, second.width()));
    painter->restore();
}

}  // namespace pantry::app

#include "moc_fold_list.cpp"
