// Any bytes into lexer, splitter, parser, formatter, completion, findings and edits. The first bytes choose the
// dialect, the caret and the style.
#include <cstdint>
#include <cstdio>
#include <cstdlib>

#include "support/sql_invariants.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace pantry;
    if (size < 3) return 0;
    const auto dialect = static_cast<sql::Dialect>(data[0] % 4);
    const std::string_view text(reinterpret_cast<const char*>(data) + 3, size - 3);
    const std::string broken = test::brokenInvariant(text, dialect, data[1] * 256U + data[2]);
    if (broken.empty()) return 0;
    std::fprintf(stderr, "does not hold: %s\n", broken.c_str());
    std::abort();
}
