#include "core/db/profile_acts.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.h"
#include "core/db/driver_properties.h"
#include "core/db/engine_traits.h"
#include "core/sql/meaning/secrets.h"
#include "core/sql/syntax/splitter.h"

namespace pantry::db {
namespace {

bool namesAFile(Engine engine, std::string_view property) {
    const auto& all = driverProperties(engine);
    const auto found = std::ranges::find(all, property, &DriverProperty::name);
    return found != all.end() && found->isFile;
}

std::string whereItLeads(const ConnectionProfile& p) {
    const std::string user = p.user.empty() ? std::string() : fmt::format(" as {}", p.user);
    switch (traitsOf(p.engine).place) {
        case PlaceKind::File: return fmt::format("opens the file {}", p.database);
        case PlaceKind::Source:
            return fmt::format("loads the {} driver that {} names, and connects{}", engineName(p.engine), placeOf(p),
                               user);
        case PlaceKind::Server: break;
    }
    return fmt::format("connects to {}{}", placeOf(p), user);
}

std::string passwordFrom(const ConnectionProfile& p) {
    switch (p.passwordSource) {
        case PasswordSource::EngineFile: return "takes the password from the engine's own file in your home folder";
        case PasswordSource::Environment:
            return fmt::format("sends the environment variable {} as the password", p.passwordVariable);
        default: return {};
    }
}

}  // namespace

std::vector<std::string> actsOf(const ConnectionProfile& profile) {
    std::vector<std::string> acts{whereItLeads(profile)};
    if (!isFile(profile.engine)) {
        if (std::string from = passwordFrom(profile); !from.empty()) acts.push_back(std::move(from));
    }
    for (const auto& [name, value] : profile.options) {
        acts.push_back(namesAFile(profile.engine, name) ? fmt::format("reads the file {} ({})", value, name)
                                                        : fmt::format("sets {} to {}", name, value));
    }
    const sql::Dialect dialect = dialectOf(profile.engine);
    for (const sql::StatementSpan& span : sql::splitStatements(profile.onConnect, dialect)) {
        const std::string statement = profile.onConnect.substr(span.start, span.length);
        acts.push_back(fmt::format("runs {}", base::oneLine(sql::withoutSecrets(statement, dialect), 400)));
    }
    for (std::string& act : acts) act = base::withVisibleControls(act);
    return acts;
}

}  // namespace pantry::db
