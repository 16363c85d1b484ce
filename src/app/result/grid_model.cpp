#include "app/result/grid_model.h"

#include <QColor>
#include <QFont>
#include <limits>

#include "app/base/text.h"
#include "app/look/missing_glyphs.h"
#include "app/look/theme.h"
#include "core/data/view/comparison.h"

namespace pantry::app {
namespace {

constexpr float kRowShare = 0.16F;   // of a colour, behind a row that came or went
constexpr float kCellShare = 0.28F;  // behind a cell that changed

const char* colourRole(const data::Cell& cell, data::ColumnType type) {
    if (cell.isNull()) return "quiet";
    if (cell.kind == data::CellKind::Integer || cell.kind == data::CellKind::Real || data::isNumeric(type))
        return "cocoa";
    switch (type) {
        case data::ColumnType::Date:
        case data::ColumnType::Time:
        case data::ColumnType::Timestamp: return "juniper";
        case data::ColumnType::Json: return "beet";
        default: return cell.kind == data::CellKind::Binary ? "quiet" : "ink";
    }
}

}  // namespace

GridModel::GridModel(QObject* parent) : QAbstractTableModel(parent), look_(new ResultLook(this)) {
    connect(look_, &ResultLook::changed, this, [this] {
        if (rows_ == 0 || columnCount() == 0) return;
        Q_EMIT dataChanged(index(0, 0), index(rows_ - 1, columnCount() - 1));
        Q_EMIT headerDataChanged(Qt::Horizontal, 0, columnCount() - 1);
    });
}

void GridModel::setSource(ResultSource* source) {
    for (const auto& connection : connections_) disconnect(connection);
    connections_.clear();
    source_ = source;
    if (source_ != nullptr) {
        connections_ << connect(source_, &ResultSource::resultArrived, this, &GridModel::reset)
                     << connect(source_, &ResultSource::viewChanged, this, &GridModel::reset)
                     << connect(source_, &ResultSource::rowsArrived, this, &GridModel::noteRows)
                     << connect(source_, &ResultSource::shapesChanged, this,
                                [this] { Q_EMIT headerDataChanged(Qt::Horizontal, 0, std::max(0, columnCount() - 1)); })
                     << connect(source_, &QObject::destroyed, this, [this] {
                            source_ = nullptr;
                            reset();
                        });
    }
    reset();
}

void GridModel::reset() {
    beginResetModel();
    if (source_ != nullptr && source_->result()) look_->setColumns(source_->result()->columns());
    rows_ = rowsThere();
    endResetModel();
}

/// An ordered or filtered view is worked out anew when all rows are there.
void GridModel::noteRows() {
    const data::ResultView* view = source_ != nullptr ? source_->view() : nullptr;
    if (view == nullptr) return;
    if (!view->isWhole()) {
        if (!source_->isGoingOn() && view->sourceRowCount() != source_->rowCount())
            source_->requestView(source_->viewRequest());
        return;
    }
    grow();
}

void GridModel::grow() {
    const int there = rowsThere();
    if (there <= rows_ || isGrowing_) return;
    isGrowing_ = true;
    beginInsertRows({}, rows_, there - 1);
    rows_ = there;
    endInsertRows();
    isGrowing_ = false;
}

int GridModel::rowsThere() const {
    const data::ResultView* view = source_ != nullptr ? source_->view() : nullptr;
    return view == nullptr ? 0
                           : static_cast<int>(std::min<std::size_t>(view->rowCount(), std::numeric_limits<int>::max()));
}

void GridModel::growTo(int row) {
    if (rows_ <= row) grow();
}

int GridModel::rowCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : rows_; }

int GridModel::columnCount(const QModelIndex& parent) const {
    if (parent.isValid() || source_ == nullptr || !source_->result()) return 0;
    return static_cast<int>(source_->result()->columns().size());
}

data::Cell GridModel::cell(int row, int column) const {
    const data::ResultView* view = source_->view();
    return view->result()->cell(view->rowAt(static_cast<std::size_t>(row)), static_cast<std::size_t>(column));
}

bool GridModel::isRightAligned(int column) const {
    const auto& info = source_->result()->columns()[static_cast<std::size_t>(column)];
    if (info.type != data::ColumnType::Unknown) return data::isNumeric(info.type);
    // An expression has no declared type: its first values tell.
    for (int row = 0; row < std::min(rows_, 20); ++row) {
        const data::Cell c = cell(row, column);
        if (!c.isNull()) return c.kind == data::CellKind::Integer || c.kind == data::CellKind::Real;
    }
    return false;
}

/// Rows that came and went, and cells that changed, have the colours that things going well, badly and to be looked at
/// have everywhere.
QColor GridModel::comparedBackground(const QModelIndex& index) const {
    const auto row = source_->view()->rowAt(static_cast<std::size_t>(index.row()));
    const data::ResultSet& result = *source_->result();
    const std::string_view change = result.cell(row, data::kChangeColumn).bytes;
    const bool isOneSided = change == data::kAddedWord || change == data::kRemovedWord;
    if (!isOneSided && !data::isChangedCell(result, row, static_cast<std::size_t>(index.column()))) return {};
    QColor colour = Theme::current().connectionColour(change == data::kAddedWord     ? "sage"
                                                      : change == data::kRemovedWord ? "tomato"
                                                                                     : "marigold");
    colour.setAlphaF(isOneSided ? kRowShare : kCellShare);
    return colour;
}

