#include "app/base/end_signals.h"

#include <signal.h>
#include <sys/socket.h>
#include <unistd.h>

#include <QApplication>
#include <QSocketNotifier>
#include <array>
#include <utility>

namespace pantry::app {
namespace {

constexpr std::array kSignals{SIGTERM, SIGHUP, SIGINT};

/// A handler may do no more than write: the other end is read in the event loop.
std::array<int, 2> bell{-1, -1};

void ring(int number) {
    const auto byte = static_cast<char>(number);
    [[maybe_unused]] const ssize_t written = ::write(bell[1], &byte, 1);
}

}  // namespace

EndSignals::EndSignals(std::function<void()> keepEverything, QObject* parent)
    : QObject(parent), keepEverything_(std::move(keepEverything)) {
    connect(qApp, &QGuiApplication::commitDataRequest, this, [this] { keepEverything_(); });
    if (::socketpair(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC | SOCK_NONBLOCK, 0, bell.data()) != 0) return;
    auto* notifier = new QSocketNotifier(bell[0], QSocketNotifier::Read, this);
    connect(notifier, &QSocketNotifier::activated, this, &EndSignals::end);
    struct sigaction action {};
    action.sa_handler = ring;
    action.sa_flags = SA_RESTART;
    for (const int number : kSignals) ::sigaction(number, &action, nullptr);
}

EndSignals::~EndSignals() {
    for (const int number : kSignals) ::signal(number, SIG_DFL);
    for (int& end : bell) {
        if (end >= 0) ::close(std::exchange(end, -1));
    }
}

void EndSignals::end() {
    char number = 0;
    [[maybe_unused]] const ssize_t count = ::read(bell[0], &number, 1);
    keepEverything_();
    QCoreApplication::exit(128 + number);
}

}  // namespace pantry::app

#include "moc_end_signals.cpp"
