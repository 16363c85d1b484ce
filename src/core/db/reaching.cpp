#include "core/db/reaching.h"

#include <fmt/format.h>
#include <netdb.h>
#include <poll.h>
#include <sys/socket.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <filesystem>
#include <memory>

#include "core/db/host_lookup.h"

namespace pantry::db {
namespace {

struct FreeAddresses {
    void operator()(addrinfo* list) const { ::freeaddrinfo(list); }
};
using Addresses = std::unique_ptr<addrinfo, FreeAddresses>;

Result<Addresses> addressesOf(const std::string& host, std::uint16_t port) {
    addrinfo wish{};
    wish.ai_socktype = SOCK_STREAM;
    addrinfo* list = nullptr;
    const int code = ::getaddrinfo(host.c_str(), std::to_string(port).c_str(), &wish, &list);
    if (code == 0) return Addresses(list);
    return unknownHost(host, ::gai_strerror(code));
}

/// 0, or why no connection came about.
int connectTo(const addrinfo& address, std::chrono::milliseconds patience) {
    const int socket = ::socket(address.ai_family, address.ai_socktype | SOCK_NONBLOCK | SOCK_CLOEXEC, 0);
    if (socket < 0) return errno;
    int error = ::connect(socket, address.ai_addr, address.ai_addrlen) == 0 ? 0 : errno;
    if (error == EINPROGRESS) {
        pollfd waiting{.fd = socket, .events = POLLOUT, .revents = 0};
        socklen_t size = sizeof error;
        error = ETIMEDOUT;
        if (::poll(&waiting, 1, static_cast<int>(patience.count())) == 1) {
            ::getsockopt(socket, SOL_SOCKET, SO_ERROR, &error, &size);
        }
    }
    ::close(socket);
    return error;
}

Status reachPort(const Addresses& addresses, const ConnectionProfile& profile, std::uint16_t port) {
    int error = 0;
    for (const addrinfo* a = addresses.get(); a != nullptr; a = a->ai_next) {
        error = connectTo(*a, patienceOf(profile));
        if (error == 0) return {};
    }
    if (error == ETIMEDOUT) return answeredTooLate(profile);
    return Error{.kind = ErrorKind::Connection,
                 .message = fmt::format("Nothing takes connections on port {} of {}: {}.", port, profile.host,
                                        std::strerror(error)),
                 .hint = "Check the port, whether the server runs, and whether it listens on the network."};
}

/// The path of a socket; a folder means PostgreSQL's, whose name has the port.
std::filesystem::path socketOf(const ConnectionProfile& profile, std::uint16_t port) {
    std::filesystem::path path = profile.host;
    std::error_code ignored;
    return std::filesystem::is_directory(path, ignored) ? path / fmt::format(".s.PGSQL.{}", port) : path;
}

}  // namespace

bool tryToReach(const ConnectionProfile& profile, std::uint16_t usualPort, TestStages& stages) {
    const std::uint16_t port = profile.port != 0 ? profile.port : usualPort;
    if (profile.host.empty()) return true;  // the engine's own choice of a socket
    if (profile.host.starts_with('/')) {
        const auto path = socketOf(profile, port);
        return stages.tryOne(fmt::format("Found the socket {}", path.string()), [&]() -> Status {
            std::error_code ignored;
            if (std::filesystem::is_socket(path, ignored)) return {};
            return Error{.kind = ErrorKind::Connection,
                         .message = fmt::format("There is no socket {}.", path.string()),
                         .hint =
                             "The server does not run, or its socket is elsewhere. A host name such as localhost "
                             "goes over the network instead."};
        });
    }
    Addresses addresses;
    const bool isFound = stages.tryOne(fmt::format("Found the host {}", profile.host), [&]() -> Status {
        if (Status known = lookUpHost(profile, {}); !known) return known;
        auto found = addressesOf(profile.host, port);
        if (!found) return found.error();
        addresses = std::move(*found);
        return {};
    });
    return isFound &&
           stages.tryOne(fmt::format("Reached port {}", port), [&] { return reachPort(addresses, profile, port); });
}

}  // namespace pantry::db
