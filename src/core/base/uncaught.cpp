#include "core/base/uncaught.h"

#include <fmt/format.h>

#include <cstdio>
#include <new>
#include <utility>

#include "core/base/mutex.h"

namespace pantry::base {
namespace {

struct Handler {
    Mutex mutex;
    std::function<void(const Error&)> call GUARDED_BY(mutex);
};

Handler& handler() {
    static Handler instance;
    return instance;
}

}  // namespace

Error currentException(std::string_view during) {
    Error error{.kind = ErrorKind::Internal, .hint = "Please tell the makers of Agile Pantry how it came about."};
    try {
        throw;
    } catch (const std::bad_alloc&) {
        error.message = fmt::format("There was not enough memory while {}.", during);
        error.hint = "Close results or other programs, and try again.";
    } catch (const std::exception& e) {
        error.message = fmt::format("Something unexpected happened while {}: {}.", during, e.what());
    } catch (...) {
        error.message = fmt::format("Something unexpected happened while {}.", during);
    }
    return error;
}

void onUncaught(std::function<void(const Error&)> call) {
    const Lock lock(handler().mutex);
    handler().call = std::move(call);
}

void reportUncaught(std::string_view during) noexcept {
    try {
        const Error error = currentException(during);
        std::function<void(const Error&)> call;
        {
            const Lock lock(handler().mutex);
            call = handler().call;
        }
        if (call) return call(error);
        std::fprintf(stderr, "%s\n", error.text().c_str());
    } catch (...) {
        std::fputs("Something unexpected happened, and it could not be told.\n", stderr);
    }
}

}  // namespace pantry::base
