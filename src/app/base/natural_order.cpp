#include "app/base/natural_order.h"

#include <unicode/coll.h>
#include <unicode/unistr.h>

#include <memory>

namespace pantry::app {
namespace {

/// One for each thread: making keys changes a collator.
const icu::Collator* collator() {
    static thread_local const std::unique_ptr<icu::Collator> kCollator = [] {
        UErrorCode status = U_ZERO_ERROR;
        std::unique_ptr<icu::Collator> made(icu::Collator::createInstance(status));
        if (U_FAILURE(status)) return std::unique_ptr<icu::Collator>();
        made->setAttribute(UCOL_NUMERIC_COLLATION, UCOL_ON, status);
        return made;
    }();
    return kCollator.get();
}

}  // namespace

data::TextKey naturalOrder() {
    return [](std::string_view text, std::string& key) {
        const icu::Collator* order = collator();
        if (order == nullptr) {
            key = text;
            return;
        }
        const auto unicode = icu::UnicodeString::fromUTF8({text.data(), static_cast<std::int32_t>(text.size())});
        key.resize(std::max<std::size_t>(key.capacity(), 64));
        auto* bytes = reinterpret_cast<std::uint8_t*>(key.data());
        std::int32_t length = order->getSortKey(unicode, bytes, static_cast<std::int32_t>(key.size()));
        if (length > static_cast<std::int32_t>(key.size())) {
            key.resize(static_cast<std::size_t>(length));
            length = order->getSortKey(unicode, reinterpret_cast<std::uint8_t*>(key.data()), length);
        }
        key.resize(length > 0 ? static_cast<std::size_t>(length) - 1 : 0);  // without its end mark
    };
}

}  // namespace pantry::app
