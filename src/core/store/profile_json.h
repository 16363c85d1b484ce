#pragma once

#include <nlohmann/json.hpp>
#include <optional>

#include "core/store/connections_file.h"

// Only for .cpp files of this folder: this header shows the JSON library.

namespace pantry::store {

[[nodiscard]] nlohmann::json profileToJson(const db::ConnectionProfile& profile);

/// The port of an entry as it is written, when it is none; empty when it is one or is missing.
[[nodiscard]] std::string wrongPortIn(const nlohmann::json& entry);

/// Whether profileToJson() may write a member of that name.
[[nodiscard]] bool isProfileMember(std::string_view name);

/// Nothing when the entry is not one of ours: it stays in the file, and is not shown.
[[nodiscard]] std::optional<db::ConnectionProfile> profileFromJson(const nlohmann::json& object);

/// The connections and groups of a document, with what templates give filled in.
[[nodiscard]] ConnectionList listFrom(const nlohmann::json& content);

}  // namespace pantry::store
