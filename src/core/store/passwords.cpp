#include "core/store/passwords.h"

#include <fmt/format.h>

#include "core/base/process_privacy.h"
#include "core/db/driver_properties.h"
#include "core/db/engine_traits.h"
#include "core/store/engine_files.h"
#include "core/store/keyring.h"

namespace pantry::store {
namespace {

Result<std::optional<std::string>> fromEnvironment(const db::ConnectionProfile& profile) {
    if (auto value = base::environmentValue(profile.passwordVariable)) return value;
    return Error{.kind = ErrorKind::NotFound,
                 .message = fmt::format("The environment has no variable {} for the password of {}.",
                                        profile.passwordVariable, profile.name),
                 .hint = "Set it before this program starts, or choose another source of the password."};
}

Result<std::optional<std::string>> fromEngineFile(const db::ConnectionProfile& profile) {
    if (auto password = EngineFiles::ofThisUser().passwordFor(profile)) return password;
    const db::EngineTraits& traits = db::traitsOf(profile.engine);
    // Where the driver's own settings lead on, they may hold one, which the driver reads.
    if (traits.passwordFile.empty()) return std::optional<std::string>();
    return Error{.kind = ErrorKind::NotFound,
                 .message = fmt::format("{} has no password for {}.", traits.passwordFile, profile.name),
                 .hint = std::string(traits.passwordFileAdvice)};
}

Result<std::optional<std::string>> fromKeyring(const db::ConnectionProfile& profile) {
    auto password = Keyring::find(profile.id);
    if (!password || *password) return password;
    return Error{.kind = ErrorKind::NotFound,
                 .message = fmt::format("The keyring holds no password for {}.", profile.name),
                 .hint = "Type it in the connection's form and save; it goes to the keyring and nowhere else."};
}

/// What the engine's own variable holds: nobody has to type what is there.
std::optional<std::string> fromUsualVariable(const db::ConnectionProfile& profile) {
    if (db::isSecretOf(profile)) return std::nullopt;
    const std::string variable(db::traitsOf(profile.engine).passwordVariable);
    return variable.empty() ? std::nullopt : base::environmentValue(variable.c_str());
}

}  // namespace

Result<std::optional<std::string>> findPassword(const db::ConnectionProfile& profile) {
    if (db::isFile(profile.engine)) return std::optional<std::string>();
    switch (profile.passwordSource) {
        case db::PasswordSource::Ask: return fromUsualVariable(profile);
        case db::PasswordSource::Keyring: return fromKeyring(profile);
        case db::PasswordSource::EngineFile: return fromEngineFile(profile);
        case db::PasswordSource::Environment: return fromEnvironment(profile);
    }
    return std::optional<std::string>();
}

db::PasswordProvider passwordProvider(std::optional<std::string> typed) {
    return [typed = std::move(typed)](const db::ConnectionProfile& profile) -> Result<std::optional<std::string>> {
        if (typed && !db::isSecretOf(profile)) return typed;
        return findPassword(profile);
    };
}

}  // namespace pantry::store
