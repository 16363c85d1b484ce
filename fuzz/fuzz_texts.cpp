// Any bytes as JSON and as Markdown: taken, each byte in its place.
#include <cstdint>
#include <cstdlib>
#include <string_view>

#include "core/exchange/json_outline.h"
#include "core/markdown/outline.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const std::string_view text(reinterpret_cast<const char*>(data), size);
    const auto outline = pantry::markdown::outlineOf(text);
    if (pantry::markdown::sqlOf(text, outline.blocks).size() != size) std::abort();
    std::size_t done = 0;
    for (const auto& token : outline.tokens) {
        if (token.start < done) std::abort();
        done = token.start + token.length;
    }
    if (done > size) std::abort();
    for (const auto& pair : pantry::exchange::outlineJson(text).pairs) {
        if (pair.open >= pair.close || pair.close >= size) std::abort();
    }
    return 0;
}
