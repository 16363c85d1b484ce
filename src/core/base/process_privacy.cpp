#include "core/base/process_privacy.h"

#include <sys/prctl.h>
#include <sys/resource.h>

#include <array>
#include <cstdlib>
#include <cstring>
#include <map>
#include <string_view>

#include "core/base/secret_text.h"

namespace pantry::base {
namespace {

constexpr std::array kTaken{"PGPASSWORD", "PGSERVICE", "MYSQL_PWD"};

std::map<std::string, std::string, std::less<>>& taken() {
    static std::map<std::string, std::string, std::less<>> variables;
    return variables;
}

}  // namespace

void takePasswordVariables() {
    for (const char* name : kTaken) {
        const char* value = std::getenv(name);
        if (value == nullptr) continue;
        taken()[name] = value;
        ::unsetenv(name);
    }
}

std::optional<std::string> environmentValue(std::string_view name) {
    if (const auto found = taken().find(name); found != taken().end()) return found->second;
    const char* value = std::getenv(std::string(name).c_str());
    return value == nullptr ? std::nullopt : std::optional<std::string>(value);
}

void keepMemoryPrivate() {
    const char* wanted = std::getenv("AGILE_PANTRY_CORE_DUMPS");
    if (wanted != nullptr && std::string_view(wanted) == "1") return;
    const rlimit none{.rlim_cur = 0, .rlim_max = 0};
    (void)::setrlimit(RLIMIT_CORE, &none);
    (void)::prctl(PR_SET_DUMPABLE, 0);
}

std::vector<std::string> takeArguments(int argc, char** argv) {
    std::vector<std::string> arguments(argv, argv + argc);
    for (int i = 1; i < argc; ++i) {
        const std::string& given = arguments[static_cast<std::size_t>(i)];
        const std::string shown = withoutSecretText(given);
        if (shown == given) continue;
        const std::size_t length = std::strlen(argv[i]);
        std::memset(argv[i], 0, length);
        shown.copy(argv[i], length);
    }
    return arguments;
}

}  // namespace pantry::base
