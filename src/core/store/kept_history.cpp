#include "core/store/kept_history.h"

#include <algorithm>
#include <array>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <vector>

#include "core/base/secret_text.h"
#include "core/base/text.h"
#include "core/base/utf8.h"

namespace pantry::store {
namespace {

/// Of words that stand beside secrets: a secret itself looks like anything.
bool speaksOfSecrets(const std::string& text) {
    static constexpr std::array<std::string_view, 6> kWords{"password", "passphrase", "identified",
                                                            "secret",   "token",      "pwd"};
    const std::string small = base::toLower(text);
    const auto isIn = [&](std::string_view word) { return small.find(word) != std::string::npos; };
    return std::ranges::any_of(kWords, isIn) || base::withoutSecretText(text) != text;
}

bool canBeKept(const base::TextChange& change) {
    return base::isValidUtf8(change.removed) && base::isValidUtf8(change.inserted) &&
           !speaksOfSecrets(change.removed) && !speaksOfSecrets(change.inserted);
}

bool canBeKept(const std::vector<base::TextStep>& steps) {
    return std::ranges::all_of(steps, [](const base::TextStep& step) {
        return std::ranges::all_of(step, [](const base::TextChange& change) { return canBeKept(change); });
    });
}

nlohmann::json toJson(const std::vector<base::TextStep>& steps) {
    nlohmann::json all = nlohmann::json::array();
    for (const base::TextStep& step : steps) {
        nlohmann::json changes = nlohmann::json::array();
        for (const base::TextChange& one : step) changes.push_back({one.at, one.removed, one.inserted});
        all.push_back(std::move(changes));
    }
    return all;
}

std::optional<base::TextChange> changeFrom(const nlohmann::json& value) {
    const bool isOne = value.is_array() && value.size() == 3 && value[0].is_number_unsigned() && value[1].is_string() &&
                       value[2].is_string();
    if (!isOne) return std::nullopt;
    return base::TextChange{value[0].get<std::size_t>(), value[1].get<std::string>(), value[2].get<std::string>()};
}

std::optional<std::vector<base::TextStep>> stepsFrom(const nlohmann::json& value) {
    std::vector<base::TextStep> steps;
    if (!value.is_array()) return std::nullopt;
    for (const nlohmann::json& changes : value) {
        if (!changes.is_array()) return std::nullopt;
        base::TextStep step;
        for (const nlohmann::json& one : changes) {
            auto change = changeFrom(one);
            if (!change) return std::nullopt;
            step.push_back(std::move(*change));
        }
        steps.push_back(std::move(step));
    }
    return steps;
}

/// Whether a step stands at the end of what has made this text.
bool ends(const base::TextStep& step, std::string_view text) {
    if (step.empty()) return true;
    const base::TextChange& last = step.back();
    return last.at <= text.size() && text.substr(last.at).starts_with(last.inserted);
}

}  // namespace

void addHistory(nlohmann::json& sheet, const base::TextSteps& history) {
    if (history.done.empty() && history.undone.empty()) return;
    const bool isKept = canBeKept(history.done) && canBeKept(history.undone) &&
                        !speaksOfSecrets(sheet["text"].get_ref<const std::string&>());
    if (isKept) sheet["history"] = {{"done", toJson(history.done)}, {"undone", toJson(history.undone)}};
}

base::TextSteps historyFrom(const nlohmann::json& sheet, std::string_view text) {
    const auto found = sheet.find("history");
    if (found == sheet.end() || !found->is_object()) return {};
    auto done = stepsFrom(found->value("done", nlohmann::json::array()));
    auto undone = stepsFrom(found->value("undone", nlohmann::json::array()));
    if (!done || !undone || (!done->empty() && !ends(done->back(), text))) return {};
    return {std::move(*done), std::move(*undone)};
}

}  // namespace pantry::store
