#pragma once

#include <nlohmann/json_fwd.hpp>
#include <string_view>

#include "core/base/text_history.h"

namespace pantry::store {

/// Writes what can be undone into a sheet's object, whose text is there. Nothing where the text or what was removed
/// from it speaks of a secret: who deletes one does not want to find it in a file.
void addHistory(nlohmann::json& sheet, const base::TextSteps& history);

/// Nothing when it does not belong to the text.
[[nodiscard]] base::TextSteps historyFrom(const nlohmann::json& sheet, std::string_view text);

}  // namespace pantry::store
