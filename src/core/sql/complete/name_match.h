#pragma once

#include <optional>
#include <string_view>

namespace pantry::sql {

/// How well what was typed fits a name, in steps of a hundred and more, so that what is likelier at a place decides
/// among names that fit alike. How long a name is does not count. Nothing when it does not fit; what was not typed fits
/// everything with 0.
///
/// The steps: the name itself, its beginning, the beginning of a later word, the beginnings of several words, a part of
/// it, its letters strewn.
[[nodiscard]] std::optional<int> nameMatch(std::string_view typed, std::string_view name);

/// The last word of a name: seed_lot and SeedLot have two.
[[nodiscard]] std::string_view lastWordOf(std::string_view name);

/// How well a short name fits a relation that it could stand for: its initials (ri for recipe_ingredient), its
/// beginning, or letters of it in their order after the first. 0 when it does not.
[[nodiscard]] int aliasFit(std::string_view alias, std::string_view relation);

}  // namespace pantry::sql
