#include "cli/json_output.h"

#include "core/exchange/json_text.h"

namespace pantry::cli {

JsonObject& JsonObject::text(std::string_view name, std::string_view value) {
    return json(name, exchange::jsonString(value));
}

JsonObject& JsonObject::textOrNull(std::string_view name, const std::optional<std::string>& value) {
    return value ? text(name, *value) : json(name, "null");
}

JsonObject& JsonObject::numberOrNull(std::string_view name, const std::optional<std::int64_t>& value) {
    return value ? number(name, *value) : json(name, "null");
}

JsonObject& JsonObject::flag(std::string_view name, bool value) { return json(name, value ? "true" : "false"); }

JsonObject& JsonObject::json(std::string_view name, std::string_view value) {
    if (!members_.empty()) members_ += ',';
    members_ += exchange::jsonString(name);
    members_ += ':';
    members_ += value;
    return *this;
}

void JsonArray::add(std::string_view json) {
    if (!elements_.empty()) elements_ += separator_;
    elements_ += json;
}

}  // namespace pantry::cli
