#include "core/db/driver_properties.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/fuzzy.h"
#include "core/base/joined.h"
#include "core/db/engine_traits.h"

namespace pantry::db {
namespace {

std::vector<DriverProperty> serverProperties() {
    return {
        {.name = "tls",
         .fallback = "auto",
         .explanation =
             "How the connection is encrypted. auto: verified where the server offers it, except on this machine.",
         .choices = {"auto", "off", "encrypt", "verify-ca", "verify"}},
        {.name = "tls-ca",
         .fallback = "",
         .explanation = "File of the certificates to trust; without one, those that this system trusts.",
         .isFile = true},
        {.name = "tls-certificate",
         .fallback = "",
         .explanation = "File of your own certificate, for servers that ask for one.",
         .isFile = true},
        {.name = "tls-key", .fallback = "", .explanation = "File of the key to your certificate.", .isFile = true},
        {.name = kTlsKeyPassword,
         .fallback = "",
         .explanation = "Password of that key, when it is encrypted. Kept like the password, never in a file.",
         .isSecret = true},
        {.name = "unencrypted-password",
         .fallback = "no",
         .explanation = "Whether the password may go to another machine over a connection that is not encrypted.",
         .choices = {"no", "yes"}},
        {.name = "connect-seconds", .fallback = "15", .explanation = "How long connecting may take, in seconds."},
    };
}

DriverProperty guardProperty() {
    return {.name = "guard",
            .fallback = "",
            .explanation =
                "What waits for a confirmation: nothing, what no condition limits, or every change. Without "
                "a choice the environment decides.",
            .choices = {"off", "reckless", "changes"}};
}

std::vector<DriverProperty> with(std::vector<DriverProperty> some, DriverProperty another) {
    some.push_back(std::move(another));
    return some;
}

}  // namespace

ConnectionProfile secretOf(const ConnectionProfile& profile, std::string_view property) {
    ConnectionProfile secret{.id = fmt::format("{}/{}", profile.id, property),
                             .name = fmt::format("{}, {}", profile.name, property),
                             .engine = profile.engine};
    if (profile.passwordSource == PasswordSource::Keyring) secret.passwordSource = PasswordSource::Keyring;
    return secret;
}

bool isSecretOf(const ConnectionProfile& profile) { return profile.id.ends_with(fmt::format("/{}", kTlsKeyPassword)); }

const std::vector<DriverProperty>& driverProperties(Engine engine) {
    static const std::vector<DriverProperty> kServer = with(serverProperties(), guardProperty());
    static const std::vector<DriverProperty> kFile{
        {.name = "busy_wait_ms",
         .fallback = "5000",
         .explanation = "How long a statement waits for another program's lock, in milliseconds."},
        guardProperty()};
    static const std::vector<DriverProperty> kSource{serverProperties().back(), guardProperty()};
    switch (traitsOf(engine).place) {
        case PlaceKind::Server: return kServer;
        case PlaceKind::File: return kFile;
        case PlaceKind::Source: break;
    }
    return kSource;
}

Status checkProperties(const ConnectionProfile& profile) {
    const auto& known = driverProperties(profile.engine);
    for (const auto& [name, value] : profile.options) {
        const auto found = std::ranges::find(known, name, &DriverProperty::name);
        if (found == known.end()) {
            constexpr std::size_t kNear = 3;
            const auto nearest = std::ranges::find_if(known, [&, wanted = name](const DriverProperty& p) {
                return base::editDistance(p.name, wanted, kNear) <= kNear;
            });
            return Error{.kind = ErrorKind::InvalidInput,
                         .message = fmt::format("{} knows no property {}.", engineName(profile.engine), name),
                         .hint = nearest != known.end() ? fmt::format("Did you mean {}?", nearest->name) : ""};
        }
        const bool isChoice =
            found->choices.empty() || std::ranges::find(found->choices, value) != found->choices.end();
        if (isChoice) continue;
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = fmt::format("{} cannot be “{}”.", name, value),
                     .hint = fmt::format("It is one of {}.", base::joined(found->choices, ", "))};
    }
    return {};
}

}  // namespace pantry::db
