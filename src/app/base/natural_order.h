#pragma once

#include "core/data/view/value_order.h"

namespace pantry::app {

/// The order that people expect of texts here: by the rules of their language, with numbers in a text by their value
/// (ICU's collation, UTS #10).
[[nodiscard]] data::TextKey naturalOrder();

}  // namespace pantry::app
