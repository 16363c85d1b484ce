#include "app/pages/object/object_page.h"

#include <QApplication>
#include <QMenu>
#include <QScrollBar>
#include <algorithm>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/catalog/catalog_model.h"
#include "app/command/command.h"
#include "app/editor/find_strip.h"
#include "app/look/elided_label.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/pages/object/neighbours_view.h"
#include "core/base/text.h"
#include "core/base/time.h"
#include "core/db/engine_traits.h"
#include "core/sql/meaning/read_from.h"
#include "core/store/ledger_search.h"

namespace pantry::app {
namespace {

constexpr int kTwoColumnsFrom = 900;  // pixels of width
constexpr std::size_t kRunsLooked = 200;
constexpr std::size_t kRunsShown = 8;

std::vector<std::pair<std::string, std::string>> textsOf(const std::vector<catalog::Trigger>& triggers) {
    std::vector<std::pair<std::string, std::string>> texts;
    for (const auto& one : triggers) texts.emplace_back(one.name, one.definition.empty() ? one.name : one.definition);
    return texts;
}

/// Runs whose statements name the object, not only have its name somewhere.
std::vector<store::LedgerEntry> naming(std::vector<store::LedgerEntry> entries, const catalog::ObjectName& object,
                                       sql::Dialect dialect) {
    std::erase_if(entries, [&](const store::LedgerEntry& one) {
        const auto named = sql::relationsNamed(one.start.statement, dialect);
        return std::ranges::none_of(named, [&](const sql::NamedRelation& relation) {
            const bool isHere = relation.schema.empty() || base::equalsIgnoringCase(relation.schema, object.schema);
            return isHere && base::equalsIgnoringCase(relation.name, object.name);
        });
    });
    if (entries.size() > kRunsShown) entries.resize(kRunsShown);
    return entries;
}

}  // namespace

ObjectPage::ObjectPage(Desk& desk, ObjectPlace place, QWidget* parent)
    : PlacePage(desk, std::move(place), parent),
      shape_(new ShapeReader(desk, place_, this)),
      scroll_(new QScrollArea(this)) {
    name(this, objectName::kObjectPage, tr("Details of %1").arg(toQt(place_.object.name)));
    scroll_->setWidgetResizable(true);
    auto* bar = new QWidget(this);
    bar->setObjectName(QLatin1String(objectName::kObjectWords));
    links_ = new QHBoxLayout(bar);
    links_->setContentsMargins(26, 0, 26, 4);
    links_->setSpacing(14);
    outer_ = new QVBoxLayout(this);
    outer_->setContentsMargins(0, 0, 0, 0);
    outer_->setSpacing(0);
    wordsBar_ = bar;
    outer_->addWidget(bar);
    outer_->addWidget(scroll_, 1);
    connect(&desk_, &Desk::catalogChanged, this, [this](const QString& id) {
        if (id != place_.connectionId || desk_.catalogs().state(fromQt(id), place_.database).isLoading) return;
        refreshSoon();  // with what is known until the answers come
        readDetails();
        readDefinition();
    });
    connect(&Theme::current(), &Theme::changed, this, &ObjectPage::refresh);
    constexpr int kTogetherMs = 40;
    refreshTimer_.setSingleShot(true);
    refreshTimer_.setInterval(kTogetherMs);
    connect(&refreshTimer_, &QTimer::timeout, this, &ObjectPage::refresh);
    refresh();
    readDetails();
    readDefinition();
    readRuns();
}

QString ObjectPage::title() const { return toQt(place_.object.name); }
QIcon ObjectPage::icon() const { return iconOf(place_.object.kind); }
void ObjectPage::enter() { scroll_->setFocus(); }

void ObjectPage::showRows(bool areShown) {
    if (areShown && rows_ == nullptr) {
        rows_ = new RowsView(desk_, place_, this);
        connect(rows_, &RowsView::sheetRequested, this, &ObjectPage::sheetRequested);
        outer_->addWidget(rows_, 1);
    }
    if (rows_ == nullptr) return;
    rows_->setVisible(areShown);
    scroll_->setVisible(!areShown);
    wordsBar_->setVisible(!areShown);
    if (areShown) rows_->open();
    refresh();
    if (areShown) rows_->pane()->grid()->setFocus();
}

void ObjectPage::readDetails() {
    desk_.catalogs().readDetails(fromQt(place_.connectionId), place_.database, place_.object,
                                 whileThere(this, [this](const Result<catalog::ObjectDetails>& details) {
                                     if (!details) return;
                                     details_ = *details;
                                     refreshSoon();
                                 }));
}

void ObjectPage::readDefinition() {
    desk_.catalogs().readDefinition(fromQt(place_.connectionId), place_.database, place_.object,
                                    whileThere(this, [this](const Result<catalog::Definition>& definition) {
                                        definitionProblem_ = definition ? QString() : toQt(definition.error());
                                        definition_ = definition ? std::optional(*definition) : std::nullopt;
                                        refreshSoon();
                                    }));
}

void ObjectPage::readRuns() {
    if (!catalog::isRelationKind(place_.object.kind)) return;
    const store::LedgerQuery query{.connections = {fromQt(place_.connectionId)},
                                   .search = store::parseLedgerSearch(place_.object.name, base::now()),
                                   .limit = kRunsLooked};
    desk_.ledger().find(query, whileThere(this, [this](const Result<std::vector<store::LedgerEntry>>& found) {
                            if (!found || found->empty()) return;
                            inBackground(
                                this,
                                [entries = *found, object = place_.object, dialect = dialect_] {
                                    return naming(entries, object, dialect);
                                },
                                [this](const std::vector<store::LedgerEntry>& entries) {
                                    if (entries.empty()) return;
                                    runs_ = entries;
                                    refreshSoon();
                                });
                        }));
}

void ObjectPage::refreshSoon() {
    if (!refreshTimer_.isActive()) refreshTimer_.start();
}

/// Made anew from what is known; where one has scrolled to stays.
void ObjectPage::refresh() {
    refreshTimer_.stop();
    const int scrolled = scroll_->verticalScrollBar()->value();
    const QWidget* focused = QApplication::focusWidget();
    const bool hasFocus = focused != nullptr && inner_ != nullptr && inner_->isAncestorOf(focused);
    const QString focusedName = hasFocus ? focused->objectName() : QString();
    sections_.clear();
    delete std::exchange(header_, nullptr);
    inner_ = new QWidget;
    const auto state = catalogState();
    const catalog::ObjectName& wanted = place_.object;
    const catalog::Relation* relation = state.catalog ? state.catalog->find(wanted.schema, wanted.name) : nullptr;
    const catalog::Object* object =
        state.catalog ? state.catalog->findObject(wanted.schema, wanted.name, wanted.signature) : nullptr;
    if (relation != nullptr && catalog::isRelationKind(wanted.kind)) {
        showRelation(*relation, state.catalog);
    } else if (object != nullptr) {
        showObject(*object, state.catalog);
    } else {
        const QString text = state.error     ? toQt(*state.error)
                             : state.catalog ? tr("There is no %1 here any more.").arg(toQt(wanted.name))
                                             : tr("Reading the catalog…");
        header_ = makeHeader(text, {}, {});
    }
    outer_->insertWidget(0, header_);
    header_->show();  // now, so that nobody sees the page without it
    layOut();
    scroll_->setWidget(inner_);  // which deletes the one before
    scroll_->verticalScrollBar()->setValue(scrolled);
    if (focusedName.isEmpty()) return;
    if (auto* same = inner_->findChild<QWidget*>(focusedName)) same->setFocus();
}

void ObjectPage::showRelation(const catalog::Relation& relation, const catalog::CatalogPtr& catalog) {
    QString facts = toQt(catalog::kindName(relation.kind));
    if (relation.rowEstimate)
        facts += QStringLiteral(" · ≈ ") + toQt(base::counted(*relation.rowEstimate, "row", "rows"));
    if (relation.sizeEstimate) {
        facts +=
            QStringLiteral(" · ≈ ") + toQt(base::readableBytes(static_cast<std::uint64_t>(*relation.sizeEstimate)));
    }
    if (!relation.partOf.empty()) facts += tr(" · part of %1").arg(toQt(relation.partOf));
    header_ = makeHeader(facts, relation.comment, relation.problem);
    const GoTo go = [this](const catalog::ObjectName& object) {
        Q_EMIT objectRequested({place_.connectionId, place_.database, object});
    };
    const catalog::ObjectDetails* details = details_ ? &*details_ : nullptr;
    addSection(tr("Columns"), tr("Columns · %1").arg(relation.columns.size()),
               new ColumnsSection(*shape_, relation, inner_), true);
    if (!relation.indexes.empty()) {
        addSection(tr("Indexes"), tr("Keys and indexes · %1").arg(relation.indexes.size()),
                   makeIndexesTable(relation, details), false);
    }
    auto* neighbours = new NeighboursView(relation, *catalog, inner_);
    if (neighbours->isEmpty()) {
        delete neighbours;
    } else {
        connect(neighbours, &NeighboursView::chosen, this, go);
        addSection(tr("Neighbours"), tr("Neighbours by foreign keys"), neighbours, false);
    }
    if (const auto links = linksFrom(relation); !links.empty())
        addSection(tr("Refers to"), tr("Refers to"), makeLinks(links, go), false);
    if (const auto links = linksTo(relation, *catalog); !links.empty()) {
        addSection(tr("Referred to"), tr("Referred to by"), makeLinks(links, go), false);
    }
    std::vector<std::pair<std::string, std::string>> rules;
    for (const auto& one : relation.constraints) rules.emplace_back(one.name, one.definition);
    if (!rules.empty())
        addSection(tr("Constraints"), tr("Constraints · %1").arg(rules.size()), makeTextsList(rules), false);
    if (!relation.triggers.empty()) {
        addSection(tr("Triggers"), tr("Triggers · %1").arg(relation.triggers.size()), makeTriggers(relation.triggers),
                   false);
    }
    if (details != nullptr) {
        if (!details->uses.empty())
            addSection(tr("Reads"), tr("Reads from"), makeLinks(linksOf(details->uses), go), false);
        if (!details->usedBy.empty())
            addSection(tr("Used by"), tr("Used by"), makeLinks(linksOf(details->usedBy), go), false);
        if (!details->rules.empty())
            addSection(tr("Rules"), tr("Rules and policies"), makeTextsList(textsOf(details->rules)), false);
        if (!details->partitions.empty()) {
            addSection(tr("Partitions"), tr("Partitions by %1").arg(toQt(details->partitionKey)),
                       makePartitionsTable(*details), false);
        }
        if (!details->facts.empty())
            addSection(tr("Facts"), tr("Size and facts"), makeFactsTable(details->facts), false);
        if (!details->grants.empty()) addSection(tr("Rights"), tr("Rights"), makeGrantsTable(details->grants), false);
    }
    if (runs_) addSection(tr("Runs"), tr("Last runs that named it"), makeRunsTable(*runs_), false);
    addDefinition();
}

void ObjectPage::showObject(const catalog::Object& object, const catalog::CatalogPtr& catalog) {
    header_ = makeHeader(toQt(catalog::kindName(object.kind)), object.comment, {});
    const bool isRoutine = object.kind == catalog::ObjectKind::Function ||
                           object.kind == catalog::ObjectKind::Procedure ||
                           object.kind == catalog::ObjectKind::Aggregate;
    const GoTo go = [this](const catalog::ObjectName& other) {
        Q_EMIT objectRequested({place_.connectionId, place_.database, other});
    };
    const bool canBeCalled =
        object.kind == catalog::ObjectKind::Function || object.kind == catalog::ObjectKind::Procedure;
    if (details_ && canBeCalled && details_->returns != "trigger") {
        addSection(tr("Call"), tr("Call it"), callForm(catalog.get()), true);
    }
    if (details_ && !details_->parameters.empty()) {
        addSection(tr("Parameters"), tr("Parameters · %1").arg(details_->parameters.size()),
                   makeParametersTable(*details_), false);
    } else if (!object.signature.empty()) {
        addSection(tr("Parameters"), tr("Parameters"), makeTextsList({{"", object.signature}}), false);
    }
    if (!object.detail.empty()) {
        addSection(isRoutine ? tr("Returns") : tr("Content"), isRoutine ? tr("Returns") : tr("What it is"),
                   makeTextsList({{"", object.detail}}), false);
    }
    if (details_) {
        if (!details_->facts.empty()) addSection(tr("Facts"), tr("Facts"), makeFactsTable(details_->facts), false);
        if (!details_->uses.empty())
            addSection(tr("Uses"), tr("Names in its text"), makeLinks(linksOf(details_->uses), go), false);
        if (!details_->usedBy.empty())
            addSection(tr("Used by"), tr("Used by"), makeLinks(linksOf(details_->usedBy), go), false);
        if (!details_->grants.empty()) addSection(tr("Rights"), tr("Rights"), makeGrantsTable(details_->grants), false);
    }
    if (object.kind != catalog::ObjectKind::Extension) addDefinition();
}

/// What somebody has filled in stays, whatever is learned of the routine meanwhile.
CallForm* ObjectPage::callForm(const catalog::Catalog* catalog) {
    if (callForm_ == nullptr || callForm_->parameters() != details_->parameters) {
        callForm_ = new CallForm(place_.object, *details_, dialect_, catalog, inner_);
        connect(callForm_, &CallForm::callRequested, this,
                [this](const QString& statements) { Q_EMIT callRequested(place_, title(), statements); });
    }
    return callForm_;
}

QWidget* ObjectPage::makeHeader(const QString& facts, const std::string& comment, const std::string& problem) {
    auto* header = makeFrame("panel", this);
    auto* layout = new QVBoxLayout(header);
    layout->setContentsMargins(26, 16, 26, 8);
    layout->setSpacing(4);
    auto* row = new QHBoxLayout;
    row->setSpacing(10);
    auto* heading = new ElidedLabel(toQt(place_.object.name), header);
    setLook(heading, "title");
    heading->setSizePolicy(QSizePolicy::Maximum, QSizePolicy::Preferred);
    row->addWidget(heading, 1);
    QString shown = facts;
    if (const db::ConnectionProfile* p = profile()) {
        shown += QStringLiteral(" · ") + toQt(p->name) + QStringLiteral(" › ");
        if (!place_.database.empty()) shown += toQt(place_.database) + QStringLiteral(" › ");
        shown += toQt(place_.object.schema);
    }
    auto* label = new ElidedLabel(shown, header);
    setLook(label, "quiet");
    label->setSizePolicy(QSizePolicy::Maximum, QSizePolicy::Preferred);
    row->addWidget(label, 1);
    addCount(row);
    row->addStretch();
    addVerbs(row);
    layout->addLayout(row);
    const auto addLine = [&](const std::string& text, const char* look) {
        if (text.empty()) return;
        auto* line = makeLabel(toQt(text), look, header);
        line->setWordWrap(true);
        line->setTextInteractionFlags(Qt::TextSelectableByMouse);
        layout->addWidget(line);
    };
    addLine(comment, "quiet");
    addLine(problem, "bad");
    if (details_) {
        for (const std::string& one : details_->problems) addLine(one, "small");
    }
    return header;
}

/// The number of rows as it is now, on demand: on a large table it takes its time, and can be stopped.
void ObjectPage::addCount(QHBoxLayout* row) {
    if (!catalog::isRelationKind(place_.object.kind)) return;
    if (!countWords_.isEmpty()) row->addWidget(makeLabel(countWords_, "small", this));
    auto* button = makeButton(isCounting_ ? tr("Stop") : tr("Count rows"), "link", objectName::kObjectCount,
                              isCounting_ ? tr("Stop counting") : tr("Count the rows exactly"), this);
    connect(button, &QPushButton::clicked, this, [this] { isCounting_ ? counting_.cancel() : countRows(); });
    row->addWidget(button);
}

void ObjectPage::countRows() {
    isCounting_ = true;
    countWords_ = tr("Counting…");
    const auto done = whileThere(this, [this](const Result<std::int64_t>& rows) {
        isCounting_ = false;
        countWords_ = rows ? tr("%1 %2").arg(toQt(base::counted(*rows, "row", "rows")),
                                             toQt(base::spoken(base::now(), base::now())))
                           : toQt(rows.error().message);
        refresh();
    });
    counting_ = desk_.catalogs().countAll(fromQt(place_.connectionId), place_.database, place_.object, done);
    refresh();
}

void ObjectPage::addVerbs(QHBoxLayout* row) {
    if (catalog::isRelationKind(place_.object.kind)) {
        const bool areShown = rows_ != nullptr && !rows_->isHidden();
        auto* grid =
            makeButton(areShown ? tr("Details") : tr("Rows"), areShown ? "" : "main", objectName::kObjectRows,
                       areShown ? tr("Show what is known of it") : tr("Show its rows on the whole page"), this);
        connect(grid, &QPushButton::clicked, this, [this, areShown] { showRows(!areShown); });
        auto* rows =
            makeButton(tr("First rows"), "", objectName::kObjectFirstRows, tr("Show the first rows in a sheet"), this);
        connect(rows, &QPushButton::clicked, this, [this] { Q_EMIT rowsRequested(place_); });
        row->addWidget(grid);
        row->addWidget(rows);
    }
    const bool hasText = std::ranges::count(sql::writtenKinds(dialect_), place_.object.kind) > 0;
    if (hasText) {
        auto* edit =
            makeButton(tr("Edit"), "", objectName::kObjectEdit, tr("Change its text, and put that in its place"), this);
        connect(edit, &QPushButton::clicked, this, [this] { Q_EMIT textRequested(place_, {.object = place_.object}); });
        row->addWidget(edit);
    }
    auto* script = makeButton(tr("Script ▾"), "", "objectScript", tr("Write a script for it"), this);
    auto* scripts = new QMenu(script);
    addScripts(scripts, desk_, {place_}, [this](const ScriptWish& wish) { Q_EMIT scriptRequested(wish); });
    script->setMenu(scripts);
    row->addWidget(script);
    auto* change = makeButton(tr("Change ▾"), "", "objectChange", tr("Change it by a form"), this);
    auto* changes = new QMenu(change);
    addChanges(changes, desk_, place_,
               {.table = [this](const ObjectPlace& one, TableWish wish) { Q_EMIT tableRequested(one, wish); },
                .form = [this](const ObjectPlace& one, const QString& form) { Q_EMIT formRequested(one, form); },
                .text = [this](const ObjectPlace& one,
                               const sql::EditedObject& edited) { Q_EMIT textRequested(one, edited); }});
    change->setMenu(changes);
    row->addWidget(change);
}

void ObjectPage::addSection(const QString& word, const QString& title, QWidget* content, bool isWide) {
    auto* frame = new QWidget(inner_);
    frame->setObjectName(QStringLiteral("section") + word);
    frame->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
    auto* layout = new QVBoxLayout(frame);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(4);
    layout->addWidget(makeLabel(title, "section", frame));
    layout->addWidget(content);
    sections_.push_back({word, frame, isWide});
}

QWidget* ObjectPage::makeTriggers(const std::vector<catalog::Trigger>& triggers) {
    return makeTextsList(textsOf(triggers), [this](const std::string& trigger) {
        Q_EMIT textRequested(place_, {.object = place_.object, .trigger = trigger});
    });
}

/// With the strip that finds in it, as in a sheet.
void ObjectPage::addDefinition() {
    constexpr int kTallest = 460;
    auto* code = new CodeText(kTallest, inner_);
    name(code, objectName::kObjectDefinition, tr("The statements that make it"));
    const std::string text = definition_ ? definition_->whole() : std::string();
    code->show(base::SharedText(definition_                    ? text
                                : definitionProblem_.isEmpty() ? std::string("-- Reading…")
                                                               : "-- " + fromQt(definitionProblem_)),
               dialect_);
    auto* whole = new QWidget(inner_);
    auto* finding = new FindStrip(FindStrip::Reach::Text, *code, whole);
    auto* find = makeButton(tr("Find in it"), "link", objectName::kObjectFind, commandTip("editor.find"), whole);
    connect(find, &QPushButton::clicked, finding, [finding] { finding->open(false); });
    connect(code, &SqlEditor::commandRequested, finding, [finding](const QString& id) {
        if (id == QLatin1String("editor.find")) finding->open(false);
        if (id == QLatin1String("editor.findNext")) finding->goOn(true);
        if (id == QLatin1String("editor.findBefore")) finding->goOn(false);
    });
    auto* layout = new QVBoxLayout(whole);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(4);
    layout->addWidget(code);
    layout->addWidget(finding);
    layout->addWidget(find, 0, Qt::AlignLeft);
    addSection(tr("Definition"), tr("Definition"), whole, true);
}

/// Side by side where there is room: wide sections over the whole width, the others in the shorter of two columns.
void ObjectPage::layOut() {
    isTwoColumns_ = width() >= Theme::px(kTwoColumnsFrom);
    clearLayout(links_);
    delete inner_->layout();
    auto* all = new QVBoxLayout(inner_);
    all->setContentsMargins(26, 8, 26, 24);
    all->setSpacing(16);
    QVBoxLayout* columns[2] = {nullptr, nullptr};
    int heights[2] = {0, 0};
    const auto endColumns = [&] {
        for (QVBoxLayout*& column : columns) {
            if (column != nullptr) column->addStretch();
            column = nullptr;
        }
        heights[0] = heights[1] = 0;
    };
    for (const Section& section : sections_) {
        auto* word = makeButton(section.word, "link", objectName::kObjectWord, tr("Go to %1").arg(section.word), this);
        connect(word, &QPushButton::clicked, this, [this, frame = section.frame] {
            scroll_->verticalScrollBar()->setValue(frame->mapTo(inner_, QPoint(0, 0)).y() - Theme::px(8));
        });
        links_->addWidget(word);
        word->show();
        if (section.isWide || !isTwoColumns_) {
            endColumns();
            all->addWidget(section.frame);
            continue;
        }
        if (columns[0] == nullptr) {
            auto* row = new QHBoxLayout;
            row->setSpacing(28);
            for (QVBoxLayout*& column : columns) {
                column = new QVBoxLayout;
                column->setSpacing(16);
                row->addLayout(column, 1);
            }
            all->addLayout(row);
        }
        const int shorter = heights[0] <= heights[1] ? 0 : 1;
        columns[shorter]->addWidget(section.frame);
        heights[shorter] += section.frame->sizeHint().height() + 16;
    }
    endColumns();
    all->addStretch(1);  // all that is left over: no section is higher than it needs
    links_->addStretch();
}

void ObjectPage::resizeEvent(QResizeEvent* event) {
    Page::resizeEvent(event);
    if ((width() >= Theme::px(kTwoColumnsFrom)) != isTwoColumns_) refresh();
}

}  // namespace pantry::app

#include "moc_object_page.cpp"
