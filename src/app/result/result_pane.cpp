#include "app/result/result_pane.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QMenu>
#include <QScrollBar>
#include <QVBoxLayout>
#include <algorithm>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/command/command.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/result/result_names.h"
#include "core/base/text.h"
#include "core/sql/meaning/plain_reading.h"
#include "core/sql/meaning/read_from.h"
#include "core/sql/text/lexer.h"
#include "core/sql/write/read_queries.h"
#include "core/work/parameter_values.h"

namespace pantry::app {
namespace {

constexpr int kFilterDebounceMs = 250;
constexpr int kProgressMs = 100;
constexpr int kSumDebounceMs = 60;
constexpr int kSmallestText = 6;
constexpr int kLargestText = 40;

/// The columns that are the whole primary key of the one table that keys come from: rows of a join are told apart by
/// more than the key of one of its tables.
std::vector<std::size_t> primaryKeyIn(const GridModel& model) {
    std::vector<std::size_t> key;
    const catalog::Relation* table = nullptr;
    for (int column = 0; column < model.columnCount(); ++column) {
        const ColumnFacts::Fact& fact = model.look()->facts().of(column);
        if (!fact.isPrimaryKey) continue;
        if (table != nullptr && fact.origin != table) return {};
        table = fact.origin;
        key.push_back(static_cast<std::size_t>(column));
    }
    if (table == nullptr) return {};
    const auto wanted = std::ranges::count_if(table->columns, [](const auto& c) { return c.keyPosition > 0; });
    return static_cast<std::size_t>(wanted) == key.size() ? key : std::vector<std::size_t>();
}

}  // namespace

ResultPane::ResultPane(Desk& desk, QWidget* parent)
    : QFrame(parent),
      desk_(desk),
      model_(new GridModel(this)),
      look_(model_->look()),
      labels_(new KeyLabels(desk, model_, look_, this)),
      views_(new QButtonGroup(this)),
      bar_(new ToolRow(this)),
      viewChoice_(makeButton({}, "plain", objectName::kViewChoice, tr("How the result is shown"), this)),
      summary_(new ElidedLabel(this)),
      allRows_(
          makeButton(tr("All rows"), "link", objectName::kAllRowsButton, tr("Read all rows of this result"), this)),
      countAll_(makeButton(tr("Count them"), "link", resultName::kCountAll,
                           tr("Ask the server how many rows there are in all"), this)),
      filter_(new QLineEdit(this)),
      find_(new QLineEdit(this)),
      columns_(makeButton(tr("Columns ▾"), "plain", resultName::kColumnsButton, commandTip("result.columns"), this)),
      copy_(makeButton(tr("Copy ▾"), "plain", objectName::kCopyButton, tr("Copy the selected cells"), this)),
      export_(makeButton(tr("Export…"), "plain", objectName::kExportButton, tr("Write this result to a file"), this)),
      compare_(makeButton(tr("Compare…"), "plain", resultName::kCompareButton, tr("Lay this result beside another one"),
                          this)),
      filterBar_(new FilterBar(this)),
      change_(new ChangeStrip(this)),
      part_(new PartStrip(this)),
      pages_(new QStackedWidget(this)),
      grid_(new GridView(model_, look_, this)),
      record_(new RecordView(model_, this)),
      text_(new TextView(this)),
      profile_(new ProfileView(this)),
      messages_(new MessagesView(this)),
      message_(makeLabel({}, "quiet", this)),
      notices_(makeLabel({}, "notices", this)),
      side_(new ResultSide(
          desk,
          {.selectedRows = [this] { return selectedRange().rows; },
           .shownColumns = [this] { return grid_->columnsAsShown(); },
           .settle = [this] { applyFilterText(); }},
          [this] { return comparable_ ? comparable_() : std::vector<ResultSource*>(); }, this)) {
    name(this, objectName::kResultPane, tr("Result"));
    name(message_, resultName::kResultText, tr("What came of the statement"));
    message_->setAlignment(Qt::AlignCenter);
    message_->setWordWrap(true);
    message_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    message_->setMargin(24);
    makeViewers();
    pages_->addWidget(message_);
    for (const Viewer& one : viewers_) {
        if (pages_->indexOf(one.page) < 0) pages_->addWidget(one.page);
    }
    auto* body = new QHBoxLayout;
    body->setSpacing(0);
    body->addWidget(pages_, 1);
    body->addWidget(side_);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(makeBar());
    layout->addWidget(filterBar_);
    layout->addWidget(change_);
    layout->addWidget(part_);
    layout->addWidget(notices_);
    layout->addLayout(body, 1);
    name(notices_, objectName::kResultNotices, tr("What the server said beside"));
    notices_->setWordWrap(true);
    notices_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    filterTimer_.setSingleShot(true);
    filterTimer_.setInterval(kFilterDebounceMs);
    sumTimer_.setSingleShot(true);
    sumTimer_.setInterval(kSumDebounceMs);
    progressTimer_.setInterval(kProgressMs);
    connect(&progressTimer_, &QTimer::timeout, this, &ResultPane::showProgress);
    connectGrid();
    connectParts();
    applySettings();
    refresh();
}

void ResultPane::connectGrid() {
    grid_->installEventFilter(this);
    connect(grid_, &QWidget::customContextMenuRequested, this, &ResultPane::showCellMenu);
    connect(grid_->horizontalHeader(), &QHeaderView::sectionClicked, this,
            [this](int column) { sortBy(column, QApplication::keyboardModifiers().testFlag(Qt::ShiftModifier)); });
    connect(grid_->selectionModel(), &QItemSelectionModel::currentChanged, this,
            [this](const QModelIndex& current) { Q_EMIT cellFocused(current.row(), current.column()); });
    connect(grid_->selectionModel(), &QItemSelectionModel::selectionChanged, &sumTimer_, qOverload<>(&QTimer::start));
    connect(grid_->verticalScrollBar(), &QScrollBar::valueChanged, this, &ResultPane::fetchWhenNearEnd);
    connect(grid_->verticalScrollBar(), &QScrollBar::valueChanged, this, [this] {
        const int last = grid_->rowAt(grid_->viewport()->height() - 1);
        labels_->noteShown(grid_->rowAt(0), last < 0 ? model_->rowCount() - 1 : last);
    });
    connect(grid_, &GridView::choicesChanged, this, &ResultPane::storeChoices);
    connect(grid_, &GridView::columnMenuWanted, this, &ResultPane::openColumnMenu);
    connect(grid_, &GridView::zoomWanted, this, &ResultPane::zoom);
    connect(look_, &ResultLook::changed, this, [this] {
        if (look_->choices().columns.empty()) grid_->applyChoices();
    });
}

void ResultPane::connectParts() {
    connect(&filterTimer_, &QTimer::timeout, this, &ResultPane::applyFilterText);
    connect(change_, &ChangeStrip::differencesWanted, this, &ResultPane::differencesWanted);
    connect(part_, &PartStrip::allRowsWanted, allRows_, &QPushButton::click);
    connect(part_, &PartStrip::statementWanted, this, &ResultPane::statementWanted);
    connect(&sumTimer_, &QTimer::timeout, this, &ResultPane::sumSelection);
    connect(&sumTimer_, &QTimer::timeout, side_, &ResultSide::noteRows);
    connect(side_, &ResultSide::sheetWanted, this, &ResultPane::sheetWanted);
    connect(side_, &ResultSide::left, this, [this] { pages_->currentWidget()->setFocus(Qt::OtherFocusReason); });
    connect(model_, &QAbstractItemModel::modelReset, this, [this] {
        forgetHits();
        noteNewRows();
        refresh();
        fillView();
        Q_EMIT cellFocused(-1, -1);
    });
    connect(model_, &QAbstractItemModel::rowsInserted, this, [this] {
        forgetHits();
        noteNewRows();
        refresh();
    });
    connect(&desk_, &Desk::catalogChanged, this, [this](const QString& id) {
        if (source() != nullptr && source()->connectionId() == id && look_->facts().catalog() == nullptr)
            refreshFacts();
    });
    connect(&desk_, &Desk::settingsChanged, this, &ResultPane::applySettings);
    connect(filterBar_, &FilterBar::filterChanged, this, &ResultPane::setFilter);
    connect(filterBar_, &FilterBar::conditionChosen, this, &ResultPane::changeCondition);
    connect(profile_, &ProfileView::conditionWanted, this, [this](const data::Condition& condition) {
        changedCondition_ = -1;
        addCondition(condition);
        showView(View::Grid);
    });
    connect(record_, &RecordView::cellFocused, this, &ResultPane::cellFocused);
    connect(record_, &RecordView::rowChosen, this, [this](int row) {
        grid_->setCurrentIndex(model_->index(row, std::max(0, grid_->currentIndex().column())));
    });
    connect(text_, &TextView::remarked, this, &ResultPane::selectionSummed);
}

FilterPanel* ResultPane::filterPanel() {
    if (filterPanel_ != nullptr) return filterPanel_;
    filterPanel_ = new FilterPanel(this);
    connect(filterPanel_, &FilterPanel::accepted, this, &ResultPane::addCondition);
    connect(filterPanel_, &FilterPanel::colourWanted, this, &ResultPane::addColour);
    return filterPanel_;
}

ColumnsPanel* ResultPane::columnsPanel() {
    if (columnsPanel_ != nullptr) return columnsPanel_;
    columnsPanel_ = new ColumnsPanel(this);
    connect(columnsPanel_, &ColumnsPanel::columnChosen, this, [this](int column) {
        showView(View::Grid);
        grid_->goToColumn(column);
    });
    connect(columnsPanel_, &ColumnsPanel::columnShown, this,
            [this](int column, bool isShown) { grid_->hideColumn(column, !isShown); });
    connect(columnsPanel_, &ColumnsPanel::allShown, grid_, &GridView::showAllColumns);
    connect(columnsPanel_, &ColumnsPanel::onlyShown, grid_, &GridView::showOnlyColumn);
    return columnsPanel_;
}

/// What was typed to filter by holds now, also when typing has not rested yet.
void ResultPane::applyFilterText() {
    filterTimer_.stop();
    if (source() == nullptr) return;
    data::ViewRequest request = source()->viewRequest();
    if (request.filterText == fromQt(filter_->text())) return;
    request.filterText = fromQt(filter_->text());
    source()->requestView(request);
    refresh();
}

/// Views at the left, then what the result holds and the way to more of it, at the right what works on the rows.
QWidget* ResultPane::makeBar() {
    bar_->setProperty("look", "panel");
    constexpr int kBarHeight = 28;  // the rows are what there should be room for
    Theme::fit(this, [this] { bar_->setFixedHeight(Theme::px(kBarHeight)); });
    addViews();
    name(summary_, objectName::kResultSummary, tr("What this result holds"));
    summary_->setProperty("look", "quiet");
    summary_->setTextFormat(Qt::PlainText);
    summary_->setContentsMargins(8, 0, 0, 0);
    bar_->addElastic(summary_);
    bar_->add(allRows_);
    bar_->add(countAll_);
    connect(allRows_, &QPushButton::clicked, this, [this] {
        if (source() == nullptr) return;
        grid_->setFocus();  // the button is about to go
        source()->fetchAll();
    });
    connect(countAll_, &QPushButton::clicked, this, [this] {
        grid_->setFocus();
        countAll();
    });
    bar_->addStretch();
    addTools();
    return bar_;
}

/// A new way to look at a result is an entry here, and one in View at the same place.
void ResultPane::makeViewers() {
    const auto textAs = [this](TextView::Form form) {
        return [this, form](const ResultSource& c) { text_->show(*c.view(), shownColumns(), form); };
    };
    constexpr int kMaxRecords = 12;
    viewers_ = {
        {resultName::kViewGrid, tr("Grid"), grid_},
        {resultName::kViewRecord, tr("Record"), record_, false,
         [this](const ResultSource&) { record_->showRows(grid_->chosenRows(kMaxRecords), grid_->shownColumns()); }},
        {resultName::kViewText, tr("Text"), text_, false, textAs(TextView::Form::Aligned)},
        {resultName::kViewJson, tr("JSON"), text_, false, textAs(TextView::Form::Json)},
        {resultName::kViewProfile, tr("Profile"), profile_, false,
         [this](const ResultSource& c) { profile_->show(*c.view(), shownColumns()); }},
        {resultName::kViewMessages, tr("Messages"), messages_, true,
         [this](const ResultSource& c) { messages_->show(&c); }},
    };
}

const Viewer& ResultPane::viewer() const { return viewers_[static_cast<std::size_t>(view_)]; }

void ResultPane::addViews() {
    std::vector<QWidget*> buttons;
    auto* menu = new QMenu(viewChoice_);
    for (std::size_t i = 0; i < viewers_.size(); ++i) {
        const Viewer& one = viewers_[i];
        auto* button = makeButton(one.label, "view", one.objectName, tr("Show the result as %1").arg(one.label), this);
        button->setCheckable(true);
        button->setChecked(i == 0);
        views_->addButton(button, static_cast<int>(i));
        buttons.push_back(button);
        connect(menu->addAction(one.label), &QAction::triggered, this, [this, i] { showView(static_cast<View>(i)); });
    }
    viewChoice_->setMenu(menu);
    viewChoice_->setText(tr("%1 ▾").arg(viewer().label));
    constexpr int kRank = 4;
    bar_->addGroup(buttons, viewChoice_, kRank);
    connect(views_, &QButtonGroup::idClicked, this, [this](int id) { showView(static_cast<View>(id)); });
}

void ResultPane::addTools() {
    name(filter_, objectName::kResultFilter, tr("Show only rows that hold a text"));
    name(find_, objectName::kResultFind, tr("Go to cells that hold a text"));
    filter_->setProperty("look", "find");
    find_->setProperty("look", "find");
    filter_->setPlaceholderText(tr("Filter rows…"));
    find_->setPlaceholderText(tr("Find…  ↵"));
    constexpr int kFieldWidth = 112;
    constexpr int kLeastField = 56;
    constexpr int kLeastFilter = 95;  // in which its words can be read
    find_->setMinimumWidth(kLeastField);
    filter_->setMinimumWidth(kLeastFilter);
    for (QLineEdit* field : {filter_, find_}) field->setMaximumWidth(kFieldWidth);
    filter_->setClearButtonEnabled(true);
    find_->installEventFilter(this);
    filter_->setToolTip(tr("Only rows with a cell that holds this text; for more, right-click a heading"));
    find_->setToolTip(tr("Return goes to the next cell, Shift+Return to the one before, Esc back to the rows"));
    bar_->addField(find_);
    bar_->setWanted(find_, false);
    bar_->addField(filter_);
    const auto offer = [this](const QString& text, void (ResultPane::*act)()) {
        return [this, text, act](QMenu* menu) { connect(menu->addAction(text), &QAction::triggered, this, act); };
    };
    bar_->addFoldable(
        columns_, 3,
        offer(QStringLiteral("%1\t%2").arg(tr("Columns…"), keyText("result.columns")), &ResultPane::openColumns));
    bar_->addFoldable(copy_, 2, [this](QMenu* menu) { menu->addMenu(makeCopyMenu(menu)); });
    bar_->addFoldable(
        compare_, 1,
        offer(QStringLiteral("%1\t%2").arg(tr("Compare…"), keyText("result.compare")), &ResultPane::openCompare));
    bar_->addFoldable(export_, 5, offer(menuText("result.export"), &ResultPane::openExport));
    connect(filter_, &QLineEdit::textChanged, &filterTimer_, qOverload<>(&QTimer::start));
    connect(export_, &QPushButton::clicked, this, &ResultPane::openExport);
    connect(compare_, &QPushButton::clicked, this, &ResultPane::openCompare);
    connect(columns_, &QPushButton::clicked, this, &ResultPane::openColumns);
    copy_->setMenu(makeCopyMenu(copy_));
}

QMenu* ResultPane::makeCopyMenu(QWidget* parent) {
    auto* menu = new QMenu(tr("Copy"), parent);
    connect(menu->addAction(QStringLiteral("%1\t%2").arg(tr("Copy cells"), keyText("rows.copy"))), &QAction::triggered,
            this, [this] { copySelection(false); });
    connect(menu->addAction(menuText("result.copyWithHeadings")), &QAction::triggered, this,
            [this] { copySelection(true); });
    connect(menu->addAction(tr("Cells as they are shown")), &QAction::triggered, this, &ResultPane::copyAsShown);
    menu->addSeparator();
    for (const std::string& word : exchange::formatWords()) {
        const exchange::Format format = *exchange::formatFromWord(word);
        if (!exchange::isText(format) || format == exchange::Format::Tsv) continue;  // which plain copying gives
        connect(menu->addAction(tr("As %1").arg(toQt(exchange::formatName(format)))), &QAction::triggered, this,
                [this, format] { copyAs(format); });
    }
    connect(menu->addAction(tr("As a list for IN")), &QAction::triggered, this, &ResultPane::copyInList);
    connect(menu->addAction(tr("As a VALUES list")), &QAction::triggered, this, &ResultPane::copyValues);
    connect(menu->addAction(tr("Names of the columns")), &QAction::triggered, this, &ResultPane::copyColumnNames);
    return menu;
}

void ResultPane::setSource(ResultSource* source) {
    if (source != nullptr && source == model_->source()) return refresh();
    isFitted_ = false;
    isLabelled_ = false;
    whyEmpty_.clear();
    const QSignalBlocker blocker(filter_);
    filter_->setText(source != nullptr ? toQt(source->viewRequest().filterText) : QString());
    if (source != nullptr && source->result()) desk_.results().noteUse(source->result());
    look_->forget();
    if (model_->source() != nullptr) disconnect(model_->source(), nullptr, this, nullptr);
    if (source != nullptr) {
        connect(source, &ResultSource::progressed, this, &ResultPane::noteProgress);
        connect(source, &ResultSource::compared, this, [this] {
            refresh();
            grid_->viewport()->update();
        });
    }
    model_->setSource(source);
    side_->setSource(source);
    refresh();
}

/// It has come a step further.
void ResultPane::noteProgress() {
    ResultSource* c = source();
    if (c == nullptr) return;
    if (!c->isGoingOn() && c->rowCount() == 0) askWhyEmpty();
    if (!c->isGoingOn()) noteNewRows();
    refresh();
    if (viewer().showsWithoutRows || !c->isGoingOn()) fillView();
}

/// Once there are rows, the columns take their widths, and keys their names.
void ResultPane::noteNewRows() {
    ResultSource* c = source();
    if (c == nullptr || !c->result() || model_->columnCount() == 0) {
        isFitted_ = false;
        isLabelled_ = false;
        look_->forget();
        return;
    }
    if (!isFitted_ && model_->rowCount() > 0) {
        isFitted_ = true;
        loadChoices();
    }
    if (isFitted_ && !isLabelled_ && !c->isGoingOn()) {
        isLabelled_ = true;
        refreshFacts();
    }
}

void ResultPane::loadChoices() {
    const ResultSource* c = source();
    gridKey_ = store::gridKey(fromQt(c->connectionId()), c->statement().text(), c->language());
    look_->setChoices(desk_.preferences().gridChoices(gridKey_));
    grid_->applyChoices();
    for (int column = 0; column < model_->columnCount(); ++column) {
        const auto isScale = [&](const data::ColourRule& rule) {
            return rule.isScale && rule.column == look_->keyOf(column);
        };
        if (std::ranges::any_of(look_->choices().rules, isScale)) readRange(column);
    }
}

void ResultPane::storeChoices(const data::GridChoices& choices) {
    if (source() == nullptr || !isFitted_) return;
    const bool isLabelChange = [&] {
        for (int column = 0; column < model_->columnCount(); ++column) {
            const auto found = choices.columns.find(look_->keyOf(column));
            const std::string label = found == choices.columns.end() ? std::string() : found->second.labelColumn;
            if (label != look_->choiceOf(column).labelColumn) return true;
        }
        return false;
    }();
    look_->setChoices(choices);
    desk_.preferences().changeGridChoices(gridKey_, choices);
    refresh();
    if (isLabelChange) labels_->read(source()->connectionId(), source()->origin().database);
}

void ResultPane::refreshFacts() {
    if (source() == nullptr || !source()->result()) return;
    look_->setFacts(
        ColumnFacts(desk_.catalogs().state(fromQt(source()->connectionId()), source()->origin().database).catalog,
                    source()->result()->columns()));
    labels_->read(source()->connectionId(), source()->origin().database);
}

std::vector<std::size_t> ResultPane::shownColumns() const {
    std::vector<std::size_t> columns;
    for (const int column : grid_->shownColumns()) columns.push_back(static_cast<std::size_t>(column));
    return columns;
}

void ResultPane::showView(View view) {
    view_ = view;
    views_->button(static_cast<int>(view))->setChecked(true);
    viewChoice_->setText(tr("%1 ▾").arg(viewer().label));
    refreshPage();
    fillView();
    pages_->currentWidget()->setFocus();
}

/// Fills the page that shows; the grid follows its model by itself.
void ResultPane::fillView() {
    const ResultSource* c = source();
    if (c == nullptr || !viewer().fill) return;
    const bool hasRows = c->view() != nullptr && model_->rowCount() > 0;
    if (hasRows || viewer().showsWithoutRows) viewer().fill(*c);
}

QString ResultPane::emptyText() const {
    const ResultSource* c = model_->source();
    if (c == nullptr)
        return tr("Results appear here. %1 runs the statement at the cursor.").arg(keyText("run.statement"));
    if (c->state() == ResultSource::State::Failed) return toQt(*c->error());
    if (c->state() == ResultSource::State::Stopped && !c->result()) return toQt(*c->error());
    if (c->isGoingOn()) return c->result() ? tr("Waiting for the first row…") : tr("Running…");
    if (c->result() && c->rowCount() == 0) {
        if (c->isComparison()) return tr("The two results are the same: %1.").arg(c->outcomeText());
        return whyEmpty_.isEmpty() ? tr("The statement ran well, and no row matched.") : whyEmpty_;
    }
    if (c->result() && c->view()->rowCount() == 0) {
        const auto rows = toQt(base::counted(static_cast<std::int64_t>(c->rowCount()), "row", "rows"));
        const QString text = toQt(c->viewRequest().filterText);
        return text.isEmpty() ? tr("None of the %1 fulfils the conditions.").arg(rows)
               : c->viewRequest().filter.conditions.empty()
                   ? tr("None of the %1 holds “%2”.").arg(rows, text)
                   : tr("None of the %1 holds “%2” and fulfils the conditions.").arg(rows, text);
    }
    if (c->run().isWithoutRows()) {
        return tr("It gave %1, too many to be kept here. %2 at the statement reads them again.")
            .arg(c->outcomeText(), keyText("run.statement"));
    }
    QString label = c->outcomeText() + QStringLiteral(".");
    label[0] = label[0].toUpper();
    return label;
}

/// Whether an empty result comes of an empty table or of a condition: the server knows.
void ResultPane::askWhyEmpty() {
    ResultSource* c = source();
    if (c == nullptr || !c->result() || c->state() != ResultSource::State::Done) return;
    const auto from = sql::readFrom(c->statement().text(), c->language());
    whyEmpty_.clear();
    if (!from) return;
    const QString table = toQt(from->table);
    if (!from->hasConditions) {
        whyEmpty_ = tr("The statement ran well: %1 is empty.").arg(table);
        return;
    }
    desk_.catalogs().readRows(
        fromQt(c->connectionId()), c->origin().database, sql::anyRowOf(from->table), 1,
        whileThere(this, [this, table, guard = QPointer<ResultSource>(c)](const Result<data::ResultSetPtr>& rows) {
            if (!rows || !*rows || guard != source()) return;
            whyEmpty_ = (*rows)->rowCount() == 0 ? tr("No row came: %1 is empty.").arg(table)
                                                 : tr("%1 has rows, but none matched the conditions.").arg(table);
            refresh();
        }));
}

QString ResultPane::summaryText() const {
    const ResultSource* c = model_->source();
    if (c == nullptr) return {};
    if (!c->result()) return {};  // its page says it
    QString text = c->outcomeText();
    if (c->countOfAll()) text += tr(" of %1").arg(toQt(base::grouped(*c->countOfAll())));
    if (c->view()->rowCount() != c->rowCount()) {
        text = tr("%1 of %2").arg(toQt(base::grouped(static_cast<std::int64_t>(c->view()->rowCount()))), text);
    }
    const auto columns = static_cast<std::int64_t>(c->result()->columns().size());
    if (!text.isEmpty()) text[0] = text[0].toUpper();
    if (c->isComparison())
        return tr("%1 · the differences in %2").arg(text, toQt(base::counted(columns - 1, "column", "columns")));
    text = tr("%1 · %2").arg(text, toQt(base::counted(columns, "column", "columns")));
    const auto hidden = static_cast<std::int64_t>(columns) - static_cast<std::int64_t>(grid_->shownColumns().size());
    if (hidden > 0) text += tr(", %1 hidden").arg(hidden);
    if (c->isArranging())
        text += tr(" · arranging %1, %2 %…")
                    .arg(toQt(base::counted(static_cast<std::int64_t>(c->rowCount()), "row", "rows")))
                    .arg(static_cast<int>(c->arrangedShare() * 100));
    text += tr(" · %1").arg(toQt(base::spoken(c->startedAt(), base::now())));
    if (c->error()) text += QStringLiteral(" · ") + toQt(c->error()->message);
    return text;
}

void ResultPane::refreshPage() {
    const ResultSource* c = model_->source();
    const bool hasRows = c != nullptr && model_->rowCount() > 0;
    QWidget* page = viewer().page;
    // Without rows there are still headings to look at.
    const bool isEmptyGrid = page == grid_ && c != nullptr && c->result() && !c->isComparison() &&
                             !c->result()->columns().empty() && !c->error();
    grid_->setEmptyText(isEmptyGrid && !hasRows ? emptyText() : QString());
    const bool isThere = hasRows || isEmptyGrid || (viewer().showsWithoutRows && c != nullptr);
    pages_->setCurrentWidget(isThere ? page : message_);
    refreshNotices();  // the view Messages has them all itself
}

void ResultPane::refresh() {
    const ResultSource* c = model_->source();
    const bool hasRows = c != nullptr && model_->rowCount() > 0;
    const bool hasResult = c != nullptr && c->result() != nullptr;
    setLook(message_, c != nullptr && c->state() == ResultSource::State::Failed && !hasRows ? "bad" : "quiet");
    message_->setText(emptyText());
    refreshNotices();
    refreshPage();
    change_->show(source());
    part_->show(c);
    const bool isPartTold = !part_->isHidden();
    bar_->setWanted(allRows_, c != nullptr && c->hasMore() && !isPartTold);
    bar_->setWanted(countAll_, c != nullptr && c->hasMore() && !c->countOfAll());
    for (QAbstractButton* button : views_->buttons()) bar_->setWanted(button, c != nullptr);
    bar_->setWanted(viewChoice_, c != nullptr);
    for (QWidget* w : {static_cast<QWidget*>(filter_), static_cast<QWidget*>(columns_), static_cast<QWidget*>(copy_),
                       static_cast<QWidget*>(compare_)}) {
        bar_->setWanted(w, hasResult && c->rowCount() > 0);
    }
    bar_->setWanted(export_, hasResult);  // without rows there are still headings
    if (!hasRows) bar_->setWanted(find_, false);
    side_->noteRows();
    summary_->setText(summaryText());
    if (c != nullptr && c->isArranging() && !progressTimer_.isActive()) progressTimer_.start();
    if (hasResult) {
        filterBar_->show(c->viewRequest().filter, c->result()->columns());
    } else {
        filterBar_->hide();
    }
}

/// The last lines of what the server said; the view Messages has all of them with their times.
void ResultPane::refreshNotices() {
    constexpr std::size_t kMaxLines = 3;
    const ResultSource* c = model_->source();
    const std::size_t count = c == nullptr ? 0 : c->messages().size();
    notices_->setVisible(count > 0 && !viewer().showsWithoutRows);
    if (count == 0) return;
    QStringList lines;
    const std::size_t first = count > kMaxLines ? count - kMaxLines : 0;
    if (first > 0) lines += tr("%1 earlier ones under Messages").arg(first);
    for (std::size_t i = first; i < count; ++i) {
        const db::Notice& notice = c->messages()[i].notice;
        constexpr std::size_t kLineBytes = 300;
        const std::string shown = base::oneLine(notice.message, kLineBytes);
        lines += toQt(base::toLower(notice.severity)) + QStringLiteral(": ") + toQt(shown);
    }
    notices_->setText(lines.join(QLatin1Char('\n')));
}

/// How many rows the statement has in all, counted by the server.
void ResultPane::countAll() {
    ResultSource* c = source();
    if (c == nullptr) return;
    if (!c->statement().reading().isPlain()) {
        return Q_EMIT selectionSummed(tr("Counting would run a statement again that may change something."));
    }
    Q_EMIT selectionSummed(tr("Counting…"));
    desk_.catalogs().count(
        fromQt(c->connectionId()), c->origin().database,
        work::withValuesOf(sql::countOf(c->statement().text()), c->statement()),
        whileThere(this, [this, guard = QPointer<ResultSource>(c)](const Result<std::int64_t>& rows) {
            if (!rows) return Q_EMIT selectionSummed(toQt(rows.error()));
            if (guard) guard->setCountOfAll(*rows);
            Q_EMIT selectionSummed({});
            refresh();
        }));
}

void ResultPane::applySettings() {
    const store::Settings& settings = desk_.settings();
    grid_->setTextSize(settings.gridTextSize);
    grid_->setAlternatingRowColors(settings.isGridShaded);
    grid_->viewport()->update();
    text_->setTextSize(settings.gridTextSize);
}

void ResultPane::zoom(int steps) {
    desk_.preferences().changeSettings([steps](store::Settings& settings) {
        settings.gridTextSize = std::clamp(settings.gridTextSize + steps, kSmallestText, kLargestText);
    });
}

void ResultPane::openFind() {
    if (source() == nullptr || model_->rowCount() == 0) return;
    showView(View::Grid);
    bar_->setWanted(find_, true);
    find_->setFocus();
    find_->selectAll();
}

void ResultPane::openColumns() {
    if (source() == nullptr || !source()->result()) return;
    QStringList names;
    for (const data::Column& column : source()->result()->columns()) names += toQt(column.name);
    const QPoint below = columns_->mapToGlobal(QPoint(0, columns_->height()));
    columnsPanel()->open(grid_->columnsAsShown(), names, below);
}

void ResultPane::openCompare() {
    if (source() == nullptr || source()->view() == nullptr) {
        return Q_EMIT selectionSummed(tr("Run a statement that returns rows first."));
    }
    side_->openCompare(source(), primaryKeyIn(*model_));
}

void ResultPane::openExport() {
    if (source() == nullptr || !source()->result())
        return Q_EMIT selectionSummed(tr("Run a statement that returns rows first."));
    side_->openExport(source());
}

bool ResultPane::eventFilter(QObject* watched, QEvent* event) {
    // In the rows this chooses a column; it completes in the editor alone.
    const bool isOverride = event->type() == QEvent::ShortcutOverride && watched == grid_;
    if (isOverride && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Space) event->accept();
    if (event->type() != QEvent::KeyPress) return QFrame::eventFilter(watched, event);
    auto* key = static_cast<QKeyEvent*>(event);
    const bool isReturn = key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter;
    if (watched == find_ && isReturn) {
        find(!key->modifiers().testFlag(Qt::ShiftModifier));
        return true;
    }
    if (watched == find_ && key->key() == Qt::Key_Escape) {
        grid_->setFocus();
        bar_->setWanted(find_, false);
        return true;
    }
    if (watched != grid_) return QFrame::eventFilter(watched, event);
    const bool isControl = key->modifiers() == Qt::ControlModifier;
    if (key->matches(QKeySequence::Copy)) {
        copySelection(false);
    } else if (key->key() == Qt::Key_C && key->modifiers() == (Qt::ControlModifier | Qt::ShiftModifier)) {
        copySelection(true);
    } else if (key->matches(QKeySequence::Find)) {
        openFind();
    } else if (isControl && (key->key() == Qt::Key_Plus || key->key() == Qt::Key_Equal)) {
        zoom(1);
    } else if (isControl && key->key() == Qt::Key_Minus) {
        zoom(-1);
    } else if (key->key() == Qt::Key_Space && isControl) {
        grid_->selectColumn(std::max(0, grid_->currentIndex().column()));
    } else if (key->key() == Qt::Key_Space && key->modifiers() == Qt::ShiftModifier) {
        grid_->selectRow(std::max(0, grid_->currentIndex().row()));
    } else if (isReturn && key->modifiers() == Qt::NoModifier) {
        showView(View::Record);
    } else {
        return QFrame::eventFilter(watched, event);
    }
    return true;
}

}  // namespace pantry::app

#include "moc_result_pane.cpp"
