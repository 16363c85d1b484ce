#include "app/pages/object/rows_view.h"

#include <QHBoxLayout>
#include <QVBoxLayout>
#include <algorithm>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/db/engine_traits.h"

namespace pantry::app {

RowsView::RowsView(Desk& desk, ObjectPlace place, QWidget* parent)
    : QWidget(parent),
      desk_(desk),
      place_(std::move(place)),
      conditions_(new QVBoxLayout),
      order_(new QComboBox(this)),
      descending_(new QCheckBox(tr("descending"), this)),
      show_(makeButton(tr("Show"), "main", objectName::kRowsShow, tr("Ask the server for these rows"), this)),
      stop_(makeButton(tr("Stop"), "", objectName::kRowsStop, tr("Stop reading"), this)),
      problem_(makeLabel({}, "bad", this)),
      code_(new CodeText(120, this)),
      pane_(new ResultPane(desk, this)),
      runs_(new PlaceRuns(desk, {.connection = fromQt(place_.connectionId), .database = place_.database},
                          tr("Rows of %1").arg(toQt(place_.object.name)), this)) {
    name(this, objectName::kRowsView, tr("Rows of %1").arg(toQt(place_.object.name)));
    name(order_, objectName::kRowsOrder, tr("Order by"));
    name(descending_, "rowsDescending", tr("The largest first"));
    name(code_, objectName::kRowsStatement, tr("The statement that reads them"));
    if (const db::ConnectionProfile* p = desk_.connections().profile(fromQt(place_.connectionId))) {
        dialect_ = db::dialectOf(p->engine);
    }
    conditions_->setSpacing(4);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(26, 6, 26, 10);
    layout->setSpacing(6);
    layout->addLayout(conditions_);
    layout->addWidget(makeTools());
    layout->addWidget(problem_);
    layout->addWidget(code_);
    layout->addWidget(pane_, 1);
    problem_->hide();
    stop_->hide();
    connect(show_, &QPushButton::clicked, this, &RowsView::run);
    connect(stop_, &QPushButton::clicked, this, [this] { runs_->stop(); });
    connect(order_, &QComboBox::activated, this, &RowsView::run);
    connect(descending_, &QCheckBox::clicked, this, &RowsView::run);
    connect(runs_, &PlaceRuns::currentChanged, pane_, &ResultPane::setSource);
    connect(runs_, &PlaceRuns::runningChanged, this, [this] { stop_->setVisible(runs_->isRunning()); });
    // What the grid would have in a sheet (its order asked of the server) is run here.
    connect(pane_, &ResultPane::statementWanted, this, [this](const QString& statement) {
        statement_ = fromQt(statement);
        code_->show(base::SharedText(statement_), dialect_);
        runs_->show(statement_);
    });
    pane_->setOrdersElsewhere();
    connect(pane_, &ResultPane::orderWanted, this, &RowsView::orderBy);
    connect(pane_, &ResultPane::sheetWanted, this,
            [this](const QString& title, const QString& text) { Q_EMIT sheetRequested(place_, title, text); });
}

const catalog::Relation* RowsView::relation() const {
    catalog_ = desk_.catalogs().state(fromQt(place_.connectionId), place_.database).catalog;
    return catalog_ ? catalog_->find(place_.object.schema, place_.object.name) : nullptr;
}

QWidget* RowsView::makeTools() {
    auto* tools = new QWidget(this);
    auto* row = new QHBoxLayout(tools);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    auto* add = makeButton(tr("+ condition"), "link", objectName::kRowsAddCondition, tr("Add a condition"), tools);
    auto* sheet = makeButton(tr("Into a sheet"), "", "rowsSheet", tr("Open the statement in a new sheet"), tools);
    connect(add, &QPushButton::clicked, this, &RowsView::addCondition);
    connect(sheet, &QPushButton::clicked, this, [this] {
        Q_EMIT sheetRequested(place_, toQt(place_.object.name), toQt(statement_) + QStringLiteral(";\n"));
    });
    row->addWidget(add);
    row->addSpacing(10);
    row->addWidget(makeLabel(tr("in order of"), "quiet", tools));
    row->addWidget(order_);
    row->addWidget(descending_);
    row->addStretch();
    row->addWidget(stop_);
    row->addWidget(show_);
    row->addWidget(sheet);
    return tools;
}

void RowsView::open() {
    if (isOpen_) return;
    const catalog::Relation* there = relation();
    if (there == nullptr) return;
    isOpen_ = true;
    fillColumns(*there);
    run();
}

void RowsView::fillColumns(const catalog::Relation& there) {
    order_->clear();
    order_->addItem(tr("as it comes"), QString());
    for (const catalog::Column& column : there.columns) order_->addItem(toQt(column.name), toQt(column.name));
}

void RowsView::addCondition() {
    const catalog::Relation* there = relation();
    if (there == nullptr) return;
    auto* frame = new QWidget(this);
    Line line{
        .frame = frame, .column = new QComboBox(frame), .compare = new QComboBox(frame), .value = new QLineEdit(frame)};
    name(line.column, objectName::kRowsColumn, tr("Column"));
    name(line.compare, objectName::kRowsCompare, tr("How it is compared"));
    name(line.value, objectName::kRowsValue, tr("With what"));
    auto* remove = makeButton(QStringLiteral("×"), "link", "rowsRemoveCondition", tr("Remove this condition"), frame);
    auto* row = new QHBoxLayout(frame);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    row->addWidget(line.column);
    row->addWidget(line.compare);
    line.value->setMaximumWidth(Theme::px(320));
    row->addWidget(line.value, 1);
    row->addWidget(remove);
    row->addStretch();
    for (const catalog::Column& column : there->columns) line.column->addItem(toQt(column.name), toQt(column.typeName));
    fillCompares(line);
    connect(line.column, &QComboBox::currentIndexChanged, this, [this, line] {
        fillCompares(line);
        write();
    });
    connect(line.compare, &QComboBox::currentIndexChanged, this, [this, line] {
        line.value->setVisible(line.compare->currentData().toInt() < int(sql::Compare::IsNull));
        write();
    });
    connect(line.value, &QLineEdit::textChanged, this, &RowsView::write);
    connect(line.value, &QLineEdit::returnPressed, this, &RowsView::run);
    connect(remove, &QPushButton::clicked, this, [this, frame] { removeCondition(frame); });
    lines_.push_back(line);
    conditions_->addWidget(frame);
    line.column->setFocus();
    write();
}

/// Comparisons that make sense for the column's type.
void RowsView::fillCompares(const Line& line) {
    const QSignalBlocker blocker(line.compare);
    line.compare->clear();
    const std::string type = fromQt(line.column->currentData().toString());
    for (const sql::CompareEntry& entry : sql::compareEntries()) {
        if (sql::fitsType(entry.compare, type)) line.compare->addItem(toQt(entry.label), int(entry.compare));
    }
    line.value->setPlaceholderText(toQt(type));
}

void RowsView::removeCondition(QWidget* frame) {
    std::erase_if(lines_, [frame](const Line& line) { return line.frame == frame; });
    frame->hide();
    frame->deleteLater();
    run();
}

sql::TableWish RowsView::wish() const {
    sql::TableWish wish{.conditions = {},
                        .orderBy = fromQt(order_->currentData().toString()),
                        .isDescending = descending_->isChecked()};
    for (const Line& line : lines_) {
        wish.conditions.push_back({.column = fromQt(line.column->currentText()),
                                   .compare = static_cast<sql::Compare>(line.compare->currentData().toInt()),
                                   .value = fromQt(line.value->text())});
    }
    return wish;
}

/// The statement as it would be; what is no value of its column's type is said.
void RowsView::write() {
    const catalog::Relation* there = relation();
    if (there == nullptr) return;
    const auto query = sql::tableQuery(*there, wish(), catalog::View(catalog_), dialect_);
    problem_->setVisible(!query);
    show_->setEnabled(query.has_value());
    if (!query) return problem_->setText(toQt(query.error().message));
    statement_ = *query;
    code_->show(base::SharedText(statement_), dialect_);
}

/// A click on a heading: up, down, then as it comes again. The server puts all rows in order, not only those here.
void RowsView::orderBy(int column, std::optional<bool> isDescending) {
    const ResultSource* source = pane_->source();
    if (source == nullptr || !source->result()) return;
    const QString wanted = toQt(source->result()->columns()[static_cast<std::size_t>(column)].name);
    const bool isThere = order_->currentData().toString() == wanted;
    const bool isOver = isThere && descending_->isChecked() && !isDescending;
    descending_->setChecked(isDescending.value_or(isThere && !isOver));
    order_->setCurrentIndex(isOver ? 0 : std::max(0, order_->findData(wanted)));
    run();
}

void RowsView::run() {
    write();
    if (show_->isEnabled()) runs_->show(statement_);
}

}  // namespace pantry::app

#include "moc_rows_view.cpp"
