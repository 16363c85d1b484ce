#include "app/pages/table/design_models.h"

#include <QColor>
#include <QFont>
#include <algorithm>

#include "app/base/text.h"
#include "app/look/theme.h"

namespace pantry::app {
namespace {

QFont codeFont() {
    QFont font(QStringLiteral("Hack"));
    font.setPixelSize(Theme::px(12));
    return font;
}

bool isTick(int field) {
    return field == ColumnsModel::Null || field == ColumnsModel::Counts || field == ColumnsModel::Key;
}

}  // namespace

ColumnsModel::ColumnsModel(sql::TableDesign& design, sql::Dialect dialect, QObject* parent)
    : QAbstractTableModel(parent), design_(design), dialect_(dialect) {}

void ColumnsModel::noteReset() {
    beginResetModel();
    endResetModel();
}

void ColumnsModel::setProblems(std::map<std::size_t, QString> problems) {
    if (problems == problems_) return;
    problems_ = std::move(problems);
    Q_EMIT dataChanged(index(0, 0), index(rowCount() - 1, kFields - 1), {Qt::ForegroundRole, Qt::ToolTipRole});
}

void ColumnsModel::removeColumn(int row) {
    if (row < 0 || isLast(row)) return;
    beginRemoveRows({}, row, row);
    design_.removeColumn(static_cast<std::size_t>(row), dialect_);
    endRemoveRows();
    Q_EMIT edited();
}

bool ColumnsModel::moveColumn(int row, int by) {
    const int to = row + by;
    if (row < 0 || isLast(row) || to < 0 || isLast(to)) return false;
    beginMoveRows({}, row, row, {}, by > 0 ? to + 1 : to);
    std::swap(design_.columns[static_cast<std::size_t>(row)], design_.columns[static_cast<std::size_t>(to)]);
    endMoveRows();
    Q_EMIT edited();
    return true;
}

int ColumnsModel::paste(const QString& lines, int row) {
    std::vector<std::string> key;
    std::vector<sql::ColumnDesign> columns = sql::columnsFromLines(fromQt(lines), dialect_, &key);
    if (columns.empty()) return 0;
    beginResetModel();
    const auto at = std::clamp<std::size_t>(static_cast<std::size_t>(std::max(row, 0)), 0, design_.columns.size());
    design_.columns.insert(design_.columns.begin() + static_cast<std::ptrdiff_t>(at), columns.begin(), columns.end());
    if (design_.primaryKey.columns.empty()) design_.primaryKey.columns = key;
    endResetModel();
    Q_EMIT edited();
    return static_cast<int>(columns.size());
}

bool ColumnsModel::hasField(Field field) const {
    if (field == Comment) return dialect_ == sql::Dialect::Postgres || dialect_ == sql::Dialect::MySql;
    return true;
}

int ColumnsModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(design_.columns.size()) + 1;
}
int ColumnsModel::columnCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : kFields; }

QString ColumnsModel::textOf(std::size_t column, Field field) const {
    const catalog::Column& one = design_.columns[column].column;
    switch (field) {
        case Name: return toQt(one.name);
        case Type: return toQt(one.typeName);
        case Default: return toQt(one.defaultValue.value_or(""));
        case Generated: return toQt(one.generation);
        case Comment: return toQt(one.comment);
        default: return {};
    }
}

bool ColumnsModel::isTicked(std::size_t column, Field field) const {
    const catalog::Column& one = design_.columns[column].column;
    const auto& key = design_.primaryKey.columns;
    if (field == Null) return one.isNullable;
    if (field == Counts) return one.identity != catalog::Identity::None;
    return field == Key && std::ranges::find(key, one.name) != key.end();
}

QVariant ColumnsModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid()) return {};
    const auto field = static_cast<Field>(index.column());
    if (role == Qt::FontRole && !isTick(field)) return codeFont();
    if (isLast(index.row())) {
        if (role == Qt::DisplayRole && field == Name) return isNextTaken_ ? QString() : tr("next column…");
        return role == Qt::ForegroundRole ? QVariant(Theme::current().colour("quiet")) : QVariant();
    }
    const auto column = static_cast<std::size_t>(index.row());
    const auto problem = problems_.find(column);
    switch (role) {
        case Qt::DisplayRole:
        case Qt::EditRole: return isTick(field) ? QVariant() : QVariant(textOf(column, field));
        case Qt::CheckStateRole:
            return isTick(field) ? QVariant(isTicked(column, field) ? Qt::Checked : Qt::Unchecked) : QVariant();
        case Qt::ForegroundRole:
            if (problem != problems_.end() && field == Name) return Theme::current().colour("tomato");
            return Theme::current().colour(field == Type ? "juniper" : field == Default ? "cocoa" : "ink");
        case Qt::ToolTipRole: return problem != problems_.end() ? problem->second : QVariant();
        default: return {};
    }
}

