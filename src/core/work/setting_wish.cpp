#include "core/work/setting_wish.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <optional>

#include "core/base/text.h"

namespace pantry::work {
namespace {

std::optional<std::int64_t> numberIn(std::string_view word) {
    std::int64_t number = 0;
    const char* end = word.data() + word.size();
    const auto read = std::from_chars(word.data(), end, number);
    return read.ec == std::errc() && read.ptr == end ? std::optional(number) : std::nullopt;
}

bool beginsOneOf(std::string_view start, const std::vector<std::string_view>& words) {
    return std::ranges::any_of(words,
                               [start](std::string_view word) { return base::startsWithIgnoringCase(word, start); });
}

std::vector<std::string_view> wordsOf(const store::SettingDescriptor& setting) {
    std::vector<std::string_view> all;
    for (const std::string_view text : {setting.label, setting.group, setting.sentence}) {
        for (const std::string_view word : base::splitAt(text, ' ')) all.push_back(word);
    }
    return all;
}

}  // namespace

std::vector<SettingWish> settingWishes(std::string_view text) {
    std::vector<std::string_view> typed;
    for (const std::string_view word : base::splitAt(text, ' ')) {
        if (!word.empty()) typed.push_back(word);
    }
    if (typed.size() < 2) return {};
    const auto number = numberIn(typed.back());
    typed.pop_back();
    if (!number) return {};
    std::vector<SettingWish> wishes;
    for (const store::SettingDescriptor& setting : store::settingTable()) {
        const store::SettingValue value(std::in_place_type<std::int64_t>, *number);
        if (!setting.isAllowed(value)) continue;
        const std::vector<std::string_view> words = wordsOf(setting);
        const bool isMeant =
            std::ranges::all_of(typed, [&](std::string_view word) { return beginsOneOf(word, words); });
        if (isMeant) wishes.push_back({&setting, value});
    }
    return wishes;
}

std::vector<SettingWish> listedWishes(const store::SettingDescriptor& setting) {
    std::vector<SettingWish> wishes;
    if (std::holds_alternative<bool>(setting.get(store::Settings()))) {
        for (const bool isOn : {true, false}) wishes.push_back({&setting, store::SettingValue(isOn)});
    }
    for (const std::string_view word : setting.words)
        wishes.push_back({&setting, store::SettingValue(std::string(word))});
    return wishes;
}

std::string settingText(const SettingWish& wish) {
    std::string value;
    if (const auto* isOn = std::get_if<bool>(&wish.value)) value = *isOn ? "on" : "off";
    if (const auto* number = std::get_if<std::int64_t>(&wish.value)) {
        value = base::grouped(*number);
        if (!wish.setting->unit.empty()) value += fmt::format(" {}", wish.setting->unit);
    }
    if (const auto* word = std::get_if<std::string>(&wish.value)) value = *word;
    return fmt::format("{}: {}", wish.setting->label, value);
}

}  // namespace pantry::work
