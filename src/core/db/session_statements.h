#pragma once

#include <chrono>
#include <string>
#include <string_view>
#include <vector>

#include "core/db/profile.h"

/// The statements that change what holds on a line, in each engine's words. They run like any other, so that people see
/// and learn them. Empty where the engine has no such thing.
namespace pantry::db {

[[nodiscard]] std::string beginTransaction(Engine engine);

/// The isolation levels an engine knows, weakest first: read committed, …
[[nodiscard]] std::vector<std::string_view> isolationLevels(Engine engine);
[[nodiscard]] std::string setIsolation(Engine engine, std::string_view level);

[[nodiscard]] std::string setReadOnly(Engine engine, bool isReadOnly);

/// 0 takes the limit away.
[[nodiscard]] std::string setStatementLimit(Engine engine, std::chrono::milliseconds limit);

/// Where names without a schema are looked for first.
[[nodiscard]] std::string setSchema(Engine engine, std::string_view schema);

}  // namespace pantry::db
