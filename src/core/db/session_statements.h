#pragma once

#include <chrono>
#include <string>
#include <string_view>

#include "core/db/profile.h"

/// The statements that change what holds on a connection, in each engine's words. They run like any other, so that
/// people see and learn them. Empty where the engine has no such thing.
namespace pantry::db {

/// One of those that the engine's traits name.
[[nodiscard]] std::string setIsolation(Engine engine, std::string_view level);

[[nodiscard]] std::string setReadOnly(Engine engine, bool isReadOnly);

/// 0 takes the limit away.
[[nodiscard]] std::string setStatementLimit(Engine engine, std::chrono::milliseconds limit);

/// Where names without a schema are looked for first.
[[nodiscard]] std::string setSchema(Engine engine, std::string_view schema);

}  // namespace pantry::db
