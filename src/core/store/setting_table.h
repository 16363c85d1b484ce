#pragma once

#include <cstdint>
#include <span>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "core/store/settings.h"

namespace pantry::store {

/// What a setting holds: yes or no, a whole number, a word, several words.
using SettingValue = std::variant<bool, std::int64_t, std::string, std::vector<std::string>>;

/// A setting as everybody who shows, reads or writes it needs to know it.
struct SettingDescriptor {
    std::string_view id;         ///< in the file: textSize
    std::string_view group;      ///< what it is about: Look, Results, …
    std::string_view label;      ///< Text size
    std::string_view sentence;   ///< what it does, without its full stop
    std::string_view unit = {};  ///< of a number: points
    std::int64_t low = 0;        ///< of a number
    std::int64_t high = 0;
    std::vector<std::string_view> words = {};  ///< of a choice, the first one is the default; empty for free texts
    std::string_view likeWhenMissing = {};     ///< another setting whose value it takes when the file has none
    SettingValue (*get)(const Settings& settings) = nullptr;
    /// Requires: a value that isAllowed().
    void (*set)(Settings& settings, const SettingValue& value) = nullptr;

    /// Whether a value is of the setting's kind and within its bounds.
    [[nodiscard]] bool isAllowed(const SettingValue& value) const;
};

/// All settings, group by group. A new one is a member of Settings and an entry here.
[[nodiscard]] std::span<const SettingDescriptor> settingTable();

/// nullptr when there is none of that id.
[[nodiscard]] const SettingDescriptor* settingNamed(std::string_view id);

}  // namespace pantry::store
