#pragma once

#include <QObject>
#include <functional>

namespace pantry::app {

/// Hears that this program is asked to end (SIGTERM, SIGHUP, SIGINT) or that the desktop session ends, and has what was
/// typed kept before it does. Nobody is asked anything: there may be no time.
///
/// Threads: the window's thread; signals may arrive on any.
class EndSignals : public QObject {
    Q_OBJECT

public:
    explicit EndSignals(std::function<void()> keepEverything, QObject* parent = nullptr);
    ~EndSignals() override;

private:
    void end();

    std::function<void()> keepEverything_;
};

}  // namespace pantry::app
