#include "core/work/language_service.h"

#include <algorithm>
#include <utility>

#include "core/base/mutex.h"
#include "core/base/utf8.h"
#include "core/sql/syntax/splitter.h"

namespace pantry::work {
namespace {

std::vector<sql::Finding> findingsOf(const TextReading& reading, const catalog::View* catalog) {
    if (reading.isTooLarge() || reading.json()) return {};
    sql::CheckOptions options{.catalog = catalog};
    options.definedInScript = sql::definedIn(reading.script());
    std::vector<sql::Finding> found;
    for (std::size_t i = 0; i < reading.script().statements().size(); ++i) {
        for (sql::Finding& one : sql::checkStatement(reading.script(), i, options)) found.push_back(std::move(one));
    }
    if (found.size() > LanguageService::kMaxFindings) {
        std::ranges::stable_sort(found, {}, &sql::Finding::severity);
        found.resize(LanguageService::kMaxFindings);
    }
    std::ranges::stable_sort(found, {}, &sql::Finding::start);
    return found;
}

}  // namespace

struct LanguageService::State {
    explicit State(const sql::Language& l) : language(l) {}

    /// Tells an answer, unless nobody is there any more to hear it.
    template <class Told, class Answer>
    void tell(const Told& told, Answer&& answer) EXCLUDES(telling) {
        const base::Lock lock(telling);
        if (!isGone) told(std::forward<Answer>(answer));
    }

    base::Mutex mutex;
    base::SharedText text GUARDED_BY(mutex);
    sql::Language language GUARDED_BY(mutex);
    bool isReadingDue GUARDED_BY(mutex) = false;  // a job is on its way that will read what is there then

    base::Mutex telling;
    bool isGone GUARDED_BY(telling) = false;
    std::function<void(const TextReadingPtr&)> read;  // never changes

    TextReadingPtr last;  // of the strand alone
};

LanguageService::LanguageService(const sql::Language& language, std::function<void(const TextReadingPtr&)> read)
    : state_(std::make_shared<State>(language)), strand_(base::Executor::of(base::Work::Interactive)) {
    state_->read = std::move(read);
}

LanguageService::~LanguageService() {
    const base::Lock lock(state_->telling);
    state_->isGone = true;
}

void LanguageService::setText(const base::SharedText& text) {
    {
        const base::Lock lock(state_->mutex);
        state_->text = text;
        if (std::exchange(state_->isReadingDue, true)) return;
    }
    strand_.post([state = state_] { (void)readingOf(*state); });
}

void LanguageService::setLanguage(const sql::Language& language) {
    {
        const base::Lock lock(state_->mutex);
        if (state_->language == language) return;
        state_->language = language;
        if (std::exchange(state_->isReadingDue, true)) return;
    }
    strand_.post([state = state_] { (void)readingOf(*state); });
}

/// What is found in the text as it is now; told when that is new.
TextReadingPtr LanguageService::readingOf(State& state) {
    base::SharedText text;
    std::optional<sql::Language> language;
    {
        const base::Lock lock(state.mutex);
        state.isReadingDue = false;
        text = state.text;
        language = state.language;
    }
    if (state.last && state.last->text().isCopyOf(text) && state.last->language() == *language) return state.last;
    state.last = std::make_shared<const TextReading>(TextReading::of(text, *language, state.last.get()));
    state.tell(state.read, state.last);
    return state.last;
}

void LanguageService::complete(std::size_t caret, catalog::View catalog,
                               std::function<void(const sql::Completion&)> told) {
    base::SharedText asked;
    {
        const base::Lock lock(state_->mutex);
        asked = state_->text;
    }
    strand_.post(
        [state = state_, caret, asked = std::move(asked), catalog = std::move(catalog), told = std::move(told)] {
            const TextReadingPtr reading = readingOf(*state);
            if (!reading->text().isCopyOf(asked) || reading->isTooLarge() || reading->json()) return;
            state->tell(told, sql::completeAt(reading->script(), caret, catalog));
        });
}

void LanguageService::check(std::optional<catalog::View> catalog,
                            std::function<void(const TextReadingPtr&, const std::vector<sql::Finding>&)> told) {
    strand_.post([state = state_, catalog = std::move(catalog), told = std::move(told)]() mutable {
        // Reading comes first and in its turn; what is found in it takes longer, and nobody who types waits for it.
        base::Executor::of(base::Work::Long)
            .post([state, catalog = std::move(catalog), told = std::move(told), reading = readingOf(*state)] {
                state->tell([&](const std::vector<sql::Finding>& findings) { told(reading, findings); },
                            findingsOf(*reading, catalog ? &*catalog : nullptr));
            });
    });
}

void LanguageService::format(const FormatWish& wish, std::function<void(const FormattedEdit&)> told) {
    const base::Lock lock(state_->mutex);
    strand_.post([state = state_, wish, text = state_->text, language = state_->language, told = std::move(told)] {
        const std::string whole = text.str();
        FormattedEdit edit{.of = text, .start = 0, .end = whole.size()};
        if (wish.end > wish.start) {
            sql::FormattedPart part = sql::formatPart(whole, wish.start, wish.end, language, wish.options);
            edit.start = part.start;
            edit.end = part.end;
            edit.text = std::move(part.text);
            edit.unread = std::move(part.unread);
        } else {
            sql::FormattedText formatted = sql::formatKeepingCaret(whole, wish.caret, language, wish.options);
            edit.text = std::move(formatted.text);
            edit.caret = formatted.caret;
            edit.unread = std::move(formatted.unread);
        }
        edit.isSame = std::string_view(whole).substr(edit.start, edit.end - edit.start) == edit.text;
        if (!edit.unread.empty()) {
            const std::string after = whole.substr(0, edit.start) + edit.text + whole.substr(edit.end);
            edit.unreadLine = base::linePositionAt(after, edit.unread.front().formattedOffset).line;
        }
        state->tell(told, edit);
    });
}

void LanguageService::findStatements(WantedStatements wanted, std::function<void(std::vector<sql::Statement>)> told) {
    const base::Lock lock(state_->mutex);
    strand_.post([state = state_, wanted = std::move(wanted), text = state_->text, language = state_->language,
                  told = std::move(told)] { state->tell(told, statementsOf(text, wanted, language)); });
}

std::vector<sql::Statement> statementsOf(const base::SharedText& text, const WantedStatements& wanted,
                                         const sql::Language& language) {
    const bool isPart = !wanted.selection.empty();
    const std::string whole = isPart ? wanted.selection : text.str();
    const std::vector<sql::StatementSpan> spans = sql::splitStatements(whole, language);
    std::vector<sql::Statement> statements;
    const auto take = [&](const sql::StatementSpan& span) {
        const sql::Statement statement(whole.substr(span.start, span.length), wanted.session);
        if (span.length <= TextReading::kLongestStatement) {
            (void)statement.risk();
            (void)statement.reading();
        }
        (void)statement.title();
        statements.push_back(statement);
    };
    if (isPart || !wanted.caret) {
        std::ranges::for_each(spans, take);
    } else if (const auto index = sql::statementAt(whole, spans, *wanted.caret)) {
        take(spans[*index]);
    }
    return statements;
}

}  // namespace pantry::work
