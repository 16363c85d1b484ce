#include "core/base/wake_signal.h"

#include <sys/eventfd.h>
#include <unistd.h>

namespace pantry::base {

WakeSignal::WakeSignal() : descriptor_(::eventfd(0, EFD_CLOEXEC | EFD_NONBLOCK)) {}

WakeSignal::~WakeSignal() {
    if (descriptor_ >= 0) ::close(descriptor_);
}

void WakeSignal::wake() const {
    if (descriptor_ >= 0) ::eventfd_write(descriptor_, 1);
}

void WakeSignal::reset() const {
    eventfd_t ignored = 0;
    if (descriptor_ >= 0) ::eventfd_read(descriptor_, &ignored);
}

}  // namespace pantry::base
