#include "app/source/place_runs.h"

#include <utility>

#include "app/base/text.h"
#include "core/db/engine_traits.h"

namespace pantry::app {
namespace {

/// One of its results.
class PlaceSource : public ResultSource {
public:
    PlaceSource(work::RunPtr run, PlaceRuns& runs) : ResultSource(std::move(run), nullptr), runs_(runs) {}

    void fetchMore() override { runs_.runs().fetchMore(runPtr(), runs_.pageRows()); }
    void fetchAll() override { runs_.runs().fetchAll(runPtr()); }
    [[nodiscard]] std::optional<Error> whyNotAgain() const override { return runs_.runs().whyNotAgain(run()); }
    [[nodiscard]] std::optional<work::RunBeside> runAgain(db::RunRequest request,
                                                          std::shared_ptr<db::RunObserver> observer,
                                                          bool isWhereItRan) const override {
        request.statement = statement();
        return runs_.runs().runBeside(std::move(request), std::move(observer), isWhereItRan);
    }
    [[nodiscard]] db::ConnectionState connection() const override { return runs_.session().state().connection; }
    [[nodiscard]] store::RunStart record() const override { return runs_.runs().record(statement()); }

private:
    PlaceRuns& runs_;
};

}  // namespace

PlaceRuns::PlaceRuns(Desk& desk, work::RunPlace place, QString title, QObject* parent)
    : QObject(parent),
      desk_(desk),
      title_(fromQt(title)),
      session_({.owner = desk.owner(),
                .connections = desk.connections(),
                .catalogs = desk.catalogs(),
                .preferences = desk.preferences()},
               std::move(place),
               {.changed = [] {}, .placeChanged = [] {}, .left = [] {}, .remarked = [](const std::string&) {}}),
      runs_({.owner = desk.owner(), .session = session_, .ledger = desk.ledger(), .memory = &desk.results()}, *this) {}

PlaceRuns::~PlaceRuns() = default;

sql::Language PlaceRuns::language() const {
    const db::ConnectionProfile* profile = session_.profile();
    return session_.language(profile != nullptr ? db::dialectOf(profile->engine) : sql::Dialect::Ansi);
}

std::size_t PlaceRuns::pageRows() const { return static_cast<std::size_t>(desk_.settings().pageRows); }

void PlaceRuns::show(const std::string& statement) {
    runs_.stop();
    runs_.add({sql::Statement(statement, language())});
}

void PlaceRuns::noteAdded(const work::RunPtr& run) {
    std::unique_ptr<ResultSource> before = std::exchange(current_, std::make_unique<PlaceSource>(run, *this));
    Q_EMIT currentChanged(current_.get());
    if (before) runs_.remove(before->runPtr());
}

}  // namespace pantry::app

#include "moc_place_runs.cpp"
