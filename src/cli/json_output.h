#pragma once

#include <concepts>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace pantry::cli {

/// A JSON object that is written member by member, in the order in which they come. Bytes that are not UTF-8 become
/// U+FFFD.
class JsonObject {
public:
    JsonObject& text(std::string_view name, std::string_view value);
    /// `null` without a value.
    JsonObject& textOrNull(std::string_view name, const std::optional<std::string>& value);
    JsonObject& number(std::string_view name, std::integral auto value) { return json(name, std::to_string(value)); }
    JsonObject& numberOrNull(std::string_view name, const std::optional<std::int64_t>& value);
    JsonObject& flag(std::string_view name, bool value);
    /// What is JSON already.
    JsonObject& json(std::string_view name, std::string_view value);

    [[nodiscard]] std::string str() const { return "{" + members_ + "}"; }

private:
    std::string members_;
};

/// A JSON array, with a line for each element where that is asked for.
class JsonArray {
public:
    enum class Layout { OneLine, LineEach };
    explicit JsonArray(Layout layout = Layout::OneLine) : separator_(layout == Layout::LineEach ? ",\n " : ",") {}

    void add(std::string_view json);
    [[nodiscard]] std::string str() const { return "[" + elements_ + "]"; }

private:
    std::string_view separator_;
    std::string elements_;
};

/// The array of what `write` makes of each of `all`, each of which is JSON.
template <class All, class Write>
[[nodiscard]] std::string jsonArray(const All& all, Write write,
                                    JsonArray::Layout layout = JsonArray::Layout::OneLine) {
    JsonArray array(layout);
    for (const auto& one : all) array.add(write(one));
    return array.str();
}

}  // namespace pantry::cli
