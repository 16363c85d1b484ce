#include "app/result/column_menu.h"

#include <algorithm>

#include "app/base/text.h"
#include "app/look/widgets.h"
#include "app/result/result_names.h"
#include "app/result/rule_colours.h"
#include "core/sql/write/key_queries.h"

namespace pantry::app {
namespace {

QString wordsOf(data::CellForm form) {
    switch (form) {
        case data::CellForm::AsSent: return ColumnMenu::tr("As sent");
        case data::CellForm::Rounded: return ColumnMenu::tr("Rounded");
        case data::CellForm::Thousands: return ColumnMenu::tr("Thousands apart: 8 412.5");
        case data::CellForm::Percent: return ColumnMenu::tr("Per cent: 0.25 as 25 %");
        case data::CellForm::Bytes: return ColumnMenu::tr("Bytes: 1.1 MB");
        case data::CellForm::Duration: return ColumnMenu::tr("Seconds as 1:02:05");
        case data::CellForm::Day: return ColumnMenu::tr("The day alone");
        case data::CellForm::DayInWords: return ColumnMenu::tr("17 November 2026");
        case data::CellForm::Minutes: return ColumnMenu::tr("Without seconds");
        case data::CellForm::CompactJson: return ColumnMenu::tr("JSON on one line");
    }
    return {};
}

constexpr std::size_t kMaxChosen = 50;  // values of a rule

}  // namespace

ColumnMenu::ColumnMenu(GridModel* model, GridView* grid, int column, QWidget* parent)
    : QMenu(parent), model_(model), grid_(grid), column_(column) {
    name(this, resultName::kColumnMenu,
         tr("Column %1").arg(model->headerData(column, Qt::Horizontal, Qt::DisplayRole).toString()));
    addOrder();
    connect(addAction(tr("Show or colour rows where…")), &QAction::triggered, this,
            [this] { Q_EMIT filterWanted(column_); });
    addSeparator();
    connect(addAction(tr("Hide")), &QAction::triggered, grid_, [grid, column] { grid->hideColumn(column, true); });
    connect(addAction(tr("Freeze columns up to here")), &QAction::triggered, grid_,
            [grid, column] { grid->freezeUpTo(column); });
    if (model->look()->choices().frozen > 0) {
        connect(addAction(tr("Unfreeze")), &QAction::triggered, grid_, [grid] { grid->freezeUpTo(-1); });
    }
    connect(addAction(tr("As wide as its values")), &QAction::triggered, grid_,
            [grid, column] { grid->fitColumn(column); });
    addSeparator();
    addForms();
    addColours();
    addLabels();
}

void ColumnMenu::addOrder() {
    const auto add = [this](const QString& text, bool isDescending, bool adds) {
        connect(addAction(text), &QAction::triggered, this,
                [this, isDescending, adds] { Q_EMIT sortWanted(column_, isDescending, adds); });
    };
    add(tr("Order by it, smallest first"), false, false);
    add(tr("Order by it, largest first"), true, false);
    if (model_->source() != nullptr && !model_->source()->viewRequest().order.empty()) {
        add(tr("Then by it, smallest first"), false, true);
        add(tr("Then by it, largest first"), true, true);
        QAction* nulls = addAction(tr("Nulls first"));
        nulls->setCheckable(true);
        nulls->setChecked(model_->source()->viewRequest().areNullsFirst);
        connect(nulls, &QAction::toggled, this, &ColumnMenu::nullsFirstWanted);
    }
    addSeparator();
}

void ColumnMenu::change(const std::function<void(data::GridChoices&)>& change) {
    data::GridChoices choices = model_->look()->choices();
    change(choices);
    Q_EMIT choicesChanged(choices);
}

void ColumnMenu::changeFormat(const data::CellFormat& format) {
    change([this, format](data::GridChoices& choices) {
        choices.columns[model_->look()->keyOf(column_)].format = format;
    });
}

void ColumnMenu::addForms() {
    const data::ColumnType type = model_->source()->result()->columns()[static_cast<std::size_t>(column_)].type;
    const auto forms = data::formsFor(type);
    if (forms.size() < 2) return;
    const data::CellFormat now = model_->look()->choiceOf(column_).format;
    QMenu* menu = addMenu(tr("Show as"));
    menu->setObjectName(QStringLiteral("columnForms"));
    for (const data::CellForm form : forms) {
        if (form == data::CellForm::Rounded) continue;  // by its decimals, below
        QAction* action = menu->addAction(wordsOf(form));
        action->setCheckable(true);
        action->setChecked(now.form == form);
        connect(action, &QAction::triggered, this, [this, form, now] { changeFormat({form, now.decimals}); });
    }
    const bool hasDecimals = std::ranges::find(forms, data::CellForm::Rounded) != forms.end();
    if (!hasDecimals) return;
    menu->addSeparator();
    for (const int decimals : {0, 1, 2, 3, 4}) {
        QAction* action = menu->addAction(decimals == 0 ? tr("Whole numbers") : tr("%n decimals", nullptr, decimals));
        action->setCheckable(true);
        action->setChecked(now.decimals == decimals);
        connect(action, &QAction::triggered, this, [this, decimals, now] {
            changeFormat({now.form == data::CellForm::AsSent ? data::CellForm::Rounded : now.form, decimals});
        });
    }
}

void ColumnMenu::addRule(data::ColourRule rule) {
    change([&](data::GridChoices& choices) {
        if (rule.isScale)
            std::erase_if(choices.rules, [&](const auto& r) { return r.column == rule.column && r.isScale; });
        choices.rules.push_back(rule);
    });
    if (rule.isScale) Q_EMIT rangeWanted(column_);
}

/// A rule is made from the cell that has the focus: above, below, or the same.
void ColumnMenu::addColours() {
    QMenu* menu = addMenu(tr("Colour"));
    menu->setObjectName(QStringLiteral("columnColours"));
    const std::string key = model_->look()->keyOf(column_);
    const int row = grid_->currentIndex().isValid() ? grid_->currentIndex().row() : 0;
    const data::Cell cell = row < model_->rowCount() ? model_->cell(row, column_) : data::Cell{};
    const data::Column& column = model_->source()->result()->columns()[static_cast<std::size_t>(column_)];
    const bool isMeasured = data::valueOrderOf(column) == data::ValueOrder::Number ||
                            cell.kind == data::CellKind::Integer || cell.kind == data::CellKind::Real;
    const auto offer = [&](const QString& text, data::Test test, const std::vector<std::string>& values, bool isScale) {
        QMenu* colours = menu->addMenu(text);
        for (const char* colour : kRuleColours) {
            connect(colours->addAction(colourSpot(colour), QLatin1String(colour)), &QAction::triggered, this,
                    [this, rule = data::ColourRule{key, test, values, colour, isScale}] { addRule(rule); });
        }
    };
    if (!cell.isNull()) {
        const std::string value = data::toText(cell);
        const QString shown = toQt(value).left(24);
        offer(tr("Where it is %1").arg(shown), data::Test::Equals, {value}, false);
        offer(tr("From %1 on").arg(shown), data::Test::AtLeast, {value}, false);
        offer(tr("Up to %1").arg(shown), data::Test::AtMost, {value}, false);
    }
    std::vector<std::string> chosen;
    for (const int selected : grid_->chosenRows(kMaxChosen)) {
        const data::Cell one = model_->cell(selected, column_);
        if (!one.isNull()) chosen.push_back(data::toText(one));
    }
    if (chosen.size() > 1)
        offer(tr("Where it is one of the %1 chosen").arg(chosen.size()), data::Test::OneOf, chosen, false);
    if (isMeasured) offer(tr("By its size"), data::Test::Equals, {}, true);
    const auto& rules = model_->look()->choices().rules;
    if (std::ranges::any_of(rules, [&](const data::ColourRule& rule) { return rule.column == key; })) {
        menu->addSeparator();
        connect(menu->addAction(tr("No colours")), &QAction::triggered, this, [this, key] {
            change([&](data::GridChoices& choices) {
                std::erase_if(choices.rules, [&](const data::ColourRule& rule) { return rule.column == key; });
            });
        });
    }
}

/// Of a key: which column of the other table names its rows.
void ColumnMenu::addLabels() {
    const ColumnFacts::Fact& fact = model_->look()->facts().of(column_);
    if (fact.target == nullptr) return;
    QMenu* menu = addMenu(tr("Name the row of %1 by").arg(toQt(fact.target->name)));
    const std::string now = model_->look()->choiceOf(column_).labelColumn;
    const auto offer = [&](const QString& text, const std::string& value) {
        QAction* action = menu->addAction(text);
        action->setCheckable(true);
        action->setChecked(now == value);
        connect(action, &QAction::triggered, this, [this, value] {
            change([&](data::GridChoices& choices) {
                choices.columns[model_->look()->keyOf(column_)].labelColumn = value;
            });
        });
    };
    const std::string usual = sql::labelColumnOf(*fact.target);
    offer(usual.empty() ? tr("what is found by itself") : tr("what is found by itself: %1").arg(toQt(usual)), {});
    for (const catalog::Column& column : fact.target->columns) offer(toQt(column.name), column.name);
    offer(tr("nothing"), "-");
}

}  // namespace pantry::app

#include "moc_column_menu.cpp"
