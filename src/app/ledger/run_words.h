#pragma once

#include <QString>

#include "core/store/ledger.h"

namespace pantry::app {

/// What became of a run: “24 rows · 8 ms”, an error's message, “stopped after 30.0 s”.
[[nodiscard]] QString outcomeOf(const store::LedgerEntry& entry);
/// A sign and a blank that say so: colour never stands alone.
[[nodiscard]] QString statusSign(store::RunStatus status);
/// The colour of the theme that says so.
[[nodiscard]] const char* statusColour(store::RunStatus status);

}  // namespace pantry::app
