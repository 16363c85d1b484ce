#include "app/sheet/sheet.h"

#include <algorithm>
#include <unordered_set>
#include <utility>

#include "app/base/background.h"
#include "app/base/text.h"
#include "app/look/connection_colours.h"
#include "app/look/theme.h"
#include "core/base/text.h"
#include "core/db/engine_traits.h"
#include "core/sql/meaning/statement.h"
#include "core/work/server_check.h"

namespace pantry::app {
namespace {

constexpr int kKeepAfterMs = 200;  // with a slow disk still within the second that a crash may cost

}  // namespace

Sheet::Sheet(Desk& desk, store::SheetState state, QObject* parent)
    : QObject(parent),
      desk_(desk),
      state_(std::move(state)),
      file_(new SheetFile(state_.file, state_.text, this)),
      language_(sql::Dialect::Sqlite),
      reading_(std::make_shared<const work::TextReading>(language_)),
      service_(language_,
               [this, guard = QPointer<QObject>(this)](const work::TextReadingPtr& reading) {
                   onWindowThread(guard, [this, reading] { noteReading(reading); });
               }),
      session_({.owner = desk.owner(),
                .connections = desk.connections(),
                .catalogs = desk.catalogs(),
                .preferences = desk.preferences()},
               {.connection = state_.connectionId, .database = state_.database, .schema = state_.schema},
               {.changed = [this] { Q_EMIT sessionChanged(); },
                .placeChanged = [this] { notePlace(); },
                .left = [this] { dismissHeld(); },
                .remarked = [this](const std::string& text) { remark(text); }}),
      values_(desk.owner(), [this] { return session_.another(); }),
      runs_({.owner = desk.owner(), .session = session_, .ledger = desk.ledger(), .memory = &desk.results()}, *this),
      regular_(new RegularRunner(*this)) {
    if (const db::ConnectionProfile* p = profile()) language_ = db::dialectOf(p->engine);
    service_.setLanguage(language_);
    noteKind();
    if (state_.text.size() > work::TextReading::kMaxBytes) {  // that is known without reading it
        reading_ = std::make_shared<const work::TextReading>(work::TextReading::of(state_.text, language_, nullptr));
    }
    connect(file_, &SheetFile::remarked, this, &Sheet::remarked);
    connect(file_, &SheetFile::changed, this, [this] {
        state_.file = file_->state();
        noteKind();
        keepTimer_.start();
        Q_EMIT titleChanged();
    });
    constexpr int kTellEveryMs = 500;
    elapsedTimer_.setInterval(kTellEveryMs);
    connect(&elapsedTimer_, &QTimer::timeout, this, &Sheet::tellElapsed);
    service_.setText(state_.text);
    parameters_.restore(state_.parameters);
    history_.restore(state_.history);
    noteSettings();
    connect(&desk_, &Desk::settingsChanged, this, &Sheet::noteSettings);
    keepTimer_.setSingleShot(true);
    keepTimer_.setInterval(kKeepAfterMs);
    connect(&keepTimer_, &QTimer::timeout, this, &Sheet::keepNow);
    constexpr int kLookForIdleMs = 60'000;
    idleTimer_.setInterval(kLookForIdleMs);
    connect(&idleTimer_, &QTimer::timeout, this, [this] { session_.closeIfIdle(); });
    idleTimer_.start();
    constexpr int kLookAroundMs = 2000;
    lookTimer_.setInterval(kLookAroundMs);
    connect(&lookTimer_, &QTimer::timeout, this, [this] {
        if (!isRunning()) session_.pollNotices();
    });
    lookTimer_.start();
    connect(&desk_, &Desk::profilesChanged, this, [this] { session_.noteConnections(); });
    desk_.keptRuns().load(state_.id, language_,
                          whileThere(this, [this](const std::vector<work::RestoredRun>& runs) { restore(runs); }));
}

Sheet::~Sheet() = default;

QString Sheet::title() const { return toQt(state_.title); }

void Sheet::setTitle(const QString& title) {
    isPassing_ = false;
    state_.title = fromQt(title);
    keepTimer_.start();
    Q_EMIT titleChanged();
}

void Sheet::setPassing(bool isPassing) {
    if (isPassing_ == isPassing) return;
    isPassing_ = isPassing;
    Q_EMIT titleChanged();
}

QString Sheet::connectionId() const { return toQt(state_.connectionId); }

/// It goes on elsewhere, or its connection was changed.
void Sheet::notePlace() {
    const work::RunPlace& place = session_.place();
    const bool isOther = place != work::RunPlace{state_.connectionId, state_.database, state_.schema};
    state_.connectionId = place.connection;
    state_.database = place.database;
    state_.schema = place.schema;
    if (isOther) keepTimer_.start();
    values_.forget();
    if (const db::ConnectionProfile* p = profile()) language_ = db::dialectOf(p->engine);
    noteSettings();
    service_.setLanguage(language_);
    Q_EMIT connectionChanged();
}

void Sheet::noteKind() { service_.setKind(state_.file ? work::textKindOf(state_.file->path) : work::TextKind::Sql); }

store::SheetState Sheet::likeThis() const {
    const work::RunPlace place = session_.placeForAnother();
    store::SheetState state{.connectionId = place.connection, .database = place.database};
    state.schema = place.schema;
    return state;
}

/// In which the session would read a statement now.
sql::Language Sheet::languageNow() const { return session_.language(language_); }

void Sheet::setText(const base::SharedText& text) {
    if (text.isCopyOf(state_.text)) return;
    const bool isOther = !(text == state_.text);
    state_.text = text;
    service_.setText(text);
    if (!isOther) return;
    file_->noteText(text);
    desk_.connections().beginWith(state_.connectionId);
    if (!keepTimer_.isActive()) keepTimer_.start();  // not pushed back by more typing: a crash costs a second at most
}

void Sheet::noteReading(const work::TextReadingPtr& reading) {
    const bool hadHelpers = hasHelpers();
    reading_ = reading;
    Q_EMIT readingChanged();
    if (hadHelpers != hasHelpers()) Q_EMIT helpersChanged();
    if (!reading_->text().isCopyOf(state_.text)) return;
    for (const auto& act : std::exchange(whenRead_, {})) act();
}

void Sheet::whenRead(std::function<void()> act) {
    if (reading_->text().isCopyOf(state_.text)) return act();
    whenRead_.push_back(std::move(act));
}

/// Values of a column come from the server, and may come later than the rest: it is told again with them.
void Sheet::complete(std::size_t caret, bool isAsked, std::function<void(const sql::Completion&)> told) {
    service_.complete(
        caret, session_.catalogView(),
        {.isAsked = isAsked, .habits = desk_.writtenBefore().on(connectionId().toStdString(), language_)},
        [this, guard = QPointer<QObject>(this), told = std::move(told)](const sql::Completion& completion) {
            onWindowThread(guard, [this, told, completion] { tellWithValues(completion, told); });
        });
}

void Sheet::tellWithValues(sql::Completion completion, const std::function<void(const sql::Completion&)>& told) {
    const bool mayLook =
        profile() != nullptr && (profile()->environment != db::Environment::Live || desk_.settings().offersLiveValues);
    if (!completion.valuesOf || !mayLook) return told(completion);
    if (const auto* values = values_.known(*completion.valuesOf)) {
        sql::offerValues(completion, *values, language_);
        return told(completion);
    }
    told(completion);
    values_.want(*completion.valuesOf, completion.catalog, language_.dialect,
                 [this, completion, told] { tellWithValues(completion, told); });
}

void Sheet::check(std::function<void(const work::TextReadingPtr&, const std::vector<sql::Finding>&)> told) {
    service_.check(session_.knownCatalog(), [guard = QPointer<QObject>(this), told = std::move(told)](
                                                const work::TextReadingPtr& reading, const auto& findings) {
        onWindowThread(guard, [told, reading, findings] { told(reading, findings); });
    });
}

void Sheet::checkOnServer(std::function<void(const work::TextReadingPtr&, const Opinions&)> told) {
    if (checking_ != nullptr) return Q_EMIT remarked(tr("The server is being asked already."));
    checking_ = session_.another();
    if (checking_ == nullptr) return noteNowhere();
    whenRead([this, told = std::move(told)] {
        checking_->check(work::statementsOf(reading_->script()),
                         [this, guard = QPointer<QObject>(this), reading = reading_, told](Opinions opinions) {
                             onWindowThread(guard, [this, told, reading, opinions = std::move(opinions)] {
                                 destroyInBackground(std::exchange(checking_, nullptr));
                                 told(reading, opinions);
                             });
                         });
    });
}

void Sheet::format(const work::FormatWish& wish, std::function<void(const work::FormattedEdit&)> told) {
    service_.format(wish, [guard = QPointer<QObject>(this), told = std::move(told)](const work::FormattedEdit& edit) {
        onWindowThread(guard, [told, edit] { told(edit); });
    });
}

void Sheet::setCaret(std::size_t caret) {
    if (caret == state_.caret) return;
    state_.caret = caret;
    if (!keepTimer_.isActive()) keepTimer_.start();
}

void Sheet::setPosition(double position, bool isCurrent) {
    if (position == state_.position && isCurrent == state_.isCurrent) return;
    state_.position = position;
    state_.isCurrent = isCurrent;
    if (!keepTimer_.isActive()) keepTimer_.start();
}

void Sheet::setPinned(bool isPinned) {
    state_.isPinned = isPinned;
    setPassing(false);  // what is pinned is not there in passing
    if (!keepTimer_.isActive()) keepTimer_.start();
}

void Sheet::setBeside(bool isBeside) {
    if (std::exchange(state_.isBeside, isBeside) == isBeside) return;
    if (!keepTimer_.isActive()) keepTimer_.start();
}

void Sheet::noteForKeeping() {
    keepTimer_.stop();
    keepRuns();
    state_.parameters = parameters_.kept();
    state_.history = history_.newest(store::kMaxHistoryBytes, store::kMaxHistorySteps);
}

void Sheet::keepNow() {
    noteForKeeping();
    desk_.documents().keep(state_);
}

void Sheet::close() {
    noteForKeeping();
    desk_.documents().close(state_);
}

void Sheet::findStatements(work::WantedStatements wanted,
                           std::function<void(const std::vector<sql::Statement>&)> then) {
    wanted.session = languageNow();
    service_.findStatements(std::move(wanted), [this, guard = QPointer<QObject>(this), stops = stops_,
                                                then = std::move(then)](const work::FoundStatements& found) {
        onWindowThread(guard, [this, stops, then, found] {
            if (stops != stops_) return;  // somebody has stopped it meanwhile
            if (!found.unfilled.empty()) {
                return Q_EMIT remarked(tr("The place %1 is not filled in yet.").arg(toQt(found.unfilled)));
            }
            std::vector<sql::Statement> ready = found.statements;
            if (hasValues(found, ready)) then(ready);
        });
    });
}

void Sheet::noteSettings() {
    service_.setFindingChoices(desk_.settings().findingsOff, desk_.settings().manyRows);
    service_.setSnippets(snippet::offeredIn(language_.dialect, desk_.preferences().snippets()));
}

/// Whether all parameters have a value, which the statements get then; else it is asked for.
bool Sheet::hasValues(const work::FoundStatements& found, std::vector<sql::Statement>& ready) {
    if (found.parameters.empty()) return true;
    const Result<sql::ParameterValues> values = parameters_.valuesFor(found.parameters);
    if (!values) {
        for (const sql::StatementParameter& one : found.parameters) {
            if (parameters_.given(one.key).isThere()) continue;
            Q_EMIT parameterMissing(toQt(one.key));
            break;
        }
        Q_EMIT remarked(toQt(values.error()));
        return false;
    }
    for (sql::Statement& one : ready) one = work::withThose(one, *values);
    keepTimer_.start();
    Q_EMIT parametersChanged();
    return true;
}

void Sheet::giveParameter(const std::string& key, work::ParameterMemory::Given value) {
    if (parameters_.given(key) == value) return;
    parameters_.give(key, std::move(value));
    keepTimer_.start();
    Q_EMIT parametersChanged();
}

void Sheet::runAt(std::size_t caret, const std::string& selection) {
    const bool isSelection = !selection.empty();
    const std::string whole = isSelection ? wholeOf(caret, selection) : std::string();
    findStatements({.caret = caret, .selection = selection, .session = language_}, [this, isSelection,
                                                                                    whole](const auto& found) {
        if (found.empty()) {
            return Q_EMIT remarked(isSelection
                                       ? tr("The selection holds no statement.")
                                       : tr("There is no statement at the cursor. Put it into one, or use Run all."));
        }
        if (std::ranges::any_of(found, [&](const sql::Statement& one) { return runs_.isUnderWay(one); })) {
            return Q_EMIT remarked(isSelection ? tr("A statement of the selection is running already. Stop ends it.")
                                               : tr("This statement is running already. Stop ends it."));
        }
        whole_ = found.size() == 1 && found.front().text() != whole ? whole : std::string();
        add(found);
        whole_.clear();
    });
}

/// The statement at a caret when the selection is in it; an empty text otherwise.
std::string Sheet::wholeOf(std::size_t caret, std::string_view selection) const {
    if (!hasHelpers()) return {};
    const auto index = script().indexAt(caret);
    const std::string_view statement = index ? script().textOf(*index) : std::string_view();
    const bool isIn = selection.size() < statement.size() && statement.find(base::trimmed(selection)) != statement.npos;
    return isIn ? std::string(statement) : std::string();
}

void Sheet::runAll() { runMany({.caret = std::nullopt, .selection = {}, .session = language_}); }

void Sheet::runUpTo(std::size_t caret) {
    runMany({.caret = caret, .selection = {}, .session = language_, .reach = work::WantedStatements::Reach::UpToIt});
}

void Sheet::runFrom(std::size_t caret) {
    runMany({.caret = caret, .selection = {}, .session = language_, .reach = work::WantedStatements::Reach::FromIt});
}

void Sheet::runMany(work::WantedStatements wanted) {
    findStatements(std::move(wanted), [this](const auto& found) {
        if (runs_.isBusy()) {
            return Q_EMIT remarked(tr("The sheet is running already. Stop ends it."));
        }
        if (found.empty()) return Q_EMIT remarked(tr("The sheet holds no statement yet."));
        add(found);
    });
}

void Sheet::runAgain() {
    if (lastRun_.empty()) return Q_EMIT remarked(tr("Nothing was run in this sheet yet."));
    if (runs_.isBusy()) return Q_EMIT remarked(tr("The sheet is running already. Stop ends it."));
    runs_.add(lastRun_);
}

void Sheet::add(const std::vector<sql::Statement>& statements) {
    lastRun_ = statements;
    const auto reads = [](const sql::Statement& one) { return one.effect() == sql::StatementEffect::Reads; };
    if (!std::ranges::all_of(statements, reads)) values_.forget();  // they may be others afterwards
    runs_.add(statements);
}

void Sheet::runStatement(const std::string& statement) { runs_.add({sql::Statement(statement, languageNow())}); }

/// What runs shows for how long, on its card and behind its statement.
void Sheet::tellElapsed() {
    Q_EMIT elapsedChanged();
    if (!isRunning()) return elapsedTimer_.stop();
    for (Card* card : cards_) {
        if (card->elapsed().isEmpty()) continue;
        card->run().noteTime();
        Q_EMIT cardChanged(card);
    }
}

QString Sheet::elapsedText() const {
    for (const Card* card : cards_) {  // the first one that runs; the others wait for it
        if (card->state() == Card::State::Running) return card->elapsed();
    }
    return {};
}

// ---- What becomes of runs ----

void Sheet::addComparison(const QString& title, const data::ResultSetPtr& differences, const QString& text) {
    runs_.addComparison(fromQt(title), differences, fromQt(text));
}

Card* Sheet::cardOf(const work::RunPtr& run) const {
    const auto found = std::ranges::find(cards_, run, &Card::runPtr);
    return found == cards_.end() ? nullptr : *found;
}

std::string Sheet::savedQuery() const {
    const auto place = file_->state() ? desk_.shelf().placeOf(file_->state()->path) : std::nullopt;
    return place ? work::savedName(*place) : std::string();
}

void Sheet::noteAdded(const work::RunPtr& run) {
    cards_.push_back(new Card(run, *this));
    Card* card = cards_.back();
    card->setWhole(whole_);
    connect(card, &Card::changed, this, [this, card] { keepRunSoon(card); });
    Q_EMIT cardAdded(card);
}

/// What ran before the last start is there again.
void Sheet::restore(const std::vector<work::RestoredRun>& runs) {
    for (const work::RestoredRun& one : runs) {
        whole_ = one.whole;
        runs_.restore(one.run);
    }
    whole_.clear();
    if (!runs.empty()) Q_EMIT readingChanged();  // what stands behind the statements is drawn anew
}

/// What has ended, was pinned or named is kept until the next start; many at once, and each of them once.
void Sheet::keepRunSoon(const Card* card) {
    if (card->isGoingOn()) return;
    unkept_.insert(card->number());
    if (!keepTimer_.isActive()) keepTimer_.start();
}

/// Of a saved query, and of what runs regularly, somebody wants to see what is other.
void Sheet::compareWithLast(const work::RunPtr& run) {
    const bool isRegular = regular_->run() == run;
    if (isRegular && run->state() == work::RunState::Paused) return runs_.fetchAll(run);  // only a whole one tells
    const std::string saved = savedQuery();
    if (saved.empty() && !isRegular) return;
    desk_.keptRuns().compareWithLast(saved, *run, regular_->takeEarlier(run),
                                     whileThere(this, [this, run](const work::ResultChangePtr& change) {
                                         run->noteChange(change);
                                         regular_->noteChange(run, *change);
                                     }));
}

void Sheet::keepRuns() {
    for (const Card* card : cards_) {
        if (!card->isGoingOn() && unkept_.erase(card->number()) > 0)
            desk_.keptRuns().keep(state_.id, card->run(), card->whole());
    }
    unkept_.clear();
}

void Sheet::noteChanged(const work::RunPtr& run, work::RunChange change) {
    if (change == work::RunChange::Rested) compareWithLast(run);
    if (change == work::RunChange::Failed) regular_->noteFailed(*run);
    if (change != work::RunChange::Result) Q_EMIT cardChanged(cardOf(run));
}

void Sheet::noteRemoved(const work::RunPtr& run) {
    Card* card = cardOf(run);
    unkept_.erase(run->number());
    desk_.keptRuns().remove(state_.id, run->number());
    std::erase(cards_, card);
    Q_EMIT cardRemoved(card);
    card->deleteLater();
}

void Sheet::noteMoved(const work::RunPtr& run, int position) {
    Card* card = cardOf(run);
    std::erase(cards_, card);
    cards_.insert(cards_.begin() + position, card);
    Q_EMIT cardMoved(card, position);
}

void Sheet::noteRunning() {
    if (isRunning() && !elapsedTimer_.isActive()) elapsedTimer_.start();
    Q_EMIT runningChanged();
}

/// It was to run where the sheet is no more.
void Sheet::dismissHeld() {
    if (!runs_.held()) return;
    runs_.dismiss();
    Q_EMIT remarked(tr("What was held back was not run: this sheet leads elsewhere now."));
}

void Sheet::noteNowhere() { Q_EMIT remarked(tr("This sheet has no connection yet. Choose one in the band above.")); }

void Sheet::remark(const std::string& text) { Q_EMIT remarked(toQt(text)); }

QColor Sheet::colourOf(const QString& connectionId) const {
    const db::ConnectionProfile* p = desk_.connections().profile(fromQt(connectionId));
    const Theme& theme = Theme::current();
    return p != nullptr ? theme.connectionColour(signalColour(*p)) : theme.colour("quiet");
}

void Sheet::stop() {
    ++stops_;
    runs_.stop();
}

Card* Sheet::cardOf(std::size_t statementIndex) const {
    const std::string_view text = script().textOf(statementIndex);
    for (auto card = cards_.rbegin(); card != cards_.rend(); ++card) {
        if ((*card)->statement().text() == text && isFromHere(*card)) return *card;
    }
    return nullptr;
}

std::map<std::size_t, Card*> Sheet::cardsOfStatements() const {
    std::map<std::size_t, Card*> found;
    std::unordered_set<std::string_view> seen;
    for (auto at = cards_.rbegin(); at != cards_.rend(); ++at) {  // the latest of a statement is the one that counts
        Card* card = *at;
        const std::string_view statement = card->whole().empty() ? card->statement().text() : card->whole();
        if (!isFromHere(card) || !seen.insert(statement).second) continue;
        for (const std::size_t index : reading_->statementsLike(statement)) found[index] = card;
    }
    return found;
}

int Sheet::statementOf(const Card* card) const {
    const std::vector<std::size_t> found = reading_->statementsLike(card->statement().text());
    return found.empty() ? -1 : static_cast<int>(found.front());
}

std::int64_t Sheet::errorOffset(const Card* card) const {
    const int index = statementOf(card);
    if (index < 0 || !card->error() || !card->error()->byteOffset) return -1;
    const auto& span = script().statements()[static_cast<std::size_t>(index)].span;
    return static_cast<std::int64_t>(span.start + std::min(*card->error()->byteOffset, span.length));
}

}  // namespace pantry::app

#include "moc_sheet.cpp"
