#include "core/store/process_identity.h"

#include <fmt/format.h>
#include <unistd.h>

#include <charconv>
#include <fstream>
#include <sstream>

namespace pantry::store {
namespace {

std::string firstLine(const std::string& path) {
    std::ifstream file(path);
    std::string line;
    std::getline(file, line);
    return line;
}

/// Field 22 of /proc/PID/stat, counted after the name in parentheses, which may hold blanks itself. Empty for a process
/// that ended and was not collected by its parent yet.
std::string startTimeOf(int pid) {
    const std::string line = firstLine(fmt::format("/proc/{}/stat", pid));
    const std::size_t afterName = line.rfind(')');
    if (afterName == std::string::npos) return {};
    std::istringstream fields(line.substr(afterName + 1));
    std::string field;
    constexpr int kFieldsFromState = 20;
    for (int i = 0; i < kFieldsFromState; ++i) {
        fields >> field;
        if (i == 0 && (field == "Z" || field == "X")) return {};
    }
    return field;
}

std::string identityOf(int pid) {
    const std::string start = startTimeOf(pid);
    return start.empty() ? std::string()
                         : fmt::format("{}/{}/{}", pid, start, firstLine("/proc/sys/kernel/random/boot_id"));
}

}  // namespace

const std::string& thisProcess() {
    thread_local int pid = 0;  // a forked child is another process
    thread_local std::string identity;
    if (pid != ::getpid()) {
        pid = ::getpid();
        identity = identityOf(pid);
    }
    return identity;
}

bool isRunning(const std::string& identity) {
    int pid = 0;
    std::from_chars(identity.data(), identity.data() + identity.size(), pid);
    return pid > 0 && identityOf(pid) == identity;
}

}  // namespace pantry::store
