// What Reach finds: MainWindow's third file, by theme.
#include <QIntValidator>
#include <QLineEdit>
#include <QPointer>
#include <algorithm>
#include <limits>

#include "app/base/background.h"
#include "app/base/text.h"
#include "app/command/command.h"
#include "app/look/pick_list.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/shell/main_window.h"
#include "core/base/text.h"

namespace pantry::app {
namespace {

constexpr int kReachLedgerEntries = 8;

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
    for (Page* page : host_->pages()) {
        scope.before.push_back({page->title(), tr("sheet"), tr("open"), [this, guard = QPointer<Page>(page)] {
                                    if (!guard) return;
                                    host_->bringToFront(guard);
                                    guard->setFocus();
                                }});
    }
    for (const auto& p : profilesByUse()) {
        scope.before.push_back({tr("New sheet on %1").arg(toQt(p.name)), tr("action"),
                                toQt(db::environmentWord(p.environment)), [this, id = toQt(p.id)] { openSheet(id); },
                                command("sheet.new").also});
        scope.catalogs.push_back({p.id, p.name, desk_.catalogs().state(p.id).catalog});
    }
    for (const work::ShelvedQuery& one : desk_.shelf().queries()) {
        const QString folder = spokenFolder({one.place.shelf, one.item.folder()});
        scope.before.push_back({toQt(one.item.head.title), one.item.isNotebook ? tr("notebook") : tr("saved query"),
                                folder, [this, place = one.place] { openSaved(place, false); },
                                toQt(one.item.head.note)});
    }
    scope.ofRelation = [this](const work::ReachCatalog& place, const catalog::Relation& r) {
        const catalog::ObjectName object{.kind = r.kind, .schema = r.schema, .name = r.name};
        return Reachable{toQt(r.name), toQt(catalog::kindName(r.kind)), toQt(place.name),
                         [this, id = toQt(place.connection), object] {
                             openObject({id, {}, object});
                         }};
    };
    for (const Command& one : commands()) {
        if (one.isOfWidget || one.menu.isEmpty()) continue;
        scope.behind.push_back({one.text, one.isSetting ? tr("setting") : tr("action"), keyText(one.id),
                                [this, id = one.id] { runCommand(id); }, one.also});
    }
    if (SheetPage* page = currentSheet()) {
        for (const snippet::Snippet& one : page->snippets().all()) {
            scope.behind.push_back({toQt(one.title), tr("snippet"), toQt(one.trigger),
                                    [this, guard = QPointer<SheetPage>(page), one] {
                                        if (!guard) return;
                                        host_->bringToFront(guard);
                                        guard->snippets().putAtCaret(one);
                                    },
                                    toQt(one.trigger)});
        }
    }
    for (const int rows : {200, 1000, 5000, 20000}) {
        scope.behind.push_back(
            {tr("First page: %1 rows").arg(toQt(base::grouped(rows))), tr("setting"),
             desk_.settings().pageRows == static_cast<std::size_t>(rows) ? tr("as it is") : QString(),
             [this, rows] {
                 desk_.preferences().changeSettings([rows](auto& s) { s.pageRows = static_cast<std::size_t>(rows); });
             },
             tr("limit rows fetch size settings preferences")});
    }
    return scope;
}

void MainWindow::reachIntoLedger(const QString& text) {
    if (text.trimmed().size() < 2) return;
    const store::LedgerQuery query{.search = store::parseLedgerSearch(fromQt(text), base::now()),
                                   .limit = kReachLedgerEntries};
    desk_.ledger().find(
        query, whileThere(this, [this, text](Result<std::vector<store::LedgerEntry>> entries) {
            if (!entries) return;
            std::vector<Reachable> found;
            for (const auto& e : *entries) {
                found.push_back({toQt(base::oneLine(e.start.statement, 120)), tr("ledger"),
                                 toQt(base::spoken(e.startedAt, base::now())),
                                 [this, id = toQt(e.start.connectionId), statement = e.start.statement] {
                                     sheetOn(id)->appendStatement(statement);
                                 }});
            }
            reach_->add(text, std::move(found));
        }));
}

void MainWindow::showKeys() {
    if (!keys_) host_->add(keys_ = new KeysPage, false);
    host_->bringToFront(keys_);
    keys_->enter();
}

/// The whole page; a statement of it goes into a sheet on its connection, and runs there when that is wanted.
void MainWindow::showLedger() {
    if (!ledgerPage_) {
        ledgerPage_ = new LedgerPage(desk_);
        ledgerPage_->setConnection(connectionInFront());
        connect(ledgerPage_, &LedgerPage::remarked, this, &MainWindow::say);
        connect(ledgerPage_, &LedgerPage::sheetRequested, this, [this](const QString& id, const QString& statement) {
            sheetOn(id)->appendStatement(fromQt(statement));
        });
        connect(ledgerPage_, &LedgerPage::runRequested, this, [this](const QString& id, const QString& statement) {
            SheetPage* page = sheetOn(id);
            page->appendStatement(fromQt(statement));
            page->sheet().whenRead([page] { page->runAtCaret(); });
        });
        host_->add(ledgerPage_, false);
    }
    host_->bringToFront(ledgerPage_);
    ledgerPage_->enter();
}

SnippetsPage* MainWindow::showSnippets() {
    if (!snippets_) host_->add(snippets_ = new SnippetsPage(desk_), false);
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
    constexpr std::size_t kMost = 500;
    inBackground(
        this, [texts = std::move(texts), query] { return work::findInTexts(texts, query, kMost); },
        [this, pages](const Result<std::vector<work::FoundLine>>& found) {
            if (!found) return say(toQt(found.error()));
            if (found->empty()) return say(tr("No open sheet has it."));
            std::vector<PickList::Choice> choices;
            for (const work::FoundLine& one : *found) {
                const QPointer<SheetPage>& page = pages[one.text];
                if (!page) continue;
                choices.push_back({.text = toQt(one.words),
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
