#include "core/db/host_lookup.h"

#include <fmt/format.h>
#include <netdb.h>
#include <sys/socket.h>

#include <memory>
#include <optional>
#include <thread>

#include "core/base/mutex.h"
#include "core/db/connecting.h"

namespace pantry::db {
namespace {

/// What the asking thread and the one that waits share: the first may outlive the second.
struct Answer {
    base::Mutex mutex;
    base::Condition arrived;
    std::optional<int> code GUARDED_BY(mutex);
};

int ask(const std::string& host) {
    addrinfo wish{};
    wish.ai_socktype = SOCK_STREAM;
    addrinfo* list = nullptr;
    const int code = ::getaddrinfo(host.c_str(), nullptr, &wish, &list);
    if (code == 0) ::freeaddrinfo(list);
    return code;
}

}  // namespace

Status lookUpHost(const ConnectionProfile& profile, const base::Cancellation& cancellation) {
    constexpr auto kLookEvery = std::chrono::milliseconds(50);  // for a cancellation
    const std::string& host = profile.host;
    if (host.empty() || host.starts_with('/')) return {};
    const auto answer = std::make_shared<Answer>();
    std::thread([answer, host] {
        const int code = ask(host);
        const base::Lock lock(answer->mutex);
        answer->code = code;
        answer->arrived.notify_all();
    }).detach();  // the system's resolver has no way to be stopped
    const auto deadline = std::chrono::steady_clock::now() + patienceOf(profile);
    base::Lock lock(answer->mutex);
    while (!answer->code) {
        lock.waitFor(answer->arrived, kLookEvery, [&]() REQUIRES(answer->mutex) { return answer->code.has_value(); });
        if (cancellation.isRequested()) return stopped();
        if (std::chrono::steady_clock::now() > deadline) return answeredTooLate(profile);
    }
    if (*answer->code == 0) return {};
    return unknownHost(host, ::gai_strerror(*answer->code));
}

Error unknownHost(std::string_view host, std::string_view why) {
    return {.kind = ErrorKind::Connection,
            .message = fmt::format("No host is called “{}”: {}.", host, why),
            .hint = "Check the spelling of the host; some names are known only inside a network or with its VPN on."};
}

}  // namespace pantry::db
