#include "app/result/result_look.h"

#include <algorithm>
#include <cmath>

#include "app/base/text.h"
#include "app/look/theme.h"
#include "core/data/view/decimal.h"
#include "core/exchange/table_text.h"

namespace pantry::app {
namespace {

constexpr std::size_t kCellBytes = 400;  // of one cell; the close-up shows the rest

}  // namespace

void ResultLook::setColumns(const std::vector<data::Column>& columns) {
    if (columns == columns_) return;  // other rows of the same: what is known of them stays
    columns_ = columns;
    keys_.clear();
    for (const data::Column& column : columns) {
        std::string key = column.name;
        for (int n = 2; std::ranges::find(keys_, key) != keys_.end(); ++n) {
            key = column.name + " #" + std::to_string(n);
        }
        keys_.push_back(std::move(key));
    }
    labels_.clear();
    ranges_.clear();
    facts_ = {};
    compileRules();
}

void ResultLook::forget() {
    columns_.clear();
    keys_.clear();
    labels_.clear();
    ranges_.clear();
    facts_ = {};
    choices_ = {};
    rules_.clear();
}

void ResultLook::setChoices(const data::GridChoices& choices) {
    choices_ = choices;
    compileRules();
    Q_EMIT changed();
}

void ResultLook::setFacts(ColumnFacts facts) {
    facts_ = std::move(facts);
    Q_EMIT changed();
}

int ResultLook::columnOf(const std::string& key) const {
    const auto found = std::ranges::find(keys_, key);
    return found == keys_.end() ? -1 : static_cast<int>(found - keys_.begin());
}

data::ColumnChoice ResultLook::choiceOf(int column) const {
    const auto found = choices_.columns.find(keyOf(column));
    return found == choices_.columns.end() ? data::ColumnChoice{} : found->second;
}

void ResultLook::compileRules() {
    rules_.assign(columns_.size(), {});
    for (const data::ColourRule& rule : choices_.rules) {
        const int column = columnOf(rule.column);
        if (column < 0) continue;
        const data::Condition condition{
            .column = static_cast<std::size_t>(column), .test = rule.test, .values = rule.values};
        Rule compiled{.holds = {}, .colour = rule.colour, .isScale = rule.isScale};
        if (!rule.isScale) {
            if (!data::checkCondition(condition, columns_)) continue;
            compiled.holds = data::cellTest(condition, columns_[static_cast<std::size_t>(column)], base::now());
            if (!compiled.holds) continue;
        }
        rules_[static_cast<std::size_t>(column)].push_back(std::move(compiled));
    }
}

QString ResultLook::text(const data::Cell& cell, int column) const {
    const data::CellFormat format = choiceOf(column).format;
    if (format.form != data::CellForm::AsSent) {
        if (const auto shown = data::formatted(cell, format)) return toQt(*shown);
    }
    return toQt(exchange::displayText(cell, kCellBytes));
}

QColor ResultLook::background(const data::Cell& cell, int column) const {
    constexpr double kFullest = 0.45;  // of a colour below text that must stay readable
    const auto index = static_cast<std::size_t>(column);
    if (index >= rules_.size() || rules_[index].empty() || cell.isNull()) return {};
    for (const Rule& rule : rules_[index]) {
        QColor colour = Theme::current().connectionColour(rule.colour);
        if (!rule.isScale) {
            if (!rule.holds(cell)) continue;
            colour.setAlphaF(0.34F);
            return colour;
        }
        const Range range = ranges_.value(column);
        const auto number = cell.kind == data::CellKind::Integer ? std::optional(static_cast<double>(cell.integer))
                            : cell.kind == data::CellKind::Real  ? std::optional(cell.real)
                                                                 : data::doubleIn(cell.bytes);
        if (!number || range.high <= range.low) continue;
        const double share = std::clamp((*number - range.low) / (range.high - range.low), 0.0, 1.0);
        colour.setAlphaF(static_cast<float>(kFullest * share));
        return colour;
    }
    return {};
}

QString ResultLook::label(const data::Cell& cell, int column) const {
    const auto found = labels_.constFind(column);
    if (found == labels_.constEnd() || cell.isNull()) return {};
    return found->value(QByteArray::fromStdString(data::toText(cell)));
}

void ResultLook::setLabels(int column, QHash<QByteArray, QString> labels) {
    labels_[column] = std::move(labels);
    Q_EMIT changed();
}

void ResultLook::setRange(int column, double low, double high) {
    ranges_[column] = {low, high};
    Q_EMIT changed();
}

}  // namespace pantry::app

#include "moc_result_look.cpp"
