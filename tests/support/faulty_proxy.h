#pragma once

#include <poll.h>
#include <sys/socket.h>
#include <sys/un.h>
#include <unistd.h>

#include <algorithm>
#include <atomic>
#include <filesystem>
#include <mutex>
#include <random>
#include <string>
#include <thread>
#include <vector>

namespace pantry::test {

/// Stands between a client and a server's socket and does harm to what the server says: lets only so many bytes
/// through, or changes some. Serves one line after another until its end.
class FaultyProxy {
public:
    struct Harm {
        std::size_t mostBytes = static_cast<std::size_t>(-1);  ///< of the server's; then the line breaks
        unsigned seed = 0;                                     ///< of what is changed; 0: nothing is
        int oneIn = 200;                                       ///< bytes of which one is changed
        int quietMs = 0;                                       ///< of silence after which the line breaks; 0: never
        std::size_t spared = 0;                                ///< bytes at the beginning that stay as they are
    };

    FaultyProxy(const std::filesystem::path& at, std::filesystem::path server) : server_(std::move(server)) {
        std::filesystem::remove(at);
        listener_ = ::socket(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0);
        const sockaddr_un address = addressOf(at);
        ::bind(listener_, reinterpret_cast<const sockaddr*>(&address), sizeof address);
        ::listen(listener_, 16);
        thread_ = std::thread([this] { serve(); });
    }
    ~FaultyProxy() {
        isOver_ = true;
        ::shutdown(listener_, SHUT_RDWR);
        thread_.join();
        for (std::thread& line : lines_) line.join();
        ::close(listener_);
    }
    FaultyProxy(const FaultyProxy&) = delete;
    FaultyProxy& operator=(const FaultyProxy&) = delete;

    /// Of the lines that begin from now on.
    void setHarm(const Harm& harm) {
        const std::lock_guard lock(mutex_);
        harm_ = harm;
    }

private:
    static sockaddr_un addressOf(const std::filesystem::path& path) {
        sockaddr_un address{};
        address.sun_family = AF_UNIX;
        path.string().copy(address.sun_path, sizeof address.sun_path - 1);
        return address;
    }

    Harm harm() {
        const std::lock_guard lock(mutex_);
        return harm_;
    }

    void serve() {
        while (!isOver_) {
            const int client = ::accept4(listener_, nullptr, nullptr, SOCK_CLOEXEC);
            if (client < 0) continue;
            lines_.emplace_back([this, client, harm = harm()] { carry(client, harm); });
        }
    }

    void carry(int client, Harm harm) const {
        const int server = ::socket(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0);
        const sockaddr_un address = addressOf(server_);
        const bool isThere = ::connect(server, reinterpret_cast<const sockaddr*>(&address), sizeof address) == 0;
        std::mt19937 random(harm.seed);
        std::size_t passed = 0;
        std::vector<char> buffer(1 << 14);
        while (isThere && !isOver_) {
            pollfd ends[2] = {{client, POLLIN, 0}, {server, POLLIN, 0}};
            const int ready = ::poll(ends, 2, harm.quietMs > 0 ? harm.quietMs : 50);
            if (ready == 0 && harm.quietMs > 0) break;
            if (ready <= 0) continue;
            if (ends[0].revents != 0) {
                const ssize_t count = ::read(client, buffer.data(), buffer.size());
                if (count <= 0 || ::send(server, buffer.data(), static_cast<std::size_t>(count), MSG_NOSIGNAL) < 0)
                    break;
            }
            if (ends[1].revents == 0) continue;
            const ssize_t count = ::read(server, buffer.data(), buffer.size());
            if (count <= 0) break;
            std::size_t size = std::min(static_cast<std::size_t>(count), harm.mostBytes - passed);
            for (std::size_t i = 0; i < size && harm.seed != 0; ++i) {
                if (passed + i < harm.spared) continue;
                if (random() % static_cast<unsigned>(harm.oneIn) == 0) buffer[i] = static_cast<char>(random());
            }
            if (size > 0 && ::send(client, buffer.data(), size, MSG_NOSIGNAL) < 0) break;
            passed += size;
            if (passed >= harm.mostBytes) break;
        }
        ::close(server);
        ::close(client);
    }

    std::filesystem::path server_;
    int listener_ = -1;
    std::atomic<bool> isOver_{false};
    std::mutex mutex_;
    Harm harm_;  // guarded by mutex_
    std::thread thread_;
    std::vector<std::thread> lines_;
};

}  // namespace pantry::test
