#pragma once

#include <cstddef>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/executor.h"
#include "core/base/shared_text.h"
#include "core/catalog/catalog_view.h"
#include "core/snippet/snippets.h"
#include "core/sql/complete/completion.h"
#include "core/sql/complete/signature.h"
#include "core/sql/meaning/name_facts.h"
#include "core/sql/meaning/pairs.h"
#include "core/sql/meaning/parameters.h"
#include "core/sql/meaning/statement.h"
#include "core/sql/rewrite/rewrite.h"
#include "core/sql/rewrite/star_columns.h"
#include "core/work/formatted_edit.h"
#include "core/work/text_reading.h"

namespace pantry::work {

/// Which statements of a text somebody wants to run.
struct WantedStatements {
    /// Which of them a caret tells of: that which it means, or also all before it, or all behind it.
    enum class Reach { Itself, UpToIt, FromIt };
    std::optional<std::size_t> caret;  ///< a byte; all of them without
    std::string selection;             ///< those of the selection instead, when it is not empty
    sql::Language session;             ///< how the session that they run in reads them
    Reach reach = Reach::Itself;
};

/// Statements to be run, and the parameters that they ask for, each once.
struct FoundStatements {
    std::vector<sql::Statement> statements;
    std::string unfilled = {};  ///< a place of a snippet among them that stands open, such as «table»; empty for none
    std::vector<sql::StatementParameter> parameters;  ///< without types: those need a catalog
};

/// A name of a text: what is known about it, and where else it stands. Places are bytes of the text.
struct NameInText {
    sql::TextRange at;
    std::optional<sql::NameFacts> facts;   ///< none of a name that nobody knows
    std::vector<sql::TextRange> uses;      ///< this place among them; none where it is not known what it means
    std::optional<sql::TextRange> madeAt;  ///< where the text itself makes it
};

/// All that is to be known about one text while somebody writes in it: its statements, colours, findings, completion,
/// layout. Whoever owns the text tells each version and goes on; the answers come from another thread. When versions
/// follow each other faster than they can be read, those between are left out.
///
/// Threads: for one at a time. What is told comes on a worker's thread; none of it after the destructor.
class LanguageService {
public:
    /// `read` hears what was found in a version of the text.
    LanguageService(const sql::Language& language, std::function<void(const TextReadingPtr&)> read);
    ~LanguageService();
    LanguageService(const LanguageService&) = delete;
    LanguageService& operator=(const LanguageService&) = delete;

    void setText(const base::SharedText& text);
    void setLanguage(const sql::Language& language);
    /// By the name of its file; Sql at first.
    void setKind(TextKind kind);

    /// Which findings stay silent, and from how many rows on a table is large.
    void setFindingChoices(const std::vector<std::string>& off, std::int64_t manyRows);
    /// What is offered with the words that begin a statement.
    void setSnippets(std::vector<snippet::Snippet> snippets);
    /// What could stand at a byte of the text; never told when the text is another one by then.
    void complete(std::size_t caret, catalog::View catalog, const sql::CompletionWish& wish,
                  std::function<void(const sql::Completion&)> told);

    /// Everything that can be found out about the text as it is now, the most severe `kMaxFindings`, in its order; with
    /// the reading that it is about. `catalog`: what the database has, where that is known.
    static constexpr std::size_t kMaxFindings = 500;
    void check(std::optional<catalog::View> catalog,
               std::function<void(const TextReadingPtr&, const std::vector<sql::Finding>&)> told);

    /// See formatText().
    void format(const FormatWish& wish, std::function<void(const FormattedEdit&)> told);

    /// The statements of the text as it is now, whatever is written by the time that they are told; of a text of any
    /// size.
    void findStatements(WantedStatements wanted, std::function<void(const FoundStatements&)> told);

    /// Hears an answer with the text that it is about: somebody may have gone on writing by then.
    template <class Answer>
    using Told = std::function<void(const base::SharedText& of, const Answer& answer)>;

    /// The statement at a caret, written in one of the ways of `rewritings`.
    void rewrite(std::string way, sql::RewriteWish wish, catalog::View catalog, Told<Result<sql::Rewritten>> told);
    /// What the * that a caret means stands for.
    void findStar(std::size_t caret, catalog::View catalog, Told<Result<sql::StarColumns>> told);
    /// The name that a byte of the text touches.
    void findName(std::size_t offset, catalog::View catalog, Told<std::optional<NameInText>> told);
    /// The bracket or word at a caret, and what it belongs to.
    void findPair(std::size_t caret, Told<std::optional<sql::TextPair>> told);
    /// What can be folded, line by line.
    void findFolds(Told<std::vector<sql::FoldLine>> told);
    /// The call whose arguments are written at a caret.
    void findSignature(std::size_t caret, catalog::View catalog, Told<std::optional<sql::Signature>> told);
    /// The parameters of the statements that somebody wants to run, each once.
    void findParameters(WantedStatements wanted, catalog::View catalog,
                        Told<std::vector<sql::StatementParameter>> told);

private:
    struct State;
    template <class Answer>
    void ask(std::function<Answer(const TextReading&)> question, Told<Answer> told);
    /// The same of a text in any language.
    template <class Answer>
    void askAnyway(std::function<Answer(const TextReading&)> question, Told<Answer> told);
    static TextReadingPtr readingOf(State& state);

    std::shared_ptr<State> state_;
    base::Strand strand_;
};

/// Adds snippets to what is offered where a statement begins, by the letters of their trigger.
void offerSnippets(sql::Completion& completion, const std::vector<snippet::Snippet>& snippets);

/// The statements that somebody wants to run of a text; what has to be known before one is sent is worked out.
/// `language`: by which the text is cut into statements.
[[nodiscard]] std::vector<sql::Statement> statementsOf(const base::SharedText& text, TextKind kind,
                                                       const WantedStatements& wanted, const sql::Language& language);

}  // namespace pantry::work
