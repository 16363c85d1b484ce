#include "app/tour/tour.h"

#include <QApplication>
#include <QDir>
#include <QFile>
#include <QKeyEvent>
#include <QTimer>
#include <cstdio>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/pages/shelf/difference_view.h"
#include "app/result/result_names.h"
#include "demo/demo_data.h"

namespace pantry::app {
namespace {

/// A part of the window that a step asks for is not there (yet).
struct Missing {
    const char* objectName;
};

constexpr const char* kOrchard = "demo-orchard";  // the connection that most is shown on

constexpr int kCheckEveryMs = 20;
constexpr int kMaxChecks = 1500;  // half a minute a step: more means that something is wrong
constexpr int kSettleMs = 120;    // for the last repaint before a picture

constexpr const char* kFirstQuery =
    "-- which plots need treatment before blossom?\n"
    "select p.name as plot, count(*) as visits, round(avg(i.scab_score), 2) as scab, max(i.visited_on) as last_visit, "
    "w.full_name as lead_warden from plot p join tree t using (plot_id) join inspection i using (tree_id) "
    "left join warden w on w.warden_id = p.lead_warden_id where i.visited_on >= '2026-01-01' "
    "group by p.plot_id order by scab desc;\n";

constexpr const char* kMoreQueries =
    "\nSELECT * FROM inspection;\n\nSELECT v.fruit, sum(k.weight_kg) AS weight_kg\nFROM picking k\n"
    "JOIN tree t USING (tree_id)\nJOIN variety v ON v.variety_id = t.variety\nGROUP BY v.fruit;\n";

void sendKey(QWidget* target, int key, Qt::KeyboardModifiers modifiers, const QString& text = {}) {
    QKeyEvent press(QEvent::KeyPress, key, modifiers, text);
    QKeyEvent release(QEvent::KeyRelease, key, modifiers, text);
    QApplication::sendEvent(target, &press);
    QApplication::sendEvent(target, &release);
}

}  // namespace

Tour::Tour(MainWindow& window, Desk& desk, QString folder) : window_(window), desk_(desk), folder_(std::move(folder)) {}

template <class Widget>
Widget* Tour::find(const char* objectName) const {
    for (Widget* widget : window_.findChildren<Widget*>(QLatin1String(objectName))) {
        if (widget->isVisible()) return widget;
    }
    if (auto* hidden = window_.findChild<Widget*>(QLatin1String(objectName))) return hidden;
    throw Missing{objectName};
}

bool Tour::isResultThere() const {
    const SheetPage* page = window_.currentSheet();
    if (page == nullptr || page->sheet().cards().empty()) return false;
    const auto& cards = page->sheet().cards();
    return std::ranges::none_of(cards, [](const Card* c) { return c->isGoingOn() || !c->run().isKept(); });
}

void Tour::type(const QString& text) {
    QWidget* editor = find<QWidget>(objectName::kEditor);
    for (const QChar c : text)
        sendKey(editor, c == QLatin1Char('\n') ? Qt::Key_Return : Qt::Key_unknown, Qt::NoModifier, QString(c));
}

void Tour::start() {
    if (!QDir().mkpath(folder_)) return fail(tr("the folder %1 cannot be made").arg(folder_));
    window_.resize(1280, 800);
    addSteps();
    next();
}

void Tour::step(const QString& text, std::function<void()> act, std::function<bool()> isDone, const QString& picture) {
    steps_.push_back({text, std::move(act), std::move(isDone), picture});
}

void Tour::addSteps() {
    connectionSteps();
    writingSteps();
    queryHelpSteps();
    resultSteps();
    compareSteps();
    findingSteps();
    guardSteps();
}

void Tour::connectionSteps() {
    step(
        tr("Choose daylight, look at the connections"),
        [this] {
            window_.chooseTheme(QStringLiteral("daylight"));
            window_.showConnections();
            find<ConnectionsPage>(objectName::kConnectionsPage)->choose(QLatin1String(kOrchard));
            find<QPushButton>(objectName::kFormTest)->click();
        },
        [this] { return find<QFrame>(objectName::kConnectionForm)->findChildren<QLabel*>().size() > 12; },
        QStringLiteral("connections"));
    step(
        tr("Find something among thousands of tables"),
        [this] {
            constexpr int kTables = 5000;  // twice as many take SQLite seven times as long to make
            db::ConnectionProfile p;
            p.id = "tour-archive";
            p.name = "Archive of the valley";
            p.database = (std::filesystem::temp_directory_path() / "archive-of-the-valley.db").string();
            p.environment = db::Environment::Trial;
            p.colour = "beet";
            p.group = "Sensors";
            if (const Status status = demo::writeArchive(p.database, kTables); !status)
                return fail(toQt(status.error()));
            desk_.connections().put(p);
            window_.openSheet(QStringLiteral("tour-archive"));
            find<QLineEdit>(objectName::kCatalogFind)->setText(QStringLiteral("walfro19"));
        },
        [this] {
            const auto* list = find<QListView>(objectName::kObjectList);
            return desk_.catalogs().state("tour-archive").catalog != nullptr && list->model()->rowCount() > 20;
        },
        QStringLiteral("catalog-large"));
    step(tr("Put the archive away"), [this] {
        QFile::remove(toQt(desk_.connections().profile("tour-archive")->database));
        find<QLineEdit>(objectName::kCatalogFind)->clear();
        desk_.connections().remove("tour-archive");
        window_.closeCurrentPage();
    });
}

void Tour::writingSteps() {
    step(
        tr("Open a sheet on Orchard records"),
        [this] {
            window_.openSheet(QLatin1String(kOrchard));
            window_.currentSheet()->sheet().setTitle(tr("Scab by plot"));
        },
        [this] { return desk_.catalogs().state(kOrchard).catalog != nullptr; });
    step(
        tr("Write a query, format it, run it"),
        [this] {
            SheetPage* page = window_.currentSheet();
            page->editor()->insertText(kFirstQuery);
            page->format();
            page->editor()->setCaret(60);
            page->runAtCaret();
        },
        [this] { return isResultThere(); });
    step(
        tr("Run two more, one with a mistake"),
        [this] {
            SheetPage* page = window_.currentSheet();
            page->editor()->setCaret(page->editor()->text().size());
            page->editor()->insertText(kMoreQueries);
            const std::string text = page->editor()->text().str();
            page->editor()->setCaret(text.find("FROM inspection;"));
            page->runAtCaret();
            page->editor()->setCaret(text.find("t.variety\n"));
            page->runAtCaret();
            page->editor()->setCaret(60);
        },
        [this] { return isResultThere(); });
    step(
        tr("Look at a row"),
        [this] {
            SheetPage* page = window_.currentSheet();
            page->chooseCard(1);
            page->editor()->setCaret(0);
            page->result()->grid()->setCurrentIndex(page->result()->model()->index(0, 2));
            auto* selection = page->result()->grid()->selectionModel();
            for (int row = 0; row < 4; ++row)
                selection->select(page->result()->model()->index(row, 2), QItemSelectionModel::Select);
        },
        [this] { return !find<QLabel>(objectName::kStatusSelection)->text().isEmpty(); },
        QStringLiteral("sheet-daylight"));
    step(
        tr("The same by lamplight"), [this] { window_.chooseTheme(QStringLiteral("lamplight")); }, {},
        QStringLiteral("sheet-lamplight"));
    step(
        tr("Complete a join by its foreign key"),
        [this] {
            window_.chooseTheme(QStringLiteral("daylight"));
            SheetPage* page =
                window_.openSheet(QStringLiteral("demo-orchard"),
                                  tr("SELECT i.*, w.full_name\nFROM inspection AS i\nJOIN warden AS w ON w"));
            page->sheet().setTitle(tr("Visits by warden"));
            type(QStringLiteral("."));
        },
        [this] { return window_.currentSheet()->editor()->isCompleting(); }, QStringLiteral("completion"));
    step(
        tr("See mistakes before the server does"),
        [this] {
            SqlEditor* editor = window_.currentSheet()->editor();
            sendKey(find<QWidget>(objectName::kEditor), Qt::Key_Escape, Qt::NoModifier);
            editor->replaceText(fromQt(tr("SELECT w.ful_name, count(*) AS visits\nFROM warden w\n"
                                          "JOIN inspection i ON i.warden_id = w.warden_id\nWHERE i.remark = NULL\n"
                                          "GROUP BY w.warden_id;\n\nSELECT plot_id, max(visited_on)\nFROM inspections\n"
                                          "GROUP BY plot_id;\n\nDELETE FROM treatment;\n")),
                                0);
        },
        [this] { return window_.currentSheet()->editor()->hints().size() >= 4; }, QStringLiteral("mistakes"));
}

void Tour::queryHelpSteps() {
    step(
        tr("Give parameters their values"),
        [this] {
            SheetPage* page = window_.currentSheet();
            page->editor()->replaceText(
                fromQt(tr("SELECT p.name AS plot, count(*) AS visits, avg(i.scab_score) AS scab\n"
                          "FROM inspection i JOIN tree t USING (tree_id) JOIN plot p USING (plot_id)\n"
                          "WHERE i.visited_on >= :since AND p.name IN (:plots)\n"
                          "GROUP BY p.name ORDER BY scab DESC;\n\n"
                          "SELECT t.tag, t.planted_on FROM tree t WHERE t.plot_id = 3;\n\n")),
                0);
            page->sheet().giveParameter("since", {.typed = "2025-01-01"});
            page->sheet().giveParameter("plots", {.typed = "Saltmarsh, Quarry Field"});
            page->sheet().whenRead([page] { page->runAtCaret(); });
        },
        [this] { return isResultThere() && find<QFrame>(objectName::kParameterStrip) != nullptr; },
        QStringLiteral("parameters"));
    step(
        tr("See what a name is"),
        [this] {
            SqlEditor* editor = window_.currentSheet()->editor();
            editor->setCaret(editor->text().str().find("tree t WHERE") + 2);
            window_.currentSheet()->names().showDefinition();
        },
        [this] {
            const auto* code = find<QPlainTextEdit>(objectName::kDefinitionCode);
            return code != nullptr && code->toPlainText().contains(QLatin1String("CREATE"));
        },
        QStringLiteral("definition"));
    step(
        tr("Begin with a snippet"),
        [this] {
            SqlEditor* editor = window_.currentSheet()->editor();
            sendKey(find<QWidget>(objectName::kEditor), Qt::Key_Escape, Qt::NoModifier);
            editor->replaceText({}, 0);
            type(QStringLiteral("pivo"));
        },
        [this] { return window_.currentSheet()->editor()->isCompleting(); });
    step(
        tr("Go through its places"),
        [this] {
            sendKey(find<QWidget>(objectName::kEditor), Qt::Key_Tab, Qt::NoModifier);
            type(QStringLiteral("grade"));
            sendKey(find<QWidget>(objectName::kEditor), Qt::Key_Tab, Qt::NoModifier);
            type(QStringLiteral("picker"));
        },
        [this] { return window_.currentSheet()->editor()->carets() == 2; }, QStringLiteral("snippet"));
}

void Tour::resultSteps() {
    step(
        tr("Export the inspections"),
        [this] {
            sendKey(find<QWidget>(objectName::kEditor), Qt::Key_Escape, Qt::NoModifier);
            sendKey(find<QWidget>(objectName::kEditor), Qt::Key_Escape, Qt::NoModifier);
            window_.currentSheet()->editor()->setCaret(0);
            auto* tabs = find<QTabBar>(objectName::kSheetTabs);
            for (int i = 0; i < tabs->count(); ++i) {
                if (tabs->tabText(i) == tr("Scab by plot")) tabs->setCurrentIndex(i);
            }
            window_.currentSheet()->chooseCard(2);
            window_.currentSheet()->result()->openExport();
            find<QLineEdit>(objectName::kExportFile)
                ->setText(QDir(QDir::tempPath()).filePath(QStringLiteral("inspection.csv")));
            find<QPushButton>(objectName::kExportStart)->click();
        },
        [this] { return find<QLabel>(objectName::kExportState)->text().startsWith(tr("Wrote")); },
        QStringLiteral("export"));
    step(
        tr("Narrow the rows, colour them, look where a key leads"),
        [this] {
            QFile::remove(QDir(QDir::tempPath()).filePath(QStringLiteral("inspection.csv")));
            find<QPushButton>(objectName::kExportClose)->click();
            ResultPane* pane = window_.currentSheet()->result();
            const auto column = [pane](const char* name) { return pane->model()->look()->columnOf(name); };
            data::GridChoices choices = pane->model()->look()->choices();
            choices.frozen = 1;
            choices.rules = {{.column = "scab_score", .test = data::Test::AtLeast, .values = {"5"}, .colour = "tomato"},
                             {.column = "scab_score", .test = data::Test::AtMost, .values = {"1"}, .colour = "sage"}};
            Q_EMIT pane->grid()->choicesChanged(choices);
            pane->grid()->applyChoices();
            data::ViewRequest request = pane->source()->viewRequest();
            request.order = {{static_cast<std::size_t>(column("visited_on")), true}};
            request.filter.conditions = {
                {static_cast<std::size_t>(column("scab_score")), data::Test::OneOf, true, {"2", "3"}},
                {static_cast<std::size_t>(column("remark")), data::Test::IsNull, true, {}}};
            pane->source()->requestView(request);
        },
        [this] {
            ResultPane* pane = window_.currentSheet()->result();
            if (pane->source()->view()->isWhole() || pane->model()->rowCount() == 0) return false;
            const int warden = pane->model()->look()->columnOf("warden_id");
            if (pane->grid()->currentIndex().column() != warden) {
                pane->grid()->setCurrentIndex(pane->model()->index(1, warden));
            }
            return !pane->model()->index(1, warden).data(GridModel::LabelRole).toString().isEmpty();
        },
        QStringLiteral("rows"));
    step(tr("Three of them side by side"),
         [this] {
             ResultPane* pane = window_.currentSheet()->result();
             for (const int row : {1, 2, 4}) {
                 pane->grid()->selectionModel()->select(pane->model()->index(row, 1), QItemSelectionModel::Select);
             }
             pane->showView(ResultPane::View::Record);
         },
         {}, {});
    step(
        tr("What the columns are like"),
        [this] { window_.currentSheet()->result()->showView(ResultPane::View::Profile); },
        [this] { return window_.findChild<QWidget*>(QStringLiteral("profileValue")) != nullptr; },
        QStringLiteral("profile"));
}

void Tour::findingSteps() {
    const auto entries = [this] { return find<QListView>(objectName::kLedgerList)->model()->rowCount(); };
    const auto all = std::make_shared<int>(0);
    step(
        tr("Look into the ledger"),
        [this] {
            window_.currentSheet()->result()->showView(ResultPane::View::Grid);
            find<QPushButton>(objectName::kLedgerTab)->click();
        },
        [entries] { return entries() > 3; });
    step(
        tr("Find it again in the ledger"),
        [this, entries, all] {
            *all = entries();
            find<QLineEdit>(objectName::kLedgerFind)->setText(QStringLiteral("inspection"));
        },
        [entries, all] { return entries() > 3 && entries() < *all; });
    step(
        tr("See all of it on a page"),
        [this] {
            window_.findChild<QAction*>(QStringLiteral("command.view.wholeLedger"))->trigger();
            find<QLineEdit>("ledgerPageFind")->setText(QStringLiteral("inspection -failed"));
        },
        [this] {
            const auto* line = window_.findChild<QWidget*>(QStringLiteral("runStatement"));
            return line != nullptr && line->isVisible();
        },
        QStringLiteral("ledger"));
    step(
        tr("See what became of a saved query"),
        [this] {
            find<QPushButton>(objectName::kShelfTab)->click();
            window_.showQuery({{}, "plot-health/scab-by-plot.sql"});
        },
        [this] {
            const auto* view = window_.findChild<DifferenceView*>();
            return view != nullptr && view->isVisible() && !view->lines().empty();
        },
        QStringLiteral("shelf"));
    step(
        tr("Read the details of a table"),
        [this] {
            find<QPushButton>(objectName::kCatalogTab)->click();
            window_.openObject({QStringLiteral("demo-orchard"), {}, {.schema = "main", .name = "tree"}});
        },
        [this] {
            const auto* facts = find<QWidget>("objectFacts");  // what is asked for when somebody looks
            return facts != nullptr && facts->isVisible();
        },
        QStringLiteral("object"));
}

void Tour::guardSteps() {
    step(
        tr("Change something on the live records: it is held back"),
        [this] {
            SheetPage* page = window_.openSheet(QStringLiteral("demo-live"),
                                                tr("SELECT plot_id, name, hectares\nFROM plot\nWHERE hectares < "
                                                   "1;\n\nUPDATE plot\nSET name = upper(name)\n"
                                                   "WHERE hectares < 1;"));
            page->sheet().setTitle(tr("Small plots"));
            page->editor()->setCaret(1);
            page->runAtCaret();
            page->editor()->setCaret(70);
            page->runAtCaret();
        },
        [this] { return find<QLabel>(objectName::kHeldCount)->text().contains(tr("match")) && isResultThere(); },
        QStringLiteral("held-back"));
    step(
        tr("Cancel; on the trial records, manual commit"),
        [this] {
            find<QPushButton>(objectName::kHeldLeave)->click();
            SheetPage* page = window_.openSheet(QStringLiteral("demo-orchard"),
                                                tr("UPDATE inspection\nSET remark = 'seen again'\nWHERE scab_score > "
                                                   "8;\n\nSELECT wheer, remark\nFROM inspection;"));
            page->sheet().setTitle(tr("Second look"));
            page->sheet().session().setCommitsByHand(true);
            page->runAll();
        },
        [this] {
            return !window_.currentSheet()->sheet().isRunning() &&
                   window_.currentSheet()->sheet().session().hasOpenChanges();
        },
        QStringLiteral("open-changes"));
    step(
        tr("Undo the changes"), [this] { find<QPushButton>(objectName::kUndoButton)->click(); },
        [this] { return !window_.currentSheet()->sheet().session().hasOpenChanges(); });
    step(
        tr("Reach for anything"),
        [this] {
            window_.openReach();
            find<QLineEdit>(objectName::kReachInput)->setText(QStringLiteral("plot"));
        },
        [this] { return find<QListWidget>(objectName::kReachList)->count() > 4; }, QStringLiteral("reach"));
}

/// The same query on the trial records and on the live ones, some weeks later.
void Tour::compareSteps() {
    const QString query =
        tr("SELECT tree_id, plot_id, variety_id, planted_on, felled_on\nFROM tree\nORDER BY tree_id;");
    const auto runOn = [this, query](const char* connection) {
        SheetPage* page = window_.openSheet(QLatin1String(connection), query);
        page->sheet().setTitle(tr("Trees"));
        page->runAll();
        return page;
    };
    const auto readAll = [this] {
        const SheetPage* page = window_.currentSheet();
        if (!isResultThere()) return false;
        Card* card = page->sheet().cards().front();
        if (!card->hasMore()) return true;
        card->fetchAll();
        return false;
    };
    steps_.push_back({tr("Read the trees of the trial records"), [runOn] { runOn("demo-orchard"); }, readAll, {}});
    steps_.push_back({tr("Read the trees of the live records"), [runOn] { runOn("demo-live"); }, readAll, {}});
    steps_.push_back({tr("Compare them"),
                      [this] {
                          window_.currentSheet()->result()->showView(ResultPane::View::Grid);
                          window_.currentSheet()->result()->openCompare();
                          auto* before = find<QComboBox>(resultName::kCompareBefore);
                          const int trial = before->count() - 1;
                          before->setCurrentIndex(trial);
                          Q_EMIT before->activated(trial);
                      },
                      [this] {
                          if (find<QListWidget>(resultName::kCompareKeys)->count() == 0) return false;
                          QPushButton* start = find<QPushButton>(resultName::kCompareStart);
                          if (start->isEnabled() && !window_.currentSheet()->result()->source()->isComparison()) {
                              start->click();
                          }
                          return window_.currentSheet()->result()->source()->isComparison();
                      },
                      QStringLiteral("comparison")});
    steps_.push_back(
        {tr("Leave the comparison"), [this] { find<QPushButton>(resultName::kCompareClose)->click(); }, {}, {}});
}

void Tour::next() {
    if (at_ == steps_.size()) {
        std::printf("The pictures are in %s\n", qPrintable(QDir(folder_).absolutePath()));
        return QApplication::exit(0);
    }
    std::printf("%2zu  %s\n", at_ + 1, qPrintable(steps_[at_].text));
    std::fflush(stdout);
    checks_ = 0;
    try {
        steps_[at_].act();
    } catch (const Missing& missing) {
        return fail(tr("“%1” is not there").arg(QLatin1String(missing.objectName)));
    }
    check();
}

/// What is made only when it is needed may come later than the first look at it.
bool Tour::isDone() const {
    try {
        return !steps_[at_].isDone || steps_[at_].isDone();
    } catch (const Missing&) {
        return false;
    }
}

void Tour::check() {
    if (!isDone()) {
        if (++checks_ > kMaxChecks) {
            window_.grab().save(QDir(folder_).filePath(QStringLiteral("failed.png")));
            return fail(tr("the step “%1” did not come to its end").arg(steps_[at_].text));
        }
        return QTimer::singleShot(kCheckEveryMs, this, &Tour::check);
    }
    QTimer::singleShot(kSettleMs, this, [this] {
        if (!steps_[at_].picture.isEmpty()) picture(steps_[at_].picture);
        ++at_;
        next();
    });
}

void Tour::picture(const QString& name) {
    const QString path = QDir(folder_).filePath(name + QStringLiteral(".png"));
    if (!window_.grab().save(path)) fail(tr("%1 cannot be written").arg(path));
}

void Tour::fail(const QString& text) {
    std::fprintf(stderr, "agile-pantry: the tour ended early: %s\n", qPrintable(text));
    QApplication::exit(1);
}

}  // namespace pantry::app

#include "moc_tour.cpp"
