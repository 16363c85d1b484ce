#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <vector>

#include "core/catalog/catalog_view.h"
#include "core/sql/syntax/script.h"

namespace pantry::sql {

/// The call that somebody is writing the arguments of.
struct Signature {
    std::string name;
    std::vector<std::string> arguments;  ///< as people read them; none of a call without any
    std::size_t at = 0;                  ///< the one that the caret is in, by its place
    std::string returns;                 ///< empty when not known
};

/// The innermost call around a caret, of a function of the engine or a routine of the database; nothing elsewhere, and
/// for names that nobody knows.
[[nodiscard]] std::optional<Signature> signatureAt(const Script& script, std::size_t caret,
                                                   const catalog::View& catalog);

}  // namespace pantry::sql
