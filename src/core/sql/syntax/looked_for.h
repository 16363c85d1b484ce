#pragma once

#include <bitset>

#include "core/sql/text/keyword.h"

namespace pantry::sql {

/// What the parser looked for behind the last token of a statement that is still being written.
struct LookedFor {
    std::bitset<kKeywordCount> keywords;  ///< those that it asked for there, wanted or not
    Keyword required = Keyword::None;     ///< the first that must stand there, if it is a keyword that must
};

}  // namespace pantry::sql
