#include "app/pages/table/table_page.h"

#include <QApplication>
#include <QClipboard>
#include <QCompleter>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QStyledItemDelegate>
#include <QVBoxLayout>
#include <algorithm>
#include <utility>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/catalog/catalog_model.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/text.h"
#include "core/db/engine_traits.h"
#include "core/sql/define/create_table.h"
#include "core/sql/text/lexer.h"
#include "core/sql/text/type_names.h"
#include "core/sql/write/names.h"

namespace pantry::app {
namespace {

/// A field that offers what is usual while one types.
class OfferingDelegate : public QStyledItemDelegate {
public:
    using Offers = std::function<QStringList(const QModelIndex&)>;
    OfferingDelegate(Offers offers, QObject* parent) : QStyledItemDelegate(parent), offers_(std::move(offers)) {}

    QWidget* createEditor(QWidget* parent, const QStyleOptionViewItem& option,
                          const QModelIndex& index) const override {
        QWidget* editor = QStyledItemDelegate::createEditor(parent, option, index);
        auto* field = qobject_cast<QLineEdit*>(editor);
        const QStringList offers = offers_(index);
        if (field == nullptr) return editor;
        field->setProperty("look", "cell");
        if (offers.isEmpty()) return editor;
        auto* completer = new QCompleter(offers, field);
        completer->setCaseSensitivity(Qt::CaseInsensitive);
        completer->setFilterMode(Qt::MatchContains);
        field->setCompleter(completer);
        return editor;
    }

private:
    Offers offers_;
};

QStringList usualTypesOf(sql::Dialect dialect) {
    QStringList types;
    for (const std::string_view type : sql::usualTypes(dialect)) types += toQt(type);
    return types;
}

sql::DefinitionChange creationOf(const sql::TableDesign& design, sql::Dialect dialect) {
    sql::DefinitionChange change;
    const sql::CreateStatements made = sql::createTable(design, dialect);
    for (const std::string& statement : made.table) change.steps.push_back({statement, "Create " + design.name});
    return change;
}

struct Written {
    sql::DefinitionChange change;
    std::vector<sql::DesignProblem> problems;
};

}  // namespace

TablePage::TablePage(Desk& desk, ObjectPlace place, Wish wish, QWidget* parent)
    : PlacePage(desk, std::move(place), parent),
      wish_(wish),
      heading_(makeLabel({}, "title", this)),
      name_(new QLineEdit(this)),
      schema_(new QLineEdit(this)),
      comment_(new QLineEdit(this)),
      options_(new QLineEdit(this)),
      columns_(new QTableView(this)),
      rules_(new QTableView(this)),
      panel_(new DefinitionPanel(desk, place_.connectionId, place_.database, this)) {
    name(this, objectName::kTablePage, isNew() ? tr("New table") : tr("Change %1").arg(toQt(place_.object.name)));
    design_.schema = place_.object.schema;
    columnsModel_ = new ColumnsModel(design_, dialect_, this);
    rulesModel_ = new RulesModel(design_, dialect_, this);
    restTimer_.setSingleShot(true);
    restTimer_.setInterval(30);
    connect(&restTimer_, &QTimer::timeout, this, &TablePage::writeStatements);
    makeLayout();
    connect(columnsModel_, &ColumnsModel::edited, this, [this] {
        rulesModel_->noteReset();  // a column takes its keys along
        noteEdited();
    });
    connect(rulesModel_, &RulesModel::edited, this, &TablePage::noteEdited);
    connect(name_, &QLineEdit::textEdited, this, [this](const QString& text) {
        design_.name = fromQt(text.trimmed());
        noteEdited();
    });
    connect(schema_, &QLineEdit::textEdited, this, [this](const QString& text) {
        design_.schema = fromQt(text.trimmed());
        noteEdited();
    });
    connect(comment_, &QLineEdit::textEdited, this, [this](const QString& text) {
        design_.comment = fromQt(text);
        noteEdited();
    });
    connect(options_, &QLineEdit::textEdited, this, [this](const QString& text) {
        design_.options.clear();
        if (!text.trimmed().isEmpty()) design_.options.push_back(fromQt(text.trimmed()));
        noteEdited();
    });
    panel_->setAsksFirst();
    connect(panel_, &DefinitionPanel::runRequested, this, &TablePage::apply);
    connect(panel_, &DefinitionPanel::done, this, &TablePage::finish);
    connect(panel_, &DefinitionPanel::cancelled, this, [this] {
        isOver_ = true;
        Q_EMIT closeRequested();
    });
    connect(panel_, &DefinitionPanel::sheetRequested, this,
            [this](const QString& title, const QString& text) { Q_EMIT sheetRequested(place_, title, text); });
    connect(&Theme::current(), &Theme::changed, this, &TablePage::fitGrids);
    connect(&desk_, &Desk::catalogChanged, this, [this](const QString& id) {
        if (id == place_.connectionId && !isRead_) read();
    });
    read();
}

/// Once the catalog is there: a new table stands where names are looked for first.
void TablePage::read() {
    const auto catalog = catalogState().catalog;
    if (!isNew()) {
        if (catalog) return readTable();
        return panel_->show({}, tr("Reading the catalog…"));
    }
    const bool knowsSchema = catalog && !catalog->facts().searchPath.empty();
    if (design_.schema.empty() && knowsSchema) design_.schema = catalog->facts().searchPath.front();
    if (catalog) return begin(design_);
    heading_->setText(title());
    panel_->show({}, tr("Reading the catalog…"));
}

void TablePage::beginWith(const sql::TableDesign& design) { begin(design); }

QString TablePage::title() const {
    if (!isNew()) return tr("Change %1").arg(toQt(place_.object.name));
    return design_.name.empty() ? tr("New table") : tr("New table %1").arg(toQt(design_.name));
}
QIcon TablePage::icon() const { return iconOf(catalog::ObjectKind::Table); }

void TablePage::enter() {
    if (isNew() && design_.name.empty()) {
        name_->setFocus();
    } else {
        columns_->setFocus();
    }
}

QWidget* TablePage::makeTop() {
    auto* top = new QWidget(this);
    auto* row = new QHBoxLayout(top);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(10);
    const auto field = [&](const QString& label, QLineEdit* edit, const char* object, const QString& placeholder,
                           int width) {
        row->addWidget(makeLabel(label, "quiet", top));
        name(edit, object, label);
        edit->setPlaceholderText(placeholder);
        if (width > 0) edit->setMaximumWidth(Theme::px(width));
        row->addWidget(edit, width > 0 ? 0 : 1);
    };
    const bool hasSchemas = dialect_ == sql::Dialect::Postgres || dialect_ == sql::Dialect::Ansi;
    field(tr("Name"), name_, objectName::kTableName, tr("what one row is"), 220);
    field(tr("Schema"), schema_, objectName::kTableSchema, tr("where it stands"), 140);
    field(tr("Comment"), comment_, objectName::kTableComment, tr("What should others know before using it?"), 0);
    field(tr("Options"), options_, objectName::kTableOptions,
          dialect_ == sql::Dialect::Sqlite  ? QStringLiteral("STRICT, WITHOUT ROWID")
          : dialect_ == sql::Dialect::MySql ? QStringLiteral("ENGINE=InnoDB")
                                            : QStringLiteral("WITH (fillfactor = 80)"),
          170);
    schema_->setEnabled(isNew() || hasSchemas);
    comment_->setEnabled(dialect_ != sql::Dialect::Ansi && dialect_ != sql::Dialect::Sqlite);
    return top;
}

QWidget* TablePage::makeRuleVerbs() {
    auto* verbs = new QWidget(this);
    auto* row = new QHBoxLayout(verbs);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    row->addWidget(makeLabel(tr("Keys, indexes and rules"), "section", verbs));
    for (const sql::DesignRule::Kind kind : sql::ruleKinds(dialect_)) {
        const QString label = toQt(base::toLower(sql::ruleLabel(kind)));
        auto* button = makeButton(QStringLiteral("+ ") + label, "link", objectName::kTableAddRule,
                                  tr("Add a %1").arg(label), verbs);
        button->setProperty("kind", int(kind));
        connect(button, &QPushButton::clicked, this, [this, kind] { addRule(kind); });
        row->addWidget(button);
    }
    row->addStretch();
    return verbs;
}

QWidget* TablePage::makeGrids() {
    auto* grids = new QWidget(this);
    auto* layout = new QVBoxLayout(grids);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(6);
    for (QTableView* grid : {columns_, rules_}) {
        grid->setProperty("look", "onCard");
        grid->setShowGrid(false);
        grid->setSelectionBehavior(QAbstractItemView::SelectItems);
        grid->setSelectionMode(QAbstractItemView::SingleSelection);
        // At once: a click that waits whether it becomes a double one would lose the letters typed meanwhile.
        grid->setEditTriggers(QAbstractItemView::CurrentChanged | QAbstractItemView::AnyKeyPressed |
                              QAbstractItemView::EditKeyPressed | QAbstractItemView::DoubleClicked);
        connect(grid, &QTableView::clicked, grid, [grid](const QModelIndex& index) {
            if (index.flags().testFlag(Qt::ItemIsEditable)) grid->edit(index);
        });
        grid->setTabKeyNavigation(true);
        grid->horizontalHeader()->setStretchLastSection(true);
        grid->horizontalHeader()->setHighlightSections(false);
        grid->verticalHeader()->setHighlightSections(false);
        grid->installEventFilter(this);
    }
    name(columns_, objectName::kTableColumns, tr("Columns of the table"));
    name(rules_, objectName::kTableRules, tr("Keys, indexes, checks and foreign keys"));
    columns_->setModel(columnsModel_);
    rules_->setModel(rulesModel_);
    columns_->setColumnHidden(ColumnsModel::Comment, !columnsModel_->hasField(ColumnsModel::Comment));
    columns_->setItemDelegate(new OfferingDelegate(
        [this](const QModelIndex& index) {
            return index.column() == ColumnsModel::Type ? usualTypesOf(dialect_) : QStringList();
        },
        columns_));
    rules_->setItemDelegate(
        new OfferingDelegate([this](const QModelIndex& index) { return offersFor(index); }, rules_));
    auto* head = new QHBoxLayout;
    head->addWidget(makeLabel(tr("Columns"), "section", grids));
    head->addStretch();
    head->addWidget(makeLabel(tr("Tab goes on · Alt+↑ ↓ moves · Del removes · lines of name and type can be pasted"),
                              "small", grids));
    layout->addLayout(head);
    layout->addWidget(columns_, 3);
    layout->addWidget(makeRuleVerbs());
    layout->addWidget(rules_, 2);
    return grids;
}

/// Columns of this table; tables with their keys for what a foreign key refers to.
QStringList TablePage::offersFor(const QModelIndex& index) const {
    const auto rule = rulesModel_->ruleAt(index.row());
    QStringList offers;
    if (!rule) return offers;
    if (index.column() == RulesModel::OnDelete && rule->kind == sql::DesignRule::Kind::ForeignKey) {
        return {QStringLiteral("NO ACTION"), QStringLiteral("CASCADE"), QStringLiteral("SET NULL"),
                QStringLiteral("RESTRICT"), QStringLiteral("SET DEFAULT")};
    }
    if (index.column() == RulesModel::Columns && rule->kind != sql::DesignRule::Kind::Check) {
        for (const sql::ColumnDesign& one : design_.columns) offers += toQt(sql::quotedName(one.column.name, dialect_));
        return offers;
    }
    if (index.column() != RulesModel::RefersTo || rule->kind != sql::DesignRule::Kind::ForeignKey) return offers;
    const auto catalog = catalogState().catalog;
    if (!catalog) return offers;
    for (const catalog::Relation* relation : catalog->relations()) {
        if (relation->kind != catalog::ObjectKind::Table) continue;
        const sql::TableDesign other = sql::designOf(*relation, dialect_);
        if (other.primaryKey.columns.empty()) continue;
        const bool isNear = relation->schema == design_.schema;
        const std::string table =
            sql::qualifiedName(isNear ? std::string() : relation->schema, relation->name, dialect_);
        offers += toQt(table + " (" + sql::TableWords(dialect_).names(other.primaryKey.columns) + ")");
    }
    return offers;
}

void TablePage::makeLayout() {
    auto* parts = new QSplitter(Qt::Vertical, this);
    parts->addWidget(makeGrids());
    auto* below = new QFrame(parts);
    auto* belowLayout = new QVBoxLayout(below);
    belowLayout->setContentsMargins(0, 8, 0, 0);
    belowLayout->addWidget(makeLabel(isNew() ? tr("What makes it") : tr("What changes it"), "section", below));
    belowLayout->addWidget(panel_, 1);
    parts->addWidget(below);
    parts->setStretchFactor(0, 3);
    parts->setStretchFactor(1, 2);
    parts->setChildrenCollapsible(false);
    parts->setSizes({430, 250});
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(26, 16, 26, 16);
    layout->setSpacing(10);
    auto* headRow = new QHBoxLayout;
    headRow->addWidget(heading_);
    headRow->addStretch();
    layout->addLayout(headRow);
    layout->addWidget(makeTop());
    layout->addWidget(parts, 1);
    fitGrids();
}

void TablePage::fitGrids() {
    for (QTableView* grid : {columns_, rules_}) grid->verticalHeader()->setDefaultSectionSize(Theme::px(26));
    const int widths[] = {170, 150, 44, 120, 80, 44, 150, 120};
    for (int i = 0; i < ColumnsModel::kFields; ++i) columns_->setColumnWidth(i, Theme::px(widths[i]));
    const int ruleWidths[] = {120, 200, 230, 240, 120};
    for (int i = 0; i < RulesModel::kFields; ++i) rules_->setColumnWidth(i, Theme::px(ruleWidths[i]));
}

/// The table as it stands, and for SQLite the statements of what hangs on it.
void TablePage::readTable() {
    const auto catalog = catalogState().catalog;
    const catalog::Relation* relation = catalog ? catalog->find(place_.object.schema, place_.object.name) : nullptr;
    heading_->setText(tr("Change %1").arg(toQt(place_.object.name)));
    if (relation == nullptr) {
        panel_->show({}, tr("There is no %1 here any more.").arg(toQt(place_.object.name)));
        return;
    }
    desk_.catalogs().readDefinition(
        fromQt(place_.connectionId), place_.database, place_.object,
        whileThere(this, [this, catalog, relation](const Result<catalog::Definition>& definition) {
            std::string statement;
            if (definition) statement = definition->text;
            if (dialect_ == sql::Dialect::Sqlite) {
                // Without what hangs on the table it would be lost when the table is built anew.
                if (!definition) return panel_->show({}, toQt(definition.error()));
                own_ = sql::ownStatementsIn(definition->text);
                statement = own_.table;
            }
            begin(sql::designOf(*relation, dialect_, statement));
        }));
}

void TablePage::begin(const sql::TableDesign& design) {
    before_ = design;
    design_ = design;
    isRead_ = true;
    heading_->setText(title());
    name_->setText(toQt(design_.name));
    schema_->setText(toQt(design_.schema));
    comment_->setText(toQt(design_.comment));
    QStringList options;
    for (const std::string& one : design_.options) options += toQt(one);
    options_->setText(options.join(QStringLiteral(", ")));
    options_->setCursorPosition(0);
    columnsModel_->noteReset();
    rulesModel_->noteReset();
    using Kind = sql::DesignRule::Kind;
    const bool isUniqueIndex = dialect_ == sql::Dialect::MySql;
    if (wish_ == Wish::AddIndex) addRule(Kind::Index);
    if (wish_ == Wish::AddUnique) addRule(isUniqueIndex ? Kind::UniqueIndex : Kind::Unique);
    if (wish_ == Wish::AddCheck) addRule(Kind::Check);
    if (wish_ == Wish::AddForeignKey) addRule(Kind::ForeignKey);
    if (wish_ == Wish::AddColumn) {
        columns_->setFocus();
        columns_->setCurrentIndex(columnsModel_->index(columnsModel_->rowCount() - 1, 0));  // which opens its field
    }
    writeStatements();
}

void TablePage::addRule(sql::DesignRule::Kind kind) {
    std::vector<std::string> columns;
    const int row = columns_->currentIndex().row();
    const bool isOnColumn = row >= 0 && row < static_cast<int>(design_.columns.size()) && wish_ == Wish::Look;
    if (isOnColumn && kind != sql::DesignRule::Kind::Check)
        columns = {design_.columns[static_cast<std::size_t>(row)].column.name};
    const int added = rulesModel_->add(kind, columns);
    const QModelIndex index = rulesModel_->index(added, RulesModel::Columns);
    rules_->setCurrentIndex(index);
    rules_->setFocus();
    rules_->edit(index);
}

void TablePage::noteEdited() {
    restTimer_.start();
    if (isNew()) {
        heading_->setText(title());
        Q_EMIT changed();
    }
}

void TablePage::writeStatements() {
    if (!isRead_) return;
    const quint64 asked = ++asked_;
    inBackground(
        this,
        [before = before_, after = design_, own = own_, dialect = dialect_, isFresh = isNew()]() -> Written {
            Written written{.change = {}, .problems = sql::problemsOf(after, dialect)};
            if (isFresh && (after.columns.empty() || after.name.empty())) return written;
            written.change = isFresh ? creationOf(after, dialect) : sql::alterTable(before, after, dialect, own);
            return written;
        },
        [this, asked](const Written& written) {
            if (asked != asked_) return;
            showProblems(written.problems);
            QString problem;
            if (!written.problems.empty()) problem = toQt(written.problems.front().message);
            QStringList warnings;
            for (const sql::DefinitionStep& step : written.change.steps) {
                if (step.isDestructive) warnings += toQt(step.label);
            }
            if (written.change.hasOwnTransaction && warnings.isEmpty()) {
                warnings += tr("The table is built anew: its rows are copied.");
            } else if (!warnings.isEmpty()) {
                warnings = {tr("What is gone afterwards: %1.").arg(warnings.join(QStringLiteral(", ")))};
            }
            panel_->setTitle(title());
            panel_->show(written.change, problem, warnings.join(QLatin1Char(' ')));
            shown_ = asked;
            if (std::exchange(isRunDue_, false)) panel_->run();
        });
}

/// Queued: the editor of a cell gives what it holds when the key press that closes it is over.
void TablePage::apply() {
    const auto runShown = [this] {
        if (!restTimer_.isActive() && shown_ == asked_) return panel_->run();
        isRunDue_ = true;
        restTimer_.stop();
        writeStatements();
    };
    QMetaObject::invokeMethod(this, runShown, Qt::QueuedConnection);
}

void TablePage::showProblems(const std::vector<sql::DesignProblem>& problems) {
    std::map<std::size_t, QString> columns;
    std::map<std::pair<int, std::size_t>, QString> rules;
    for (const sql::DesignProblem& one : problems) {
        if (one.place == sql::DesignProblem::Place::Column) columns.emplace(one.number, toQt(one.message));
        if (const auto rule = sql::ruleOf(one, design_))
            rules.emplace(std::pair(int(rule->kind), rule->number), toQt(one.message));
    }
    columnsModel_->setProblems(std::move(columns));
    rulesModel_->setProblems(std::move(rules));
}

void TablePage::finish() {
    ObjectPlace there = place_;
    there.object = {.kind = catalog::ObjectKind::Table, .schema = design_.schema, .name = design_.name};
    isOver_ = true;
    Q_EMIT done(there);
}

std::optional<UnfinishedText> TablePage::unfinished() const {
    if (isOver_ || !panel_->hasStatements()) return {};
    return UnfinishedText{title(), panel_->text()};
}

bool TablePage::columnsKey(QKeyEvent* event) {
    const int row = columns_->currentIndex().row();
    if (event->matches(QKeySequence::Paste)) {
        const QString lines = QApplication::clipboard()->text();
        if (!lines.contains(QLatin1Char('\n')) && !lines.contains(QLatin1Char('\t'))) return false;
        return columnsModel_->paste(lines, row) > 0;
    }
    const bool moves =
        event->modifiers() == Qt::AltModifier && (event->key() == Qt::Key_Up || event->key() == Qt::Key_Down);
    if (moves) {
        const int by = event->key() == Qt::Key_Up ? -1 : 1;
        if (columnsModel_->moveColumn(row, by))
            columns_->setCurrentIndex(columnsModel_->index(row + by, columns_->currentIndex().column()));
        return true;
    }
    if (event->key() == Qt::Key_Delete) {
        columnsModel_->removeColumn(row);
        return true;
    }
    return false;
}

bool TablePage::eventFilter(QObject* watched, QEvent* event) {
    if (claimsReturn(event)) {
        event->accept();
        return true;
    }
    if (event->type() != QEvent::KeyPress) return Page::eventFilter(watched, event);
    auto* key = static_cast<QKeyEvent*>(event);
    const bool isReturn = key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter;
    if (isReturn && key->modifiers().testFlag(Qt::ControlModifier)) {
        apply();
        return true;
    }
    if (watched == columns_ && columnsKey(key)) return true;
    if (watched == rules_ && key->key() == Qt::Key_Delete) {
        rulesModel_->remove(rules_->currentIndex().row());
        return true;
    }
    return Page::eventFilter(watched, event);
}

}  // namespace pantry::app

#include "moc_table_page.cpp"
