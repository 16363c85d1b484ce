// What Reach finds: MainWindow's third file, by theme.
#include <fmt/format.h>
#include <QIntValidator>
#include <QLineEdit>
#include <QPointer>

#include <algorithm>
#include <array>
#include <limits>
#include <utility>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/command/command.h"
#include "app/look/pick_list.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/shell/main_window.h"
#include "core/base/text.h"
#include "core/db/engine_traits.h"
#include "core/sql/forms/form.h"

namespace pantry::app {
namespace {

constexpr std::size_t kReachLedgerEntries = 8;
constexpr std::size_t kReachLedgerRuns = 40;  // where somebody looks among them alone

}  // namespace

void MainWindow::openReach() {
    reach_->open(everything());
    noteUsage();
}

/// How lately connections were used, for the next time that somebody reaches for one.
void MainWindow::noteUsage() {
    desk_.ledger().readUsage(whileThere(this, [this](const std::vector<store::Ledger::Usage>& usage) {
        lastUse_.clear();
        for (const auto& u : usage) lastUse_.insert(toQt(u.connectionId), u.last);
    }));
}

/// Those used last come first; the others stay in their order behind them.
std::vector<db::ConnectionProfile> MainWindow::profilesByUse() const {
    std::vector<db::ConnectionProfile> profiles = desk_.connections().profiles();
    std::ranges::stable_sort(profiles, std::ranges::greater{}, [this](const db::ConnectionProfile& p) {
        return lastUse_.value(toQt(p.id), base::Moment{});
    });
    return profiles;
}

Reach::Scope MainWindow::everything() {
    Reach::Scope scope;
    scope.reached = desk_.windowState().reached;
    addPagesTo(scope);
    addPlacesTo(scope);
    addCommandsTo(scope);
    addFormsTo(scope);
    addLedgerAgesTo(scope);
    addSettingsTo(scope);
    addHelpTo(scope);
    return scope;
}

/// What is open: pages, and the results of the sheets.
void MainWindow::addPagesTo(Reach::Scope& scope) {
    for (Page* page : host_->pages()) {
        scope.before.push_back({.title = page->title(),
                                .kind = tr("page"),
                                .detail = tr("open"),
                                .act =
                                    [this, guard = QPointer<Page>(page)] {
                                        if (!guard) return;
                                        host_->bringToFront(guard);
                                        guard->setFocus();
                                    },
                                .of = work::ReachKind::Sheet});
    }
    for (SheetPage* page : sheets()) {
        int number = 0;
        for (const Card* card : page->sheet().cards()) {
            ++number;
            scope.behind.push_back({.title = card->title(),
                                    .kind = tr("result"),
                                    .detail = page->title(),
                                    .act =
                                        [this, guard = QPointer<SheetPage>(page), number] {
                                            if (!guard) return;
                                            host_->bringToFront(guard);
                                            guard->chooseCard(number);
                                        },
                                    .of = work::ReachKind::Card});
        }
    }
}

/// Connections with their catalogs, and what is saved.
void MainWindow::addPlacesTo(Reach::Scope& scope) {
    for (const work::ShelvedQuery& one : desk_.shelf().queries()) {
        const QString folder = spokenFolder({one.place.shelf, one.item.folder()});
        Reachable query{.title = toQt(one.item.head.title),
                        .kind = one.item.isNotebook ? tr("notebook") : tr("query"),
                        .detail = folder,
                        .act = [this, place = one.place] { openSaved(place, false); },
                        .also = toQt(one.item.head.note),
                        .of = work::ReachKind::Query};
        if (!one.item.isNotebook) query.runNow = [this, place = one.place] { openSaved(place, true); };
        scope.before.push_back(std::move(query));
    }
    for (const auto& p : profilesByUse()) {
        scope.before.push_back({.title = tr("New sheet on %1").arg(toQt(p.name)),
                                .kind = tr("action"),
                                .detail = toQt(db::environmentWord(p.environment)),
                                .act = [this, id = toQt(p.id)] { openSheet(id); },
                                .also = command("sheet.new").also,
                                .of = work::ReachKind::Connection});
        scope.catalogs.push_back({p.id, p.name, desk_.catalogs().state(p.id).catalog});
    }
    scope.ofRelation = [this](const work::ReachCatalog& place, const catalog::Relation& r) {
        const catalog::ObjectName object{.kind = r.kind, .schema = r.schema, .name = r.name};
        const ObjectPlace there{toQt(place.connection), {}, object};
        return Reachable{.title = toQt(r.name),
                         .kind = toQt(catalog::kindName(r.kind)),
                         .detail = toQt(place.name),
                         .act = [this, there] { openObject(there); },
                         .of = work::ReachKind::Relation,
                         .runNow = [this, there] { showFirstRows(there); }};
    };
}

/// Everything that can be done, and set.
/// What can be made or changed where the catalog beside the pages is.
void MainWindow::addFormsTo(Reach::Scope& scope) {
    const ObjectPlace place = catalog_->placeAtHand();
    const db::ConnectionProfile* profile = desk_.connections().profile(fromQt(place.connectionId));
    if (profile == nullptr) return;
    const sql::FormPlace formPlace{.dialect = db::dialectOf(profile->engine), .object = place.object};
    const auto add = [&](const QString& title, std::function<void()> act) {
        scope.behind.push_back({.title = title,
                                .kind = tr("action"),
                                .detail = toQt(profile->name),
                                .act = std::move(act),
                                .of = work::ReachKind::Action});
    };
    for (const sql::FormEntry& form : sql::formEntries()) {
        if (form.group == sql::FormGroup::Object || !form.isFor(formPlace)) continue;
        add(toQt(form.label), [this, place, id = toQt(form.id)] { openForm(place, id); });
    }
    for (const catalog::ObjectKind kind : sql::writtenKinds(formPlace.dialect)) {
        add(tr("New %1…").arg(toQt(catalog::kindName(kind))),
            [this, place, kind] { editText(place, {.object = {.kind = kind, .schema = place.object.schema}}); });
    }
}

void MainWindow::addCommandsTo(Reach::Scope& scope) {
    for (const Command& one : commands()) {
        if (one.isOfWidget || one.menu.isEmpty()) continue;
        scope.behind.push_back({.title = one.text,
                                .kind = one.isSetting ? tr("setting") : tr("action"),
                                .detail = keyText(one.id),
                                .act = [this, id = one.id] { runCommand(id); },
                                .also = one.also,
                                .of = one.isSetting ? work::ReachKind::Setting : work::ReachKind::Action});
    }
    if (SheetPage* page = currentSheet()) {
        for (const snippet::Snippet& one : page->snippets().all()) {
            scope.behind.push_back({.title = toQt(one.title),
                                    .kind = tr("snippet"),
                                    .detail = toQt(one.trigger),
                                    .act =
                                        [this, guard = QPointer<SheetPage>(page), one] {
                                            if (!guard) return;
                                            host_->bringToFront(guard);
                                            guard->snippets().putAtCaret(one);
                                        },
                                    .also = toQt(one.trigger),
                                    .of = work::ReachKind::Snippet,
                                    .whole = toQt(one.text)});
        }
    }
}

/// A setting as something to reach for; choosing it makes it so.
Reachable MainWindow::reachableOf(const work::SettingWish& wish) {
    const bool isSo = wish.setting->get(desk_.settings()) == wish.value;
    return {
        .title = toQt(work::settingText(wish)),
        .kind = tr("setting"),
        .detail = isSo ? tr("as it is") : QString(),
        .act = [this,
                wish] { desk_.preferences().changeSettings([wish](auto& s) { wish.setting->set(s, wish.value); }); },
        .also = toQt(fmt::format("{} {} settings preferences", wish.setting->group, wish.setting->sentence)),
        .of = work::ReachKind::Setting,
        .whole = toQt(wish.setting->sentence)};
}

/// Those that no command changes: both ways of a switch, the words of a choice; of a number how it is, and a place to
/// type another one.
void MainWindow::addSettingsTo(Reach::Scope& scope) {
    constexpr auto kWithCommands = std::to_array<std::string_view>(
        {"theme", "textSize", "gridTextSize", "gridShaded", "textWrapped", "blanksShown", "numbersShown"});
    for (const store::SettingDescriptor& setting : store::settingTable()) {
        if (std::ranges::find(kWithCommands, setting.id) != kWithCommands.end()) continue;
        for (const work::SettingWish& wish : work::listedWishes(setting)) scope.behind.push_back(reachableOf(wish));
        const store::SettingValue now = setting.get(desk_.settings());
        if (!std::holds_alternative<std::int64_t>(now)) continue;
        Reachable one = reachableOf(work::SettingWish{&setting, now});
        one.detail = tr("another number…");
        one.act = [this, label = toQt(setting.label)] {
            openReach();
            reach_->type(label + QLatin1Char(' '));
        };
        scope.behind.push_back(std::move(one));
    }
}

/// How long the ledger keeps runs.
void MainWindow::addLedgerAgesTo(Reach::Scope& scope) {
    const std::array ages{std::pair(0, tr("for good")), std::pair(90, tr("for 90 days")),
                          std::pair(365, tr("for a year")), std::pair(1095, tr("for three years"))};
    for (const auto& [days, text] : ages) {
        scope.behind.push_back({.title = tr("Keep runs in the ledger %1").arg(text),
                                .kind = tr("setting"),
                                .detail = desk_.settings().ledgerDays == days ? tr("as it is") : QString(),
                                .act =
                                    [this, days = days] {
                                        desk_.preferences().changeSettings([days](auto& s) { s.ledgerDays = days; });
                                        desk_.ledger().thin(days, desk_.settings().ledgerRuns);
                                    },
                                .also = tr("history age limit thin remove old settings preferences"),
                                .of = work::ReachKind::Setting});
    }
}

void MainWindow::noteReached(const QString& title) {
    constexpr std::size_t kRemembered = 20;
    desk_.preferences().changeWindowState([&](store::WindowState& state) {
        std::erase(state.reached, fromQt(title));
        state.reached.insert(state.reached.begin(), fromQt(title));
        if (state.reached.size() > kRemembered) state.reached.resize(kRemembered);
    });
}

/// What follows from the text itself: a number for a setting, and runs of the ledger.
void MainWindow::reachFurther(const QString& text) {
    const work::ReachWish wish = work::reachWish(fromQt(text));
    std::vector<Reachable> settings;
    if (!wish.kind || wish.kind == work::ReachKind::Setting) {
        for (const work::SettingWish& one : work::settingWishes(wish.pattern)) settings.push_back(reachableOf(one));
    }
    if (!settings.empty()) reach_->add(text, settings);
    const bool isForRuns = wish.kind == work::ReachKind::Run;
    if (wish.kind && !isForRuns) return;
    if (wish.pattern.size() < 2 && !isForRuns) return;
    const store::LedgerQuery query{.search = store::parseLedgerSearch(wish.pattern, base::now()),
                                   .limit = isForRuns ? kReachLedgerRuns : kReachLedgerEntries};
    desk_.ledger().findFolded(query, whileThere(this, [this, text, settings](const Result<store::LedgerPage>& page) {
                                  if (!page) return;
                                  std::vector<Reachable> found = settings;
                                  for (const store::LedgerFold& one : page->folds)
                                      found.push_back(reachableOf(one.last));
                                  reach_->add(text, std::move(found));
                              }));
}

Reachable MainWindow::reachableOf(const store::LedgerEntry& entry) {
    const QString id = toQt(entry.start.connectionId);
    const std::string statement = entry.start.statement;
    return {.title = toQt(base::oneLine(statement, 120)),
            .kind = tr("ledger"),
            .detail = toQt(base::spoken(entry.startedAt, base::now())),
            .act = [this, id, statement] { sheetOn(id)->appendStatement(statement); },
            .of = work::ReachKind::Run,
            .whole = toQt(statement),
            .runNow = [this, id, statement] { runFromLedger(id, statement); }};
}

void MainWindow::showKeys() {
    if (!keys_) host_->add(keys_ = new KeysPage, false);
    host_->bringToFront(keys_);
    keys_->enter();
}

GuidePage* MainWindow::showGuide() {
    if (!guide_) host_->add(guide_ = new GuidePage(host_->placeOfPages()), false);
    host_->bringToFront(guide_);
    guide_->enter();
    return guide_;
}

void MainWindow::addHelpTo(Reach::Scope& scope) {
    constexpr std::size_t kGlanceWidth = 76;
    constexpr std::size_t kGlanceLines = 8;
    for (std::size_t i = 0; i < guide().size(); ++i) {
        const work::GuideTopic& topic = guide()[i];
        scope.behind.push_back({.title = toQt(topic.title),
                                .kind = tr("help"),
                                .detail = topic.isChapter() ? QString() : toQt(topic.chapter),
                                .act = [this, i] { showGuide()->showTopic(i); },
                                .also = tr("help how guide ") + toQt(topic.chapter),
                                .of = work::ReachKind::Help,
                                .whole = toQt(work::glanceAt(topic, kGlanceWidth, kGlanceLines))});
    }
}

/// The whole page; a statement of it goes into a sheet on its connection, and runs there when that is wanted.
void MainWindow::showLedger() {
    if (!ledgerPage_) {
        ledgerPage_ = new LedgerPage(desk_, host_->placeOfPages());
        ledgerPage_->setConnection(connectionInFront());
        connect(ledgerPage_, &LedgerPage::remarked, this, &MainWindow::say);
        connect(ledgerPage_, &LedgerPage::sheetRequested, this, [this](const QString& id, const QString& statement) {
            sheetOn(id)->appendStatement(fromQt(statement));
        });
        connect(ledgerPage_, &LedgerPage::runRequested, this,
                [this](const QString& id, const QString& statement) { runFromLedger(id, fromQt(statement)); });
        host_->add(ledgerPage_, false);
    }
    host_->bringToFront(ledgerPage_);
    ledgerPage_->enter();
}

void MainWindow::runFromLedger(const QString& connectionId, const std::string& statement) {
    SheetPage* page = sheetOn(connectionId);
    page->appendStatement(statement);
    page->sheet().whenRead([page] { page->runAtCaret(); });
}

SnippetsPage* MainWindow::showSnippets() {
    if (!snippets_) host_->add(snippets_ = new SnippetsPage(desk_, host_->placeOfPages()), false);
    host_->bringToFront(snippets_);
    snippets_->enter();
    return snippets_;
}

/// Of what is selected in the sheet in front.
void MainWindow::makeSnippet() {
    const SheetPage* page = currentSheet();
    const std::string text = page->editor()->selection();
    if (text.empty()) return say(tr("Select the text that the snippet is to hold."));
    showSnippets()->begin(text, page->sheet().dialect());
}

/// The number is typed into a small field above the text.
void MainWindow::askForLine() {
    const QPointer<SqlEditor> editor = currentSheet()->editor();
    auto* field = new QLineEdit(this);
    name(field, objectName::kLineField, tr("Line to go to"));
    field->setWindowFlag(Qt::Popup);
    field->setAttribute(Qt::WA_DeleteOnClose);
    field->setPlaceholderText(tr("Line, now %1").arg(editor->caretPlace().line));
    field->setValidator(new QIntValidator(1, std::numeric_limits<int>::max(), field));
    connect(field, &QLineEdit::returnPressed, field, [field, editor] {
        const long line = field->text().toLong();
        field->close();
        if (editor && line > 0) editor->goToLine(line);
        if (editor) editor->setFocus();
    });
    field->setFixedWidth(Theme::px(180));
    field->move(editor->mapToGlobal(QPoint((editor->width() - field->width()) / 2, Theme::px(12))));
    field->show();
    field->setFocus();
}

/// Looks through the text of every open sheet; the chosen place is gone to.
void MainWindow::findEverywhere(const work::TextQuery& query) {
    if (query.pattern.empty()) return;
    std::vector<QPointer<SheetPage>> pages(sheetPages_.begin(), sheetPages_.end());
    std::vector<base::SharedText> texts;
    for (const auto& page : pages) texts.push_back(page->editor()->text());
    constexpr std::size_t kMax = 500;
    inBackground(
        this, [texts = std::move(texts), query] { return work::findInTexts(texts, query, kMax); },
        [this, pages](const Result<std::vector<work::FoundLine>>& found) {
            if (!found) return say(toQt(found.error()));
            if (found->empty()) return say(tr("No open sheet has it."));
            std::vector<PickList::Choice> choices;
            for (const work::FoundLine& one : *found) {
                const QPointer<SheetPage>& page = pages[one.text];
                if (!page) continue;
                choices.push_back({.text = toQt(one.shown),
                                   .detail = tr("%1 · line %2").arg(page->sheet().title()).arg(one.line),
                                   .icon = page->icon(),
                                   .act = [this, page, range = one.range] {
                                       if (!page) return;
                                       host_->bringToFront(page);
                                       page->editor()->select(range.start, range.start + range.length);
                                       page->editor()->setFocus();
                                   }});
            }
            auto* list = new PickList(std::move(choices), tr("Place in the open sheets"), this);
            list->setFixedWidth(Theme::px(620));
            list->openAt(mapToGlobal(QPoint((width() - list->width()) / 2, Theme::px(70))));
        });
}

}  // namespace pantry::app
