#pragma once

namespace pantry::base {

/// Wakes a thread that waits in poll() for a socket.
///
/// Threads: internally synchronised.
class WakeSignal {
public:
    WakeSignal();
    ~WakeSignal();
    WakeSignal(const WakeSignal&) = delete;
    WakeSignal& operator=(const WakeSignal&) = delete;

    void wake() const;
    /// Takes back what was signalled so far.
    void reset() const;
    /// To be polled for reading; -1 when the system had none to give (waits must then end by themselves).
    [[nodiscard]] int descriptor() const { return descriptor_; }

private:
    int descriptor_;
};

}  // namespace pantry::base
