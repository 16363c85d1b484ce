#include "core/db/profile.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <filesystem>
#include <random>

#include "core/db/engine_traits.h"

namespace pantry::db {
namespace {

constexpr std::array<std::string_view, 3> kEnvironments{"local", "trial", "live"};
constexpr std::array<std::string_view, 4> kPasswordSources{"ask", "keyring", "file", "environment"};

/// A field that a template can give: its name, how two profiles compare in it, and how it is taken over.
struct TemplateField {
    std::string name;
    bool (*isSame)(const ConnectionProfile& a, const ConnectionProfile& b);
    void (*take)(const ConnectionProfile& from, ConnectionProfile& to);
};

template <auto Member>
TemplateField field(std::string name) {
    return {std::move(name),
            [](const ConnectionProfile& a, const ConnectionProfile& b) { return a.*Member == b.*Member; },
            [](const ConnectionProfile& from, ConnectionProfile& to) { to.*Member = from.*Member; }};
}

const std::vector<TemplateField>& allFields() {
    using P = ConnectionProfile;
    static const std::vector<TemplateField> kFields{field<&P::engine>("engine"),
                                                    field<&P::host>("host"),
                                                    field<&P::port>("port"),
                                                    field<&P::database>("database"),
                                                    field<&P::user>("user"),
                                                    field<&P::environment>("environment"),
                                                    field<&P::colour>("colour"),
                                                    field<&P::options>("options"),
                                                    field<&P::onConnect>("onConnect"),
                                                    field<&P::isReadOnly>("readOnly"),
                                                    field<&P::passwordSource>("password"),
                                                    field<&P::passwordVariable>("passwordVariable")};
    return kFields;
}

template <class Enum, std::size_t N>
std::optional<Enum> fromWord(const std::array<std::string_view, N>& words, std::string_view word) {
    for (std::size_t i = 0; i < N; ++i) {
        if (words[i] == word) return static_cast<Enum>(i);
    }
    return std::nullopt;
}

}  // namespace

std::string_view engineName(Engine engine) { return traitsOf(engine).name; }
std::string_view engineWord(Engine engine) { return traitsOf(engine).word; }
sql::Dialect dialectOf(Engine engine) { return traitsOf(engine).dialect; }

std::optional<Engine> engineFromWord(std::string_view word) {
    for (const Engine engine : {Engine::Postgres, Engine::MariaDb, Engine::Sqlite, Engine::Odbc}) {
        if (engineWord(engine) == word) return engine;
    }
    return std::nullopt;
}

std::string_view environmentWord(Environment environment) {
    return kEnvironments[static_cast<std::size_t>(environment)];
}
std::optional<Environment> environmentFromWord(std::string_view word) {
    return fromWord<Environment>(kEnvironments, word);
}

std::string_view passwordSourceWord(PasswordSource source) {
    return kPasswordSources[static_cast<std::size_t>(source)];
}
std::optional<PasswordSource> passwordSourceFromWord(std::string_view word) {
    return fromWord<PasswordSource>(kPasswordSources, word);
}

const std::vector<std::string>& templateFields() {
    static const std::vector<std::string> kNames = [] {
        std::vector<std::string> names;
        for (const TemplateField& f : allFields()) names.push_back(f.name);
        return names;
    }();
    return kNames;
}

bool isSameField(std::string_view name, const ConnectionProfile& a, const ConnectionProfile& b) {
    const auto found = std::ranges::find(allFields(), name, &TemplateField::name);
    return found == allFields().end() || found->isSame(a, b);
}

void inheritFrom(const ConnectionProfile& from, ConnectionProfile& profile) {
    for (const TemplateField& f : allFields()) {
        if (profile.inherited.contains(f.name)) f.take(from, profile);
    }
}

std::string placeOf(const ConnectionProfile& profile) {
    switch (traitsOf(profile.engine).place) {
        case PlaceKind::File: return std::filesystem::path(profile.database).filename().string();
        case PlaceKind::Source: return profile.database;
        case PlaceKind::Server: break;
    }
    std::string place = profile.host.empty() ? "localhost" : profile.host;
    if (profile.port != 0) place += fmt::format(":{}", profile.port);
    return profile.database.empty() ? place : place + " · " + profile.database;
}

std::string makeProfileId() {
    std::random_device source;
    return fmt::format("{:08x}{:08x}", source(), source());
}

std::string_view usualColour(Environment environment) {
    switch (environment) {
        case Environment::Live: return "tomato";
        case Environment::Trial: return "marigold";
        case Environment::Local: break;
    }
    return "sage";
}

}  // namespace pantry::db