void ColumnsModel::setText(std::size_t column, Field field, const std::string& text) {
    catalog::Column& one = design_.columns[column].column;
    switch (field) {
        case Name: return design_.renameColumn(column, text, dialect_);
        case Type: one.typeName = text; return;
        case Default: one.defaultValue = text.empty() ? std::nullopt : std::optional(text); return;
        case Generated:
            one.generation = text;
            one.isGenerated = !text.empty();
            if (one.isGenerated && design_.columns[column].was.empty())
                one.isStored = dialect_ == sql::Dialect::Postgres;
            return;
        case Comment: one.comment = text; return;
        default: return;
    }
}

void ColumnsModel::tick(std::size_t column, Field field, bool isOn) {
    catalog::Column& one = design_.columns[column].column;
    auto& key = design_.primaryKey.columns;
    if (field == Null) one.isNullable = isOn;
    if (field == Counts) one.identity = isOn ? catalog::Identity::ByDefault : catalog::Identity::None;
    if (field != Key) return;
    if (isOn) {
        key.push_back(one.name);
        one.isNullable = false;
    } else {
        std::erase(key, one.name);
    }
}

bool ColumnsModel::setData(const QModelIndex& index, const QVariant& value, int role) {
    if (!index.isValid()) return false;
    const auto field = static_cast<Field>(index.column());
    const auto column = static_cast<std::size_t>(index.row());
    if (isLast(index.row())) {
        const std::string text = fromQt(value.toString().trimmed());
        if (role != Qt::EditRole || text.empty()) return false;
        isNextTaken_ = true;  // the line becomes the column, and another is the next
        Q_EMIT dataChanged(this->index(index.row(), 0), this->index(index.row(), kFields - 1));
        beginInsertRows({}, index.row() + 1, index.row() + 1);
        design_.columns.push_back(
            {{.name = {}, .typeName = dialect_ == sql::Dialect::MySql ? "varchar(200)" : "text"}, {}});
        isNextTaken_ = false;
        endInsertRows();
        setText(column, field, text);
    } else if (role == Qt::CheckStateRole && isTick(field)) {
        tick(column, field, value.toInt() == Qt::Checked);
    } else if (role == Qt::EditRole && !isTick(field)) {
        const std::string text = fromQt(value.toString().trimmed());
        if (toQt(text) == textOf(column, field)) return false;
        setText(column, field, text);
    } else {
        return false;
    }
    Q_EMIT dataChanged(this->index(index.row(), 0), this->index(index.row(), kFields - 1));
    Q_EMIT edited();
    return true;
}

QVariant ColumnsModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation == Qt::Vertical) return role == Qt::DisplayRole ? QVariant(section + 1) : QVariant();
    if (role == Qt::TextAlignmentRole) return int(Qt::AlignLeft | Qt::AlignVCenter);
    const QString titles[] = {tr("Column"),    tr("Type"), tr("Null"),         tr("Default"),
                              tr("Counts up"), tr("Key"),  tr("Generated as"), tr("Comment")};
    const QString tips[] = {tr("Its name"),
                            tr("Any type of the engine; the usual ones are offered"),
                            tr("May be NULL"),
                            tr("An expression for rows that say nothing of it"),
                            tr("The engine counts its values"),
                            tr("In the primary key"),
                            tr("An expression from which the engine works it out"),
                            tr("What others should know of it")};
    if (role == Qt::DisplayRole) return titles[section];
    return role == Qt::ToolTipRole ? QVariant(tips[section]) : QVariant();
}

Qt::ItemFlags ColumnsModel::flags(const QModelIndex& index) const {
    if (!index.isValid()) return Qt::NoItemFlags;
    const Qt::ItemFlags usual = Qt::ItemIsEnabled | Qt::ItemIsSelectable;
    if (isLast(index.row())) return index.column() == Name ? usual | Qt::ItemIsEditable : usual;
    return usual | (isTick(index.column()) ? Qt::ItemIsUserCheckable : Qt::ItemIsEditable);
}

