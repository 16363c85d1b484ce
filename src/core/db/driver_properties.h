#pragma once

#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/db/profile.h"

namespace pantry::db {

/// Something about a connection that can be set and has a default: what it is called in a profile's options, what it is
/// when nobody says, and what it means.
struct DriverProperty {
    std::string_view name;
    std::string_view fallback;                   ///< what holds when it is not set
    std::string_view explanation;                ///< in one line
    std::vector<std::string_view> choices = {};  ///< the values it may have; empty for any text
    bool isFile = false;
    bool isSecret = false;  ///< typed where nobody sees it and kept like a password, never in a profile that is saved
};

/// The password of the key to one's own certificate.
inline constexpr std::string_view kTlsKeyPassword = "tls-key-password";

/// The name under which a secret property of a connection is kept as passwords are: in the keyring, when the
/// connection's own password is, else in memory.
[[nodiscard]] ConnectionProfile secretOf(const ConnectionProfile& profile, std::string_view property);
/// Whether a profile is such a name, and not a connection.
[[nodiscard]] bool isSecretOf(const ConnectionProfile& profile);

/// The properties that an engine's driver understands.
[[nodiscard]] const std::vector<DriverProperty>& driverProperties(Engine engine);

/// What is wrong with the properties of a profile: an unknown name, with the nearest one, or a value that is no choice.
[[nodiscard]] Status checkProperties(const ConnectionProfile& profile);

}  // namespace pantry::db