/// The same colours for what is other than the last time.
QColor GridModel::changedBackground(const QModelIndex& index) const {
    if (!source_->change() || source_->change()->isNone()) return {};
    const auto row = source_->view()->rowAt(static_cast<std::size_t>(index.row()));
    const work::CellChange change = source_->change()->of(row, static_cast<std::size_t>(index.column()));
    if (change == work::CellChange::None) return {};
    const bool isAdded = change == work::CellChange::Added;
    QColor colour = Theme::current().connectionColour(isAdded ? "sage" : "marigold");
    colour.setAlphaF(isAdded ? kRowShare : kCellShare);
    return colour;
}

QVariant GridModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || index.row() >= rows_ || source_ == nullptr) return {};
    const data::Cell c = cell(index.row(), index.column());
    const auto type = source_->result()->columns()[static_cast<std::size_t>(index.column())].type;
    switch (role) {
        case Qt::DisplayRole: return withMissingGlyphsNamed(look_->text(c, index.column()));
        case CellBackgroundRole: {
            const QColor background = source_->isComparison() ? comparedBackground(index) : changedBackground(index);
            return background.isValid() ? background : look_->background(c, index.column());
        }
        case LabelRole: return look_->label(c, index.column());
        case Qt::TextAlignmentRole: {
            const bool isNumber =
                c.kind == data::CellKind::Integer || c.kind == data::CellKind::Real || data::isNumeric(type);
            return static_cast<int>(Qt::AlignVCenter | (isNumber && !c.isNull() ? Qt::AlignRight : Qt::AlignLeft));
        }
        case Qt::ForegroundRole: return Theme::current().colour(colourRole(c, type));
        case Qt::FontRole:
            if (c.isNull() || c.kind == data::CellKind::Binary) {
                QFont font(QStringLiteral("Hack"));
                font.setItalic(true);
                return font;
            }
            return {};
        case Qt::AccessibleTextRole: return c.isNull() ? tr("null") : look_->text(c, index.column());
        case NullRole: return c.isNull();
        case ExactRole: {
            const bool isMoment =
                type == data::ColumnType::Date || type == data::ColumnType::Time || type == data::ColumnType::Timestamp;
            const bool isNumber =
                c.kind == data::CellKind::Integer || c.kind == data::CellKind::Real || data::isNumeric(type);
            return !c.isNull() && (isMoment || isNumber);
        }
        default: return {};
    }
}

QVariant GridModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation == Qt::Vertical) {
        if (role == Qt::DisplayRole) return QString::number(section + 1);
        if (role == Qt::TextAlignmentRole) return static_cast<int>(Qt::AlignVCenter | Qt::AlignRight);
        return {};
    }
    if (source_ == nullptr || !source_->result() || section >= columnCount()) return {};
    const auto& column = source_->result()->columns()[static_cast<std::size_t>(section)];
    switch (role) {
        case Qt::DisplayRole: return toQt(column.name);
        case TypeNameRole: return toQt(column.typeName);
        case KeyMarkRole: {
            const ColumnFacts::Fact& fact = look_->facts().of(section);
            return fact.isPrimaryKey ? QStringLiteral("⚷") : fact.key != nullptr ? QStringLiteral("→") : QString();
        }
        case Qt::TextAlignmentRole:
            return static_cast<int>(Qt::AlignVCenter | (isRightAligned(section) ? Qt::AlignRight : Qt::AlignLeft));
        case Qt::ToolTipRole: {
            QString tip = toQt(column.name);
            if (!column.typeName.empty()) tip += QStringLiteral("\n") + toQt(column.typeName);
            if (!column.originTable.empty())
                tip += tr("\nfrom %1")
                           .arg(toQt(column.originSchema.empty() ? column.originTable
                                                                 : column.originSchema + "." + column.originTable)) +
                       QLatin1Char('.') + toQt(column.originColumn);
            const ColumnFacts::Fact& fact = look_->facts().of(section);
            if (fact.isPrimaryKey) tip += tr("\nin the primary key");
            if (fact.target != nullptr) tip += tr("\npoints at %1").arg(toQt(fact.target->name));
            return tip + tr("\nClick to order by it; with Shift as a further key");
        }
        case SortRole: {
            const auto& order = source_->viewRequest().order;
            for (std::size_t i = 0; i < order.size(); ++i) {
                if (order[i].column != static_cast<std::size_t>(section)) continue;
                const QString arrow = order[i].isDescending ? QStringLiteral("↓") : QStringLiteral("↑");
                return order.size() > 1 ? arrow + QString::number(i + 1) : arrow;
            }
            return {};
        }
        default: return {};
    }
}

}  // namespace pantry::app

#include "moc_grid_model.cpp"
