#pragma once

#include <tl/expected.hpp>
#include <utility>

#include "core/base/error.h"

namespace pantry {

/// A value, or the Error that kept it from being made. Return either one directly.
template <class T>
class [[nodiscard]] Result : public tl::expected<T, Error> {
    using Base = tl::expected<T, Error>;

public:
    using Base::Base;
    Result(Error error) : Base(tl::make_unexpected(std::move(error))) {}  // NOLINT(google-explicit-constructor)
    Result(Base base) : Base(std::move(base)) {}                          // NOLINT(google-explicit-constructor)
};

/// Success without a value, or an Error.
using Status = Result<void>;

}  // namespace pantry