RulesModel::RulesModel(sql::TableDesign& design, sql::Dialect dialect, QObject* parent)
    : QAbstractTableModel(parent), design_(design), dialect_(dialect), rules_(sql::rulesOf(design)) {}

void RulesModel::noteReset() {
    beginResetModel();
    rules_ = sql::rulesOf(design_);
    endResetModel();
}

void RulesModel::setProblems(std::map<std::pair<int, std::size_t>, QString> problems) {
    if (problems == problems_) return;
    problems_ = std::move(problems);
    if (!rules_.empty()) Q_EMIT dataChanged(index(0, 0), index(rowCount() - 1, kFields - 1));
}

int RulesModel::add(sql::DesignRule::Kind kind, const std::vector<std::string>& columns) {
    const sql::DesignRule added = sql::addRule(design_, kind, columns);
    noteReset();
    Q_EMIT edited();
    for (std::size_t i = 0; i < rules_.size(); ++i) {
        if (rules_[i].kind == added.kind && rules_[i].number == added.number) return static_cast<int>(i);
    }
    return rowCount() - 1;
}

void RulesModel::remove(int row) {
    const auto rule = ruleAt(row);
    if (!rule) return;
    sql::removeRule(design_, *rule);
    noteReset();
    Q_EMIT edited();
}

std::optional<sql::DesignRule> RulesModel::ruleAt(int row) const {
    if (row < 0 || row >= rowCount()) return std::nullopt;
    return rules_[static_cast<std::size_t>(row)];
}

int RulesModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rules_.size());
}
int RulesModel::columnCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : kFields; }

QVariant RulesModel::data(const QModelIndex& index, int role) const {
    const auto rule = ruleAt(index.row());
    if (!rule) return {};
    const auto problem = problems_.find({static_cast<int>(rule->kind), rule->number});
    switch (role) {
        case Qt::FontRole: return codeFont();
        case Qt::ForegroundRole:
            if (problem != problems_.end() && index.column() == Columns) return Theme::current().colour("tomato");
            return Theme::current().colour(index.column() == Kind ? "quiet" : "ink");
        case Qt::ToolTipRole: return problem != problems_.end() ? problem->second : QVariant();
        case Qt::DisplayRole:
        case Qt::EditRole: break;
        default: return {};
    }
    if (index.column() == Kind) return toQt(sql::ruleLabel(rule->kind));
    return toQt(sql::ruleText(design_, *rule, static_cast<sql::DesignRule::Field>(index.column() - 1), dialect_));
}

bool RulesModel::setData(const QModelIndex& index, const QVariant& value, int role) {
    const auto rule = ruleAt(index.row());
    if (!rule || role != Qt::EditRole || index.column() == Kind) return false;
    if (value.toString() == data(index, Qt::EditRole).toString()) return false;
    sql::setRuleText(design_, *rule, static_cast<sql::DesignRule::Field>(index.column() - 1), fromQt(value.toString()),
                     dialect_);
    Q_EMIT dataChanged(this->index(index.row(), 0), this->index(index.row(), kFields - 1));
    Q_EMIT edited();
    return true;
}

QVariant RulesModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation == Qt::Vertical) return role == Qt::DisplayRole ? QVariant(section + 1) : QVariant();
    if (role == Qt::TextAlignmentRole) return int(Qt::AlignLeft | Qt::AlignVCenter);
    const QString titles[] = {tr("Rule"), tr("Name"), tr("Columns or condition"), tr("Refers to, or only where"),
                              tr("On delete, or method")};
    return role == Qt::DisplayRole ? QVariant(titles[section]) : QVariant();
}

Qt::ItemFlags RulesModel::flags(const QModelIndex& index) const {
    const auto rule = ruleAt(index.row());
    if (!rule) return Qt::NoItemFlags;
    const Qt::ItemFlags usual = Qt::ItemIsEnabled | Qt::ItemIsSelectable;
    if (index.column() == Kind) return usual;
    const auto field = static_cast<sql::DesignRule::Field>(index.column() - 1);
    return sql::hasField(rule->kind, field, dialect_) ? usual | Qt::ItemIsEditable : usual;
}

}  // namespace pantry::app

#include "moc_design_models.cpp"
