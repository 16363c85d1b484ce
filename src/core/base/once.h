#pragma once

#include <mutex>
#include <optional>

namespace pantry::base {

/// A value that the first one who asks works out, while others wait.
///
/// Threads: internally synchronised.
template <class Value>
class Once {
public:
    template <class Work>
    const Value& get(Work work) {
        std::call_once(flag_, [&] { value_.emplace(work()); });
        return *value_;
    }

private:
    std::once_flag flag_;
    std::optional<Value> value_;
};

}  // namespace pantry::base
