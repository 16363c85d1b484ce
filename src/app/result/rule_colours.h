#pragma once

#include <QIcon>
#include <array>
#include <string>

namespace pantry::app {

/// Colours that a rule can give to cells.
inline constexpr std::array<const char*, 5> kRuleColours{"tomato", "marigold", "sage", "juniper", "beet"};

/// A spot of the colour for a menu.
[[nodiscard]] QIcon colourSpot(const std::string& colour);

}  // namespace pantry::app
