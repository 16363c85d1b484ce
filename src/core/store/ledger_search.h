#pragma once

#include <cstddef>
#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/time.h"

namespace pantry::store {

/// One condition of a search in the ledger.
struct LedgerTerm {
    enum class Kind {
        Word,    ///< occurs in statement, error or note
        Failed,  ///< or was interrupted
        Stopped,
        HeldBack,
        Running,
        Slow,  ///< a second or more
        Starred,
        Noted,
        Apart,    ///< no condition: runs are one entry only when their values are the same too
        Changes,  ///< rows or definitions, as far as the statement tells
        Since,    ///< `moment` or later
        Before,   ///< earlier than `moment`
        Rows,     ///< returned or changed, compared with `number`
        Took,     ///< compared with `number`, in microseconds
        Table,    ///< the statement names a relation so
        By,       ///< the user's name begins so
        On,       ///< the connection's name begins so, or a word of it does
        Sheet,    ///< the sheet's title begins so, or a word of it does
        Saved     ///< the same with the place of the saved query
    };
    enum class Compared { Above, Below, Equal };
    Kind kind = Kind::Word;
    bool isNegated = false;
    std::string text = {};  ///< of Word, Table, By, On, Sheet, Saved
    Compared compared = Compared::Above;
    std::int64_t number = 0;
    base::Moment moment{};
    std::size_t start = 0;  ///< bytes of the search that say so
    std::size_t length = 0;
};

/// What of a search is not understood.
struct LedgerSearchProblem {
    std::size_t start = 0;
    std::size_t length = 0;
    std::string message;  ///< what is wrong, and what can be written
};

/// When runs of one connection are one entry of a list.
enum class LedgerAlike {
    Form,  ///< the same but for values and layout
    Text   ///< the same text
};

struct LedgerSearch {
    std::vector<LedgerTerm> terms;
    std::vector<LedgerSearchProblem> problems;
    /// By the word “apart”.
    [[nodiscard]] LedgerAlike alike() const;
    [[nodiscard]] bool has(LedgerTerm::Kind kind) const;
};

/// Reads what people type to search: words, "several words", and conditions such as failed, since:2026-11-01, rows>1000
/// or table:plot; each can be negated with a - before it. What is not understood is told, and left out.
/// `now`: what today and yesterday mean.
[[nodiscard]] LedgerSearch parseLedgerSearch(std::string_view text, base::Moment now);

/// A condition in words: contains “plot”, since 2026-11-12, did not fail.
[[nodiscard]] std::string explained(const LedgerTerm& term);

/// The words that mean more than themselves, for lists and help.
struct LedgerSearchWord {
    std::string_view word;  ///< as it is written, with an example: rows>1000
    std::string_view meaning;
};
[[nodiscard]] std::span<const LedgerSearchWord> ledgerSearchWords();

}  // namespace pantry::store
