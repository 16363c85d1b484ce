#include "app/sheet/card.h"

#include <utility>

#include "app/base/text.h"
#include "app/sheet/sheet.h"

namespace pantry::app {

Card::Card(int number, QString title, sql::Statement statement, Sheet& sheet)
    : ResultSource(std::move(title), std::move(statement), &sheet), sheet_(sheet), number_(number) {}

void Card::setPinned(bool isPinned) {
    ResultSource::setPinned(isPinned);
    sheet_.notePinned(*this);
}

void Card::fetchMore() { sheet_.fetchMore(this); }
void Card::fetchAll() { sheet_.fetchAll(this); }

std::optional<Error> Card::whyNotAgain() const {
    if (isComparison()) return ResultSource::whyNotAgain();
    if (!sheet_.isFromHere(this)) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = fromQt(tr("This result came from %1.").arg(place())),
                     .hint = "Its sheet is elsewhere now. Go back there to export all rows of the statement."};
    }
    if (!statement().reading().isPlain()) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = "The statement may change something, so it is not run again for an export.",
                     .hint = "Read all rows first, then export them."};
    }
    return std::nullopt;
}

std::optional<ResultSource::Again> Card::runAgain(db::RunRequest request, std::shared_ptr<db::RunObserver> observer,
                                                  bool isWhereItRan) const {
    request.statement = statement();
    if (isWhereItRan) {
        auto beside = sheet_.runBeside(std::move(request), std::move(observer));
        return beside ? std::optional(Again{*beside, nullptr}) : std::nullopt;
    }
    std::shared_ptr<db::Session> session = sheet_.session().another();
    if (!session) return std::nullopt;
    request.guard = db::onlyReading();
    return Again{session->execute(std::move(request), std::move(observer)), session};
}

db::ConnectionState Card::line() const { return sheet_.session().state().line; }

store::RunStart Card::record() const { return sheet_.record(statement()); }

void Card::beginAnew() {
    ledgerId = 0;
    ResultSource::beginAnew();
}

}  // namespace pantry::app
