// What Reach finds: MainWindow's third file, by theme.
#include <QPointer>
#include <algorithm>

#include "app/base/background.h"
#include "app/base/text.h"
#include "app/command/command.h"
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

std::vector<Reachable> MainWindow::everything() {
    std::vector<Reachable> all;
    for (Page* page : host_->pages()) {
        all.push_back({page->title(), tr("sheet"), tr("open"), [this, guard = QPointer<Page>(page)] {
                           if (!guard) return;
                           host_->bringToFront(guard);
                           guard->setFocus();
                       }});
    }
    const std::vector<db::ConnectionProfile> profiles = profilesByUse();
    for (const auto& p : profiles) {
        const QString id = toQt(p.id);
        all.push_back({tr("New sheet on %1").arg(toQt(p.name)), tr("action"), toQt(db::environmentWord(p.environment)),
                       [this, id] { openSheet(id); }, command("sheet.new").also});
    }
    for (const auto& p : profiles) {
        const QString id = toQt(p.id);
        const auto state = desk_.catalogs().state(fromQt(id));
        if (state.catalog) {
            for (const catalog::Relation* r : state.catalog->relations()) {
                all.push_back(
                    {toQt(r->name), toQt(catalog::kindName(r->kind)), toQt(p.name),
                     [this, id, object = catalog::ObjectName{.kind = r->kind, .schema = r->schema, .name = r->name}] {
                         openObject({id, {}, object});
                     }});
            }
        }
    }
    for (const Command& one : commands()) {
        if (one.isOfWidget || one.menu.isEmpty()) continue;
        all.push_back({one.text, one.isSetting ? tr("setting") : tr("action"), keyText(one.id),
                       [this, id = one.id] { runCommand(id); }, one.also});
    }
    for (const int rows : {200, 1000, 5000, 20000}) {
        all.push_back({tr("First page: %1 rows").arg(toQt(base::grouped(rows))), tr("setting"),
                       desk_.settings().pageRows == static_cast<std::size_t>(rows) ? tr("as it is") : QString(),
                       [this, rows] {
                           desk_.preferences().changeSettings(
                               [rows](auto& s) { s.pageRows = static_cast<std::size_t>(rows); });
                       },
                       tr("limit rows fetch size settings preferences")});
    }
    return all;
}

void MainWindow::reachIntoLedger(const QString& text) {
    if (text.trimmed().size() < 2) return;
    store::LedgerQuery query = store::parseLedgerSearch(fromQt(text), base::now());
    query.limit = kReachLedgerEntries;
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
}

}  // namespace pantry::app
