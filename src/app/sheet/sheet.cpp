#include "app/sheet/sheet.h"

#include <spdlog/spdlog.h>

#include <algorithm>
#include <ranges>
#include <unordered_set>
#include <utility>

#include "app/base/background.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/source/run_bridge.h"
#include "core/base/text.h"
#include "core/base/utf8.h"
#include "core/db/connection_colours.h"
#include "core/db/engine_traits.h"
#include "core/db/profile_change.h"
#include "core/db/session_statements.h"
#include "core/sql/check/failure_advice.h"
#include "core/sql/meaning/secrets.h"
#include "core/sql/meaning/statement.h"
#include "core/sql/text/lexer.h"
#include "core/work/run_record.h"

namespace pantry::app {
namespace {

constexpr int kKeepAfterMs = 200;          // with a slow disk still within the second that a crash may cost
constexpr std::size_t kCardsKept = 200;    // their rows share a limit of their own
constexpr std::size_t kMostUnderWay = 32;  // statements that are sent, or wait at the line, at a time

}  // namespace

Sheet::Sheet(Desk& desk, store::SheetState state, QObject* parent)
    : QObject(parent),
      desk_(desk),
      state_(std::move(state)),
      file_(new SheetFile(state_.file, state_.text, this)),
      language_(sql::Dialect::Sqlite),
      reading_(std::make_shared<const work::TextReading>(language_)),
      service_(language_, [this, guard = QPointer<QObject>(this)](const work::TextReadingPtr& reading) {
          onWindowThread(guard, [this, reading] { noteReading(reading); });
      }) {
    refreshPlace();
    if (state_.text.size() > work::TextReading::kMostBytes) {  // that is known without reading it
        reading_ = std::make_shared<const work::TextReading>(work::TextReading::of(state_.text, language_, nullptr));
    }
    connect(file_, &SheetFile::remarked, this, &Sheet::remarked);
    connect(file_, &SheetFile::changed, this, [this] {
        state_.file = file_->state();
        keepTimer_.start();
        Q_EMIT titleChanged();
    });
    constexpr int kTellEveryMs = 500;
    elapsedTimer_.setInterval(kTellEveryMs);
    connect(&elapsedTimer_, &QTimer::timeout, this, &Sheet::tellElapsed);
    connect(this, &Sheet::cardChanged, this, [](Card* card) { Q_EMIT card->progressed(); });
    service_.setText(state_.text);
    keepTimer_.setSingleShot(true);
    keepTimer_.setInterval(kKeepAfterMs);
    connect(&keepTimer_, &QTimer::timeout, this, &Sheet::keepNow);
    constexpr int kLookForIdleMs = 60'000;
    idleTimer_.setInterval(kLookForIdleMs);
    connect(&idleTimer_, &QTimer::timeout, this, [this] {
        if (session_) session_->closeIfIdle(std::chrono::minutes(desk_.settings().idleMinutes), [](bool) {});
    });
    idleTimer_.start();
    constexpr int kLookAroundMs = 2000;
    lookTimer_.setInterval(kLookAroundMs);
    connect(&lookTimer_, &QTimer::timeout, this, [this] {
        if (!session_ || isRunning()) return;
        session_->lookAround([this, guard = QPointer<QObject>(this)](const std::vector<db::Notice>& notices) {
            onWindowThread(guard, [this, notices] {
                for (const db::Notice& n : notices) Q_EMIT remarked(toQt(base::toLower(n.severity) + ": " + n.message));
            });
        });
    });
    lookTimer_.start();
    connect(&desk_, &Desk::profilesChanged, this, [this] {
        const auto before = there_;
        refreshPlace();
        if (before == there_) return;
        const bool isElsewhere = !before || !there_ || db::leadsElsewhere(*before, *there_);
        if (isElsewhere && hasOpenChanges()) {
            // The line with the open changes stays until somebody has ended them.
            isLeaveDue_ = true;
            Q_EMIT remarked(
                tr("The connection was changed. This sheet keeps its old connection until its open changes are "
                   "committed or rolled back."));
        } else if (isElsewhere) {
            leaveSession();
        }
        Q_EMIT connectionChanged();
    });
}

Sheet::~Sheet() { destroyInBackground(std::move(session_)); }

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

void Sheet::refreshPlace() {
    there_ = desk_.connections().profileAt(fromQt(connectionId()), state_.database);
    if (!there_) return;
    language_ = db::dialectOf(there_->engine);
    service_.setLanguage(language_);
    if (state_.schema.empty()) return;
    const std::string statement = db::setSchema(there_->engine, state_.schema);
    if (!statement.empty()) there_->onConnect += (there_->onConnect.empty() ? "" : ";\n") + statement;
}

void Sheet::leaveSession() {
    destroyInBackground(std::move(session_));
    dismissHeld();
    noteSession({});
}

/// Whether somebody must end a transaction first, which is said.
bool Sheet::holdsOpenChanges() {
    if (!hasOpenChanges()) return false;
    Q_EMIT remarked(tr("This sheet has open changes. Commit them or roll them back before it goes elsewhere."));
    return true;
}

void Sheet::setConnection(const QString& profileId) {
    if (connectionId() == profileId || holdsOpenChanges()) return;
    state_.connectionId = fromQt(profileId);
    desk_.connections().beginWith(fromQt(profileId));
    isPasswordRefused_ = false;
    refused_.clear();
    state_.database.clear();
    state_.schema.clear();
    refreshPlace();
    leaveSession();
    keepTimer_.start();
    Q_EMIT connectionChanged();
}

void Sheet::setDatabase(const std::string& database) {
    const db::ConnectionProfile* own = desk_.connections().profile(fromQt(connectionId()));
    if (own == nullptr || database == there_->database || holdsOpenChanges()) return;
    state_.database = database == own->database ? std::string() : database;
    desk_.connections().beginWith(fromQt(connectionId()));
    state_.schema.clear();
    refreshPlace();
    leaveSession();
    keepTimer_.start();
    Q_EMIT connectionChanged();
}

store::SheetState Sheet::likeThis() const {
    store::SheetState state{.connectionId = state_.connectionId, .database = state_.database};
    state.schema = state_.schema;
    const auto catalog = desk_.catalogs().state(fromQt(connectionId()), state_.database).catalog;
    const std::string current = currentSchema();
    const bool isUsual =
        catalog && !catalog->facts().searchPath.empty() && catalog->facts().searchPath.front() == current;
    if (!current.empty()) state.schema = isUsual ? std::string() : current;
    return state;
}

/// Where names without a schema are looked for first; empty while unknown.
std::string Sheet::currentSchema() const {
    return there_ ? db::currentSchema(there_->engine, sessionState_.line) : std::string();
}

/// In which the session would read a statement now.
sql::Language Sheet::languageNow() const {
    return there_ ? db::languageOf(there_->engine, sessionState_.line) : language_;
}

/// What names mean in this sheet: its session may look for them elsewhere than the catalog was read.
catalog::View Sheet::catalogView() const {
    const auto state = desk_.catalogs().state(fromQt(connectionId()), state_.database);
    if (!state.catalog) return {};
    catalog::View view(state.catalog);
    const std::string first = currentSchema();
    const std::vector<std::string>& usual = view.searchPath();
    if (first.empty() || (!usual.empty() && usual.front() == first)) return view;
    std::vector<std::string> path{first};
    if (!db::traitsOf(there_->engine).schemasAreDatabases) path.insert(path.end(), usual.begin(), usual.end());
    return view.withSearchPath(std::move(path));
}

void Sheet::setText(const base::SharedText& text) {
    if (text.isCopyOf(state_.text)) return;
    const bool isOther = !(text == state_.text);
    state_.text = text;
    service_.setText(text);
    if (!isOther) return;
    file_->noteText(text);
    desk_.connections().beginWith(fromQt(connectionId()));
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

void Sheet::complete(std::size_t caret, std::function<void(const sql::Completion&)> told) {
    service_.complete(caret, catalogView(),
                      [guard = QPointer<QObject>(this), told = std::move(told)](const sql::Completion& completion) {
                          onWindowThread(guard, [told, completion] { told(completion); });
                      });
}

void Sheet::format(const work::LanguageService::FormatWish& wish,
                   std::function<void(const work::FormattedEdit&)> told) {
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

void Sheet::keepNow() {
    keepTimer_.stop();
    desk_.documents().keep(state_);
}

void Sheet::close() {
    keepTimer_.stop();
    desk_.documents().close(state_);
}

void Sheet::findStatements(work::WantedStatements wanted,
                           std::function<void(const std::vector<sql::Statement>&)> then) {
    wanted.session = languageNow();
    service_.findStatements(std::move(wanted), [guard = QPointer<QObject>(this),
                                                then = std::move(then)](const std::vector<sql::Statement>& statements) {
        onWindowThread(guard, [then, statements] { then(statements); });
    });
}

void Sheet::runAt(std::size_t caret, const std::string& selection) {
    const bool isSelection = !selection.empty();
    findStatements({.caret = caret, .selection = selection, .session = language_}, [this,
                                                                                    isSelection](const auto& found) {
        if (found.empty()) {
            return Q_EMIT remarked(isSelection
                                       ? tr("The selection holds no statement.")
                                       : tr("There is no statement at the cursor. Put it into one, or use Run all."));
        }
        if (std::ranges::any_of(found, [&](const sql::Statement& one) { return isUnderWay(one); })) {
            return Q_EMIT remarked(isSelection ? tr("A statement of the selection is running already. Stop ends it.")
                                               : tr("This statement is running already. Stop ends it."));
        }
        queue_.add(found);
    });
}

/// Pressing twice means once: what runs, or waits for its turn, is not run behind itself.
bool Sheet::isUnderWay(const sql::Statement& statement) const {
    const auto isGoing = [&](const Card* card) { return card->isGoingOn() && card->statement() == statement; };
    return !held() && (std::ranges::any_of(cards_, isGoing) || queue_.isWaiting(statement));
}

void Sheet::runAll() {
    findStatements({.caret = std::nullopt, .selection = {}, .session = language_}, [this](const auto& found) {
        if (!held() && (isRunning() || !queue_.isEmpty())) {
            return Q_EMIT remarked(tr("The sheet is running already. Stop ends it."));
        }
        if (found.empty()) return Q_EMIT remarked(tr("The sheet holds no statement yet."));
        queue_.add(found);
    });
}

void Sheet::runStatement(const std::string& statement) { queue_.add({sql::Statement(statement, languageNow())}); }

std::optional<db::HeldBack> Sheet::whyHeld(const sql::Statement& statement) const {
    const db::ConnectionProfile* p = profile();
    if (p == nullptr || statement.text().size() > work::TextReading::kLongestStatement) return std::nullopt;
    return db::heldBack(db::runGuardOf(*p),
                        {.engine = p->engine, .line = sessionState_.line, .openChanges = sessionState_.openChanges},
                        statement);
}

bool Sheet::send(const work::QueuedStatement& next, work::Consent consent) { return run(next, consent) != nullptr; }

std::size_t Sheet::underWay() const {
    return static_cast<std::size_t>(std::ranges::count_if(cards_, [](const Card* card) { return card->isGoingOn(); }));
}

std::string Sheet::connectionName() const { return there_ ? there_->name : std::string(); }

void Sheet::noteLeftOut(std::size_t statements) {
    const auto count = static_cast<std::int64_t>(statements);
    Q_EMIT remarked(tr("%1 behind it not run.").arg(toQt(base::counted(count, "statement", "statements"))));
}

void Sheet::confirmHeld(const std::string& name) {
    if (const Status confirmed = queue_.confirm(name); !confirmed) Q_EMIT remarked(toQt(confirmed.error()));
}

/// What runs shows for how long, on its card and behind its statement.
void Sheet::tellElapsed() {
    Q_EMIT elapsedChanged();
    if (!isRunning()) return elapsedTimer_.stop();
    for (Card* card : cards_) {
        if (card->elapsed().isEmpty()) continue;
        card->noteTime();
        Q_EMIT cardChanged(card);
    }
}

QString Sheet::elapsedWords() const {
    for (const Card* card : cards_) {  // the first one that runs; the others wait for it
        if (card->state() == Card::State::Running) return card->elapsed();
    }
    return {};
}

/// The card of a statement that no server has seen; it is told in the ledger neither.
void Sheet::dropUnsent(Card* card) {
    card->wasNeverSent = true;
    if (card->ledgerId != 0) desk_.ledger().remove(card->ledgerId);
    removeCard(card);
    if (!isRunning()) {  // its number is free again
        const auto numbers = std::views::transform(cards_, &Card::number);
        nextNumber_ = cards_.empty() ? 1 : *std::ranges::max_element(numbers) + 1;
    }
    Q_EMIT runningChanged();
}

bool Sheet::wantsPassword() const {
    if (!there_ || db::isFile(there_->engine) || there_->passwordSource != db::PasswordSource::Ask) return false;
    const auto state = desk_.catalogs().state(fromQt(connectionId()), state_.database);
    const bool isCatalogRefused = !state.catalog && state.error && state.error->kind == ErrorKind::Permission;
    return isPasswordRefused_ || isCatalogRefused;
}

void Sheet::connectWith(const std::string& password) {
    if (!there_) return;
    desk_.connections().setPassword(*there_, password, whileThere(this, [](const Status&) {}));
    isPasswordRefused_ = false;
    ++passwordTry_;
    leaveSession();
    desk_.catalogs().load(fromQt(connectionId()), state_.database);
    if (!refused_.empty()) runStatement(std::exchange(refused_, {}));
}

void Sheet::setCommitsByHand(bool byHand) {
    commitsByHand_ = byHand;
    if (session_) session_->setCommitsByHand(byHand);
    Q_EMIT sessionChanged();
}

void Sheet::noteSession(const db::SessionState& state) {
    sessionState_ = state;
    if (isLeaveDue_ && !hasOpenChanges()) {
        isLeaveDue_ = false;
        return leaveSession();
    }
    Q_EMIT sessionChanged();
}

std::unique_ptr<db::Session> Sheet::anotherSession() const {
    const db::ConnectionProfile* p = profile();
    if (p == nullptr) return nullptr;
    db::ConnectionProfile there = *p;
    const db::LineState& line = sessionState_.line;
    if (!line.database.empty() && !db::isFile(p->engine)) there.database = line.database;
    if (!line.schema.empty()) there.onConnect += ";\n" + db::setSchema(p->engine, line.schema);
    return std::make_unique<db::Session>(std::move(there), desk_.connections().passwordFor(fromQt(connectionId())));
}

std::optional<db::RunHandle> Sheet::runBeside(db::RunRequest request, std::shared_ptr<db::RunObserver> observer) {
    db::Session* line = isRunning() ? nullptr : session();
    if (line == nullptr) return std::nullopt;
    request.guard = db::onlyReading();  // it runs a second time
    return line->execute(std::move(request), std::move(observer));
}

db::Session* Sheet::session() {
    const db::ConnectionProfile* p = profile();
    if (p == nullptr) return nullptr;
    desk_.connections().beginWith(fromQt(connectionId()));
    if (!session_) {
        session_ = std::make_unique<db::Session>(*p, desk_.connections().passwordFor(fromQt(connectionId())));
        session_->setCommitsByHand(commitsByHand_);
    }
    return session_.get();
}

void Sheet::addComparison(const QString& title, const data::ResultSetPtr& differences, const QString& words) {
    auto* card = new Card(nextNumber_++, title, {std::string(), languageNow()}, *this);
    card->setPlace(originNow(), tr("two results"));
    cards_.push_back(card);
    Q_EMIT cardAdded(card);
    card->becomeComparison(differences, words);
    desk_.results().keep(differences, false);
    Q_EMIT cardChanged(card);
    forgetOldest();
}

void Sheet::rerun(Card* card) {
    if (card->isGoingOn()) return;
    if (card->isComparison()) return Q_EMIT remarked(tr("A comparison has no statement to run; compare once more."));
    if (!isFromHere(card)) {
        return Q_EMIT remarked(
            tr("This result came from %1. Go there with this sheet to run its statement again.").arg(card->place()));
    }
    if (whyHeld(card->statement())) {
        return queue_.add({card->statement()});  // asked about first, and then a card of its own
    }
    card->beginAnew();
    run({card->statement(), std::make_shared<db::RunBatch>()}, work::Consent::None, card);
}

bool Sheet::isFromHere(const Card* card) const { return card->origin().isLike(originNow()); }

QColor Sheet::colourOf(const QString& connectionId) const {
    const db::ConnectionProfile* p = desk_.connections().profile(fromQt(connectionId));
    const Theme& theme = Theme::current();
    return p != nullptr ? theme.connectionColour(db::signalColour(*p)) : theme.colour("quiet");
}

/// Where a statement that runs now gets its rows from.
work::Origin Sheet::originNow() const {
    const db::LineState& line = sessionState_.line;
    const db::ConnectionProfile* p = profile();
    work::Origin origin{.connectionId = state_.connectionId, .database = state_.database, .schema = line.schema};
    if (p != nullptr && !db::isFile(p->engine) && !line.database.empty()) {
        origin.database = line.database == desk_.connections().profile(fromQt(connectionId()))->database
                              ? std::string()
                              : line.database;
    }
    return origin;
}

void Sheet::notePinned(const Card& card) {
    if (card.result()) desk_.results().pin(card.result(), card.isPinned());
}

void Sheet::moveCard(Card* card, int by) {
    const auto found = std::ranges::find(cards_, card);
    const auto at = static_cast<int>(found - cards_.begin());
    const int to = std::clamp(at + by, 0, static_cast<int>(cards_.size()) - 1);
    if (found == cards_.end() || to == at) return;
    std::swap(cards_[static_cast<std::size_t>(at)], cards_[static_cast<std::size_t>(to)]);
    Q_EMIT cardMoved(card, to);
}

/// Where statements run now, for people.
QString Sheet::placeWords() const {
    const db::ConnectionProfile* p = profile();
    if (p == nullptr) return {};
    const std::string& database = sessionState_.line.database.empty() ? p->database : sessionState_.line.database;
    return toQt(p->name) +
           (database.empty() || db::isFile(p->engine) ? QString() : QStringLiteral(" · ") + toQt(database));
}

store::RunStart Sheet::ledgerWords(const sql::Statement& statement) const {
    return work::startRecord(there_.value_or(db::ConnectionProfile{}), statement, state_.title);
}

Card* Sheet::run(const work::QueuedStatement& next, work::Consent consent, Card* into) {
    db::Session* line = session();
    if (line == nullptr) {
        Q_EMIT remarked(tr("This sheet has no connection yet. Choose one in the band above."));
        return nullptr;
    }
    const sql::Statement& statement = next.statement;
    auto* card = into != nullptr ? into : new Card(nextNumber_++, toQt(statement.title()), statement, *this);
    card->setPlace(originNow(), placeWords());
    auto bridge = RunBridge::make();
    connectBridge(bridge.get(), card, next.batch);
    if (into == nullptr) {
        cards_.push_back(card);
        Q_EMIT cardAdded(card);
    }

    // The ledger has the run before the server has.
    desk_.ledger().start(ledgerWords(statement), card->startedAt(),
                         [this, &ledger = desk_.ledger(), guard = QPointer<Card>(card)](std::int64_t id) {
                             if (!guard || guard->wasNeverSent) return ledger.remove(id);  // it was never sent
                             guard->ledgerId = id;
                             if (!guard->isGoingOn()) noteEnd(guard);
                         });
    db::RunGuard guard = consent == work::Consent::OnlyIfItReads ? db::onlyReading() : db::runGuardOf(*profile());
    guard.isConfirmed = consent == work::Consent::Confirmed;
    card->handle = line->execute({.statement = statement,
                                  .pageRows = desk_.settings().pageRows,
                                  .batch = queue_.batchToSend(next),
                                  .guard = guard,
                                  .guardOfNow = desk_.connections().guardOfNow(fromQt(connectionId()))},
                                 bridge);
    forgetOldest();
    if (!elapsedTimer_.isActive()) elapsedTimer_.start();
    Q_EMIT runningChanged();
    return card;
}

/// The statements that the connection runs by itself, when a line was opened for a run.
void Sheet::noteConnected(const db::RunSummary& summary) {
    const db::ConnectionProfile* own = desk_.connections().profile(fromQt(connectionId()));
    const bool ranItsOwn = !summary.ranOnConnect.empty() && own != nullptr && !own->onConnect.empty();
    if (!ranItsOwn) return;  // the schema of this sheet is no statement of the user's
    desk_.ledger().start(ledgerWords(own->onConnect), summary.startedAt,
                         [&ledger = desk_.ledger()](std::int64_t id) { ledger.end(id, {}); });
}

/// Every result of a statement has a card; what the run tells is about the last one.
void Sheet::connectBridge(RunBridge* bridge, Card* first, const std::shared_ptr<db::RunBatch>& batch) {
    auto card = std::make_shared<QPointer<Card>>(first);
    connect(bridge, &RunBridge::runStarted, this, [this, card] {
        if (*card) (*card)->noteStarted();
        if (*card) Q_EMIT cardChanged(*card);
    });
    connect(bridge, &RunBridge::columnsArrived, this, [this, card](const data::ResultSetPtr& r) {
        if (*card && (*card)->result()) *card = addResultCard(*card);
        if (!*card) return;
        (*card)->noteResult(r);
        desk_.results().keep(r, (*card)->isPinned());
    });
    connect(bridge, &RunBridge::noticesArrived, this, [this, card](const std::vector<db::Notice>& notices) {
        if (!*card) return;
        (*card)->noteNotices(notices);
        Q_EMIT cardChanged(*card);
    });
    connect(bridge, &RunBridge::rowsArrived, this, [this, card] {
        if (!*card) return;
        (*card)->noteRows();
        desk_.results().enforce();
        Q_EMIT cardChanged(*card);
    });
    connect(bridge, &RunBridge::pageArrived, this, [this, card] {
        if (!*card) return;
        (*card)->notePaused();
        noteEnd(*card);
        queue_.goOn();
    });
    connect(bridge, &RunBridge::runFinished, this, [this, card](const db::RunSummary& summary) {
        noteConnected(summary);
        noteSession(summary.session);
        if (!*card) return;
        const bool wasPaused = (*card)->state() == Card::State::Paused;
        (*card)->noteFinished(summary);
        noteEnd(*card);
        refreshCatalog(*card);
        if (!wasPaused) queue_.goOn();
    });
    connect(bridge, &RunBridge::runFailed, this,
            [this, card, batch, tried = passwordTry_](const Error& error, const db::RunSummary& summary) {
                noteConnected(summary);
                const bool isRefused = error.kind == ErrorKind::Permission && !summary.session.isConnected;
                const std::string refused = isRefused && *card ? (*card)->statement().text() : std::string();
                const bool isOld = tried != passwordTry_;  // a password was given while this one was on its way
                if (isRefused && !isOld) {
                    isPasswordRefused_ = true;
                    refused_ = refused;
                }
                noteSession(summary.session);
                if (!*card) return;
                noteRunFailed(*card, error, summary, batch);
                if (isOld && !refused.empty()) runStatement(refused);
            });
}

/// What was held back waits in the queue; what was not sent behind it, too, or is given up with its batch.
void Sheet::noteRunFailed(Card* card, const Error& error, const db::RunSummary& summary,
                          const std::shared_ptr<db::RunBatch>& batch) {
    const work::QueuedStatement failed{card->statement(), batch};
    card->noteFailed(advised(error, card->statement().text()), summary);
    if (summary.isBehindBroken) {  // told with the one that failed
        if (held()) queue_.noteNotRun(failed);
        return dropUnsent(card);
    }
    if (!summary.held || summary.wasSent) noteEnd(card);
    if (!summary.held) {
        const QString words = tr("Statement %1 failed: %2").arg(card->number()).arg(card->outcomeWords());
        return queue_.noteFailed(batch, fromQt(words));
    }
    queue_.noteHeld(failed, *summary.held);
    if (!summary.wasSent) dropUnsent(card);
}

/// Beyond very many cards the oldest go, but for pinned ones.
void Sheet::forgetOldest() {
    while (cards_.size() > kCardsKept) {
        const auto oldest =
            std::ranges::find_if(cards_, [](const Card* card) { return !card->isGoingOn() && !card->isPinned(); });
        if (oldest == cards_.end() || *oldest == cards_.back()) return;
        removeCard(*oldest);
    }
}

/// A statement that defines something changes what there is to see: for others, and so for the line that catalogs are
/// read on, when its transaction has ended.
void Sheet::refreshCatalog(const Card* card) {
    // The session has looked at it already, on its own thread.
    const auto changes = catalogFollower_.noteEnd(card->statement(), currentSchema(), sessionState_.line.transaction);
    if (changes) desk_.catalogs().load(fromQt(connectionId()), state_.database, *changes);
}

/// A card for the next result of a statement.
Card* Sheet::addResultCard(Card* before) {
    before->noteNextResult();
    auto* card = new Card(nextNumber_++, before->title(), before->statement(), *this);
    card->setPlace(before->origin(), before->place());
    card->handle = before->handle;
    card->noteStarted();
    cards_.push_back(card);
    Q_EMIT cardAdded(card);
    return card;
}

/// Tells the ledger how a run stands. A paused one counts as well done so far, and is completed again when it goes on.
void Sheet::noteEnd(Card* card) {
    const std::optional<std::int64_t> rows =
        card->result() ? std::optional(static_cast<std::int64_t>(card->rowCount())) : std::nullopt;
    const bool isOver = card->state() == Card::State::Failed || card->state() == Card::State::Stopped;
    const store::RunEnd end = work::endRecord({.summary = card->summary(),
                                               .rows = rows,
                                               .error = isOver ? card->error() : std::nullopt,
                                               .isPartial = card->hasMore()});
    desk_.ledger().end(card->ledgerId, end);
    spdlog::debug("run {} on {}: {}", card->number(), state_.connectionId, store::statusWord(end.status));
    Q_EMIT cardChanged(card);
    Q_EMIT runningChanged();
}

void Sheet::stop() {
    queue_.stop();
    for (Card* card : cards_) {
        if (card->isGoingOn()) card->handle.cancel();
    }
}

bool Sheet::isRunning() const {
    return std::ranges::any_of(cards_, [](const Card* card) { return card->isGoingOn(); });
}

void Sheet::fetchMore(Card* card) {
    if (card->state() != Card::State::Paused) return;
    card->noteResumed();
    card->handle.fetchMore(desk_.settings().pageRows);
    Q_EMIT runningChanged();
}

void Sheet::fetchAll(Card* card) {
    if (card->state() == Card::State::Paused) {
        card->noteResumed();
        card->handle.fetchAll();
        Q_EMIT runningChanged();
    } else if (card->state() == Card::State::Partial) {
        if (!isFromHere(card)) {
            return Q_EMIT remarked(
                tr("This result came from %1. Go there with this sheet to read its other rows.").arg(card->place()));
        }
        if (!card->statement().reading().isPlain()) {
            return Q_EMIT remarked(
                tr("The statement may change something, so it is not run again for its other rows."));
        }
        const work::QueuedStatement again{card->statement(), std::make_shared<db::RunBatch>()};
        if (Card* fresh = run(again, work::Consent::OnlyIfItReads)) fresh->handle.fetchAll();
    }
}

void Sheet::removeCard(Card* card) {
    card->handle.cancel();
    std::erase(cards_, card);
    Q_EMIT cardRemoved(card);
    card->deleteLater();
}

Card* Sheet::cardOf(std::size_t statementIndex) const {
    const std::string_view text = script().textOf(statementIndex);
    for (auto card = cards_.rbegin(); card != cards_.rend(); ++card) {
        if ((*card)->statement().text() == text && isFromHere(*card)) return *card;
    }
    return nullptr;
}

/// What the text and the catalog add to a complaint of the server.
Error Sheet::advised(const Error& error, const std::string& statement) const {
    return sql::withAdvice(sql::withTextAdvice(error, statement, language_), statement, language_, catalogView());
}

std::map<std::size_t, Card*> Sheet::cardsOfStatements() const {
    std::map<std::size_t, Card*> found;
    std::unordered_set<std::string_view> seen;
    for (Card* card : std::views::reverse(cards_)) {  // the latest of a statement is the one that counts
        if (!isFromHere(card) || !seen.insert(card->statement().text()).second) continue;
        for (const std::size_t statement : reading_->statementsLike(card->statement().text())) found[statement] = card;
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
