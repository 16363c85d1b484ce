#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/store/setting_table.h"

namespace pantry::work {

/// A setting with a value that somebody may want for it.
struct SettingWish {
    const store::SettingDescriptor* setting = nullptr;
    store::SettingValue value;
    friend bool operator==(const SettingWish&, const SettingWish&) = default;
};

/// What is meant by words of a setting and a number behind them: “first page 500”. Each word begins one of the label,
/// the group or the sentence. Only values that are allowed; several settings may be meant.
[[nodiscard]] std::vector<SettingWish> settingWishes(std::string_view text);

/// The values of a setting that can be listed: both of a switch, the words of a choice. Empty for others.
[[nodiscard]] std::vector<SettingWish> listedWishes(const store::SettingDescriptor& setting);

/// “First page: 500 rows”, “Theme: lamplight”, “Rows between starts: off”.
[[nodiscard]] std::string settingText(const SettingWish& wish);

}  // namespace pantry::work
