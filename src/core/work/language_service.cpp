#include "core/work/language_service.h"

#include <algorithm>
#include <utility>

#include "core/base/mutex.h"
#include "core/base/text.h"
#include "core/sql/syntax/splitter.h"
#include "core/work/reading_shape.h"

namespace pantry::work {
namespace {

std::vector<sql::Finding> findingsOf(const TextReading& reading, sql::CheckOptions options) {
    if (reading.isTooLarge() || reading.json()) return {};
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

NameInText nameIn(const sql::Script& script, std::size_t statement, std::size_t offset, const catalog::View& catalog) {
    const std::string_view text = script.textOf(statement);
    const sql::SyntaxTree& tree = *script.statements()[statement].tree;
    const std::size_t base = script.statements()[statement].span.start;
    const sql::ScopeFinder scope(text, tree, catalog);
    const sql::NameFinder finder(text, tree, scope);
    const auto rangeOf = [&](std::uint32_t token) {
        return sql::TextRange{base + tree.tokens[token].start, tree.tokens[token].length};
    };
    NameInText name;
    const auto token = finder.nameTokenAt(offset - base);
    if (!token) return name;
    name.facts = sql::factsAt(text, tree, scope, catalog, *token);
    const auto uses = finder.usesOf(*token);
    if (!name.facts && !uses && tree.tokens[*token].keyword != sql::Keyword::None) return name;
    name.at = rangeOf(*token);
    if (uses) {
        for (const std::uint32_t one : uses->tokens) name.uses.push_back(rangeOf(one));
        if (uses->madeAt != sql::Node::kNone) name.madeAt = rangeOf(uses->madeAt);
    }
    return name;
}

/// The statement whose bytes hold a byte of the text, or end there.
std::optional<std::size_t> statementWith(const sql::Script& script, std::size_t offset) {
    const std::optional<std::size_t> statement = script.indexAt(offset);
    if (!statement) return std::nullopt;
    const sql::StatementSpan& span = script.statements()[*statement].span;
    return span.start <= offset && offset <= span.end() ? statement : std::nullopt;
}

/// Where a statement has words and names: what is neither in a string nor in a comment.
std::vector<sql::TextRange> wordsOf(const sql::Statement& statement) {
    std::vector<sql::TextRange> words;
    for (const sql::Token& token : statement.tokens()) {
        const bool isWord = token.kind == sql::TokenKind::Word || token.kind == sql::TokenKind::QuotedName ||
                            token.kind == sql::TokenKind::Invalid;
        if (!isWord) continue;
        const bool goesOn = !words.empty() && words.back().start + words.back().length == token.start;
        if (goesOn) {
            words.back().length += token.length;
        } else {
            words.push_back({token.start, token.length});
        }
    }
    return words;
}

/// Parameters of one more statement; those of the same name are one.
void addParameters(std::vector<sql::StatementParameter>& all, const sql::Statement& statement,
                   const catalog::View& catalog) {
    const auto& tokens = statement.tokens();
    if (std::ranges::none_of(tokens, [](const sql::Token& t) { return t.kind == sql::TokenKind::Parameter; })) return;
    const sql::ScopeFinder scope(statement.text(), statement.tree(), catalog);
    for (sql::StatementParameter& one : sql::parametersOf(statement.text(), statement.tree(), scope)) {
        const auto known = std::ranges::find(all, one.key, &sql::StatementParameter::key);
        if (known == all.end()) {
            all.push_back(std::move(one));
        } else {
            known->isList = known->isList && one.isList;
        }
    }
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
    TextKind kind GUARDED_BY(mutex) = TextKind::Sql;
    sql::CheckOptions choices GUARDED_BY(mutex);
    std::shared_ptr<const std::vector<snippet::Snippet>> snippets GUARDED_BY(mutex) =
        std::make_shared<const std::vector<snippet::Snippet>>();
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

void LanguageService::setKind(TextKind kind) {
    {
        const base::Lock lock(state_->mutex);
        if (std::exchange(state_->kind, kind) == kind) return;
        if (std::exchange(state_->isReadingDue, true)) return;
    }
    strand_.post([state = state_] { (void)readingOf(*state); });
}

/// What is found in the text as it is now; told when that is new.
TextReadingPtr LanguageService::readingOf(State& state) {
    base::SharedText text;
    std::optional<sql::Language> language;
    TextKind kind = TextKind::Sql;
    {
        const base::Lock lock(state.mutex);
        state.isReadingDue = false;
        text = state.text;
        language = state.language;
        kind = state.kind;
    }
    const bool isSameWay = state.last && state.last->language() == *language && state.last->kind() == kind;
    if (isSameWay && state.last->text().isCopyOf(text)) return state.last;
    state.last = std::make_shared<const TextReading>(TextReading::of(text, *language, state.last.get(), kind));
    state.tell(state.read, state.last);
    return state.last;
}

void LanguageService::setFindingChoices(const std::vector<std::string>& off, std::int64_t manyRows) {
    const base::Lock lock(state_->mutex);
    state_->choices.off = {off.begin(), off.end()};
    state_->choices.manyRows = manyRows;
}

void LanguageService::setSnippets(std::vector<snippet::Snippet> snippets) {
    const base::Lock lock(state_->mutex);
    state_->snippets = std::make_shared<const std::vector<snippet::Snippet>>(std::move(snippets));
}

void LanguageService::complete(std::size_t caret, catalog::View catalog, const sql::CompletionWish& wish,
                               std::function<void(const sql::Completion&)> told) {
    base::SharedText asked;
    std::shared_ptr<const std::vector<snippet::Snippet>> snippets;
    {
        const base::Lock lock(state_->mutex);
        asked = state_->text;
        snippets = state_->snippets;
    }
    strand_.post([state = state_, caret, wish, asked = std::move(asked), snippets, catalog = std::move(catalog),
                  told = std::move(told)] {
        const TextReadingPtr reading = readingOf(*state);
        if (!reading->text().isCopyOf(asked) || reading->isTooLarge() || !reading->isSqlAt(caret)) return;
        sql::Completion completion = sql::completeAt(reading->script(), caret, catalog, wish);
        offerSnippets(completion, *snippets);
        state->tell(told, completion);
    });
}

void LanguageService::check(std::optional<catalog::View> catalog,
                            std::function<void(const TextReadingPtr&, const std::vector<sql::Finding>&)> told) {
    strand_.post([state = state_, catalog = std::move(catalog), told = std::move(told)]() mutable {
        // Reading comes first and in its turn; what is found in it takes longer, and nobody who types waits for it.
        base::Executor::of(base::Work::Long)
            .post([state, catalog = std::move(catalog), told = std::move(told), reading = readingOf(*state)] {
                sql::CheckOptions options;
                {
                    const base::Lock lock(state->mutex);
                    options = state->choices;
                }
                options.catalog = catalog ? &*catalog : nullptr;
                state->tell([&](const std::vector<sql::Finding>& findings) { told(reading, findings); },
                            findingsOf(*reading, std::move(options)));
            });
    });
}

void LanguageService::format(const FormatWish& wish, std::function<void(const FormattedEdit&)> told) {
    const base::Lock lock(state_->mutex);
    strand_.post([state = state_, wish, text = state_->text, kind = state_->kind, language = state_->language,
                  told = std::move(told)] { state->tell(told, formatText(text, kind, language, wish)); });
}

void LanguageService::findStatements(WantedStatements wanted, std::function<void(const FoundStatements&)> told) {
    const base::Lock lock(state_->mutex);
    strand_.post([state = state_, wanted = std::move(wanted), text = state_->text, kind = state_->kind,
                  language = state_->language, told = std::move(told)] {
        FoundStatements found{.statements = statementsOf(text, kind, wanted, language), .parameters = {}};
        const catalog::View nothing;
        for (const sql::Statement& one : found.statements) {
            if (one.text().size() > TextReading::kLongestStatement) continue;
            addParameters(found.parameters, one, nothing);
            if (found.unfilled.empty()) found.unfilled = snippet::unfilledPlace(one.text(), wordsOf(one)).value_or("");
        }
        state->tell(told, found);
    });
}

template <class Answer>
void LanguageService::askAnyway(std::function<Answer(const TextReading&)> question, Told<Answer> told) {
    strand_.post([state = state_, question = std::move(question), told = std::move(told)] {
        const TextReadingPtr reading = readingOf(*state);
        if (reading->isTooLarge()) return;
        state->tell([&](const Answer& answer) { told(reading->text(), answer); }, question(*reading));
    });
}

template <class Answer>
void LanguageService::ask(std::function<Answer(const TextReading&)> question, Told<Answer> told) {
    strand_.post([state = state_, question = std::move(question), told = std::move(told)] {
        const TextReadingPtr reading = readingOf(*state);
        if (reading->isTooLarge() || reading->json()) return;
        state->tell([&](const Answer& answer) { told(reading->text(), answer); }, question(*reading));
    });
}

void LanguageService::rewrite(std::string way, sql::RewriteWish wish, catalog::View catalog,
                              Told<Result<sql::Rewritten>> told) {
    ask<Result<sql::Rewritten>>(
        [way = std::move(way), wish = std::move(wish), catalog = std::move(catalog)](const TextReading& reading) {
            return sql::rewrite(way, reading.script(), catalog, wish);
        },
        std::move(told));
}

void LanguageService::findStar(std::size_t caret, catalog::View catalog, Told<Result<sql::StarColumns>> told) {
    ask<Result<sql::StarColumns>>(
        [caret, catalog = std::move(catalog)](const TextReading& reading) {
            return sql::starColumnsAt(reading.script(), catalog, caret);
        },
        std::move(told));
}

void LanguageService::findPair(std::size_t caret, Told<std::optional<sql::TextPair>> told) {
    askAnyway<std::optional<sql::TextPair>>([caret](const TextReading& reading) { return pairIn(reading, caret); },
                                            std::move(told));
}

void LanguageService::findFolds(Told<std::vector<sql::FoldLine>> told) {
    askAnyway<std::vector<sql::FoldLine>>([](const TextReading& reading) { return foldLinesOf(reading); },
                                          std::move(told));
}

void LanguageService::findName(std::size_t offset, catalog::View catalog, Told<std::optional<NameInText>> told) {
    ask<std::optional<NameInText>>(
        [offset, catalog = std::move(catalog)](const TextReading& reading) -> std::optional<NameInText> {
            const auto statement = statementWith(reading.script(), offset);
            if (!statement) return std::nullopt;
            NameInText name = nameIn(reading.script(), *statement, offset, catalog);
            return name.at.length == 0 ? std::nullopt : std::optional(std::move(name));
        },
        std::move(told));
}

void LanguageService::findSignature(std::size_t caret, catalog::View catalog,
                                    Told<std::optional<sql::Signature>> told) {
    ask<std::optional<sql::Signature>>(
        [caret, catalog = std::move(catalog)](const TextReading& reading) {
            return sql::signatureAt(reading.script(), caret, catalog);
        },
        std::move(told));
}

void LanguageService::findParameters(WantedStatements wanted, catalog::View catalog,
                                     Told<std::vector<sql::StatementParameter>> told) {
    ask<std::vector<sql::StatementParameter>>(
        [wanted = std::move(wanted), catalog = std::move(catalog)](const TextReading& reading) {
            std::vector<sql::StatementParameter> all;
            for (const sql::Statement& one : statementsOf(reading.text(), reading.kind(), wanted, reading.language()))
                addParameters(all, one, catalog);
            return all;
        },
        std::move(told));
}

void offerSnippets(sql::Completion& completion, const std::vector<snippet::Snippet>& snippets) {
    if (!completion.isStatementStart) return;
    constexpr std::size_t kEnoughLetters = 2;
    std::vector<sql::CompletionItem> fitting;
    for (const snippet::Snippet& one : snippets) {
        if (!base::startsWithIgnoringCase(one.trigger, completion.prefix)) continue;
        fitting.push_back({.text = one.trigger, .kind = sql::CompletionKind::Snippet, .detail = one.title});
    }
    if (fitting.empty()) return;
    const bool isMeant = completion.prefix.size() >= kEnoughLetters;
    completion.opens = completion.opens || isMeant;
    // A word of the language with the same letters stands before them.
    const auto starts = [&](const sql::CompletionItem& item) {
        return base::startsWithIgnoringCase(item.text, completion.prefix);
    };
    const auto at = isMeant ? std::ranges::find_if_not(completion.items, starts) : completion.items.end();
    completion.items.insert(at, fitting.begin(), fitting.end());
}

std::vector<sql::Statement> statementsOf(const base::SharedText& text, TextKind kind, const WantedStatements& wanted,
                                         const sql::Language& language) {
    const bool isPart = !wanted.selection.empty();
    const std::string whole = isPart ? wanted.selection : sqlIn(text.str(), kind);
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
        const auto at = spans.begin() + static_cast<std::ptrdiff_t>(*index);
        using enum WantedStatements::Reach;
        std::for_each(wanted.reach == UpToIt ? spans.begin() : at, wanted.reach == FromIt ? spans.end() : at + 1, take);
    }
    return statements;
}

}  // namespace pantry::work
