#include "app/sheet/card.h"

#include <utility>

#include "app/sheet/sheet.h"

namespace pantry::app {

Card::Card(work::RunPtr run, Sheet& sheet) : ResultSource(std::move(run), &sheet), sheet_(sheet) {}

void Card::setPinned(bool isPinned) { sheet_.runs().setPinned(runPtr(), isPinned); }

void Card::fetchMore() { sheet_.runs().fetchMore(runPtr(), sheet_.pageRows()); }
void Card::fetchAll() { sheet_.runs().fetchAll(runPtr()); }

std::optional<Error> Card::whyNotAgain() const { return sheet_.runs().whyNotAgain(run()); }

std::optional<work::RunBeside> Card::runAgain(db::RunRequest request, std::shared_ptr<db::RunObserver> observer,
                                              bool isWhereItRan) const {
    request.statement = statement();
    return sheet_.runs().runBeside(std::move(request), std::move(observer), isWhereItRan);
}

db::ConnectionState Card::connection() const { return sheet_.session().state().connection; }

store::RunStart Card::record() const { return sheet_.runs().record(statement()); }

}  // namespace pantry::app

#include "moc_card.cpp"
