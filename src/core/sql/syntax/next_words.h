#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/sql/syntax/looked_for.h"
#include "core/sql/syntax/syntax_tree.h"

namespace pantry::sql {

/// What the grammar takes behind the beginning of a statement. The parser is run to the end of it and tells what it
/// looked for; what can really stand there is tried, by parsing the beginning once more with it.
///
/// Cost: as long as parsing the beginning, for each thing that is tried. Threads: none of its own.
class NextWords {
public:
    /// What a name would be there: `parent` is the node that would have it, NodeKind::Name where it may have a dot.
    struct Name {
        TokenRole role = TokenRole::Plain;
        std::vector<NodeKind> around;  ///< the nodes around it, the nearest first
    };

    /// `beginning` are the statement's bytes up to the place, `tokens` the tokens of these, counted from its first
    /// byte.
    NextWords(std::string_view beginning, std::vector<Token> tokens, Language language);

    [[nodiscard]] const LookedFor& lookedFor() const { return lookedFor_; }
    /// Whether the beginning is understood, but for its last words, which may wait for what follows.
    [[nodiscard]] bool isUnderstood() const { return errors_ == 0; }
    /// From here on tries parse some so many tokens together; canAfford() tells whether there are any left.
    void afford(std::size_t tokens) { afforded_ = tokens; }
    [[nodiscard]] bool canAfford() const { return afforded_ > 0; }

    /// The keywords that may follow there one after the other, for what begins with `first`: it alone, or with those
    /// that must follow it (ORDER BY). Empty where it cannot stand there as a keyword.
    [[nodiscard]] std::vector<Keyword> phraseOf(Keyword first) const;
    /// Whether words may stand there one after the other, all as keywords.
    [[nodiscard]] bool takes(std::string_view words) const;
    /// As what a name would be taken; nothing where none can stand.
    [[nodiscard]] std::optional<Name> name() const;

private:
    struct Trial;
    [[nodiscard]] Trial tryWith(std::string_view words) const;
    [[nodiscard]] std::vector<Keyword> phraseByWhatFollows(Keyword first, const Trial& alone) const;

    std::string beginning_;
    std::vector<Token> tokens_;
    Language language_;
    std::size_t errors_ = 0;
    LookedFor lookedFor_;
    mutable std::size_t afforded_ = 0;
};

}  // namespace pantry::sql
