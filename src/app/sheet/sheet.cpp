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

constexpr int kKeepAfterMs = 200;         // with a slow disk still within the second that a crash may cost
constexpr std::size_t kCardsKept = 200;   // their rows share a limit of their own
constexpr std::size_t kMaxUnderWay = 32;  // statements that are sent, or wait at the line, at a time

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
                .remarked = [this](const std::string& text) { Q_EMIT remarked(toQt(text)); }}) {
    if (const db::ConnectionProfile* p = profile()) language_ = db::dialectOf(p->engine);
    service_.setLanguage(language_);
    if (state_.text.size() > work::TextReading::kMaxBytes) {  // that is known without reading it
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
    connect(&idleTimer_, &QTimer::timeout, this, [this] { session_.closeIfIdle(); });
    idleTimer_.start();
    constexpr int kLookAroundMs = 2000;
    lookTimer_.setInterval(kLookAroundMs);
    connect(&lookTimer_, &QTimer::timeout, this, [this] {
        if (!isRunning()) session_.pollNotices();
    });
    lookTimer_.start();
    connect(&desk_, &Desk::profilesChanged, this, [this] { session_.noteConnections(); });
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
    if (const db::ConnectionProfile* p = profile()) language_ = db::dialectOf(p->engine);
    service_.setLanguage(language_);
    Q_EMIT connectionChanged();
}

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

void Sheet::complete(std::size_t caret, std::function<void(const sql::Completion&)> told) {
    service_.complete(caret, session_.catalogView(),
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
    service_.findStatements(std::move(wanted), [this, guard = QPointer<QObject>(this), stops = stops_,
                                                then = std::move(then)](const std::vector<sql::Statement>& statements) {
        onWindowThread(guard, [this, stops, then, statements] {
            if (stops == stops_) then(statements);  // else somebody has stopped it meanwhile
        });
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
    return session_.whyHeld(statement);
}

bool Sheet::send(const work::QueuedStatement& next, work::Consent consent) { return run(next, consent) != nullptr; }

std::size_t Sheet::underWay() const {
    return static_cast<std::size_t>(std::ranges::count_if(cards_, [](const Card* card) { return card->isGoingOn(); }));
}

std::string Sheet::connectionName() const { return profile() != nullptr ? profile()->name : std::string(); }

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

QString Sheet::elapsedText() const {
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

void Sheet::connectWith(const std::string& password) {
    if (const auto refused = session_.connectWith(password)) queue_.add({*refused});
}

std::optional<db::RunHandle> Sheet::runBeside(db::RunRequest request, std::shared_ptr<db::RunObserver> observer) {
    db::Session* line = isRunning() ? nullptr : session_.session();
    if (line == nullptr) return std::nullopt;
    request.guard = db::onlyReading();  // it runs a second time
    return line->execute(std::move(request), std::move(observer));
}

void Sheet::addComparison(const QString& title, const data::ResultSetPtr& differences, const QString& words) {
    auto* card = new Card(nextNumber_++, title, {std::string(), languageNow()}, *this);
    card->setPlace(session_.origin(), tr("two results"));
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

bool Sheet::isFromHere(const Card* card) const { return card->origin().isLike(session_.origin()); }

QColor Sheet::colourOf(const QString& connectionId) const {
    const db::ConnectionProfile* p = desk_.connections().profile(fromQt(connectionId));
    const Theme& theme = Theme::current();
    return p != nullptr ? theme.connectionColour(db::signalColour(*p)) : theme.colour("quiet");
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
QString Sheet::placeText() const {
    const db::ConnectionProfile* p = profile();
    if (p == nullptr) return {};
    const std::string& database = session_.state().line.database.empty() ? p->database : session_.state().line.database;
    return toQt(p->name) +
           (database.empty() || db::isFile(p->engine) ? QString() : QStringLiteral(" · ") + toQt(database));
}

Card* Sheet::run(const work::QueuedStatement& next, work::Consent consent, Card* into) {
    db::Session* line = session_.session();
    if (line == nullptr) {
        Q_EMIT remarked(tr("This sheet has no connection yet. Choose one in the band above."));
        return nullptr;
    }
    const sql::Statement& statement = next.statement;
    auto* card = into != nullptr ? into : new Card(nextNumber_++, toQt(statement.title()), statement, *this);
    card->setPlace(session_.origin(), placeText());
    auto bridge = RunBridge::make();
    connectBridge(bridge.get(), card, next.batch);
    if (into == nullptr) {
        cards_.push_back(card);
        Q_EMIT cardAdded(card);
    }

    // The ledger has the run before the server has.
    desk_.ledger().start(record(statement), card->startedAt(),
                         [this, &ledger = desk_.ledger(), guard = QPointer<Card>(card)](std::int64_t id) {
                             if (!guard || guard->wasNeverSent) return ledger.remove(id);  // it was never sent
                             guard->ledgerId = id;
                             if (!guard->isGoingOn()) noteEnd(guard);
                         });
    card->handle = line->execute(session_.request(statement, consent, queue_.batchToSend(next)), bridge);
    forgetOldest();
    if (!elapsedTimer_.isActive()) elapsedTimer_.start();
    Q_EMIT runningChanged();
    return card;
}

/// The statements that the connection runs by itself, when a connection was opened for a run.
void Sheet::noteConnected(const db::RunSummary& summary) {
    const auto ran = session_.ranOnConnect(summary);
    if (!ran) return;
    desk_.ledger().start(record(*ran), summary.startedAt,
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
        session_.note(summary.session);
        if (!*card) return;
        const bool wasPaused = (*card)->state() == Card::State::Paused;
        (*card)->noteFinished(summary);
        noteEnd(*card);
        session_.noteFinished((*card)->statement());
        if (!wasPaused) queue_.goOn();
    });
    connect(bridge, &RunBridge::runFailed, this,
            [this, card, batch, attempt = session_.attempts()](const Error& error, const db::RunSummary& summary) {
                noteConnected(summary);
                const sql::Statement statement = *card ? (*card)->statement() : sql::Statement();
                const bool runsAgain = session_.noteFailed(error, summary, statement, attempt);
                if (!*card) return;
                noteRunFailed(*card, error, summary, batch);
                if (runsAgain) queue_.add({statement});
            });
}

/// What was held back waits in the queue; what was not sent behind it, too, or is given up with its batch.
void Sheet::noteRunFailed(Card* card, const Error& error, const db::RunSummary& summary,
                          const std::shared_ptr<db::RunBatch>& batch) {
    const work::QueuedStatement failed{card->statement(), batch};
    card->noteFailed(session_.advised(error, card->statement().text(), language_), summary);
    if (summary.isBehindBroken) {  // told with the one that failed
        if (held()) queue_.noteNotRun(failed);
        return dropUnsent(card);
    }
    if (!summary.held || summary.wasSent) noteEnd(card);
    if (!summary.held) {
        const QString words = tr("Statement %1 failed: %2").arg(card->number()).arg(card->outcomeText());
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
    ++stops_;
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
