#include "core/shelf/secret_check.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/secret_text.h"
#include "core/sql/meaning/secrets.h"

namespace pantry::shelf {
namespace {

Error told(std::size_t line, std::size_t byte) {
    return {.kind = ErrorKind::InvalidInput,
            .message = fmt::format("Line {} seems to hold a password or another secret; the shelf keeps none, since it "
                                   "remembers every version.",
                                   line),
            .hint = "Put a parameter such as :password in its place.",
            .byteOffset = byte};
}

}  // namespace

std::optional<Error> secretIn(std::string_view content, bool isNotebook) {
    const std::string harmless =
        isNotebook ? base::withoutSecretText(content) : sql::withoutSecrets(content, sql::Dialect::Ansi);
    if (harmless == content) return std::nullopt;
    const auto differs = std::ranges::mismatch(content, harmless).in1;
    const auto line = 1 + std::count(content.begin(), differs, '\n');
    return told(static_cast<std::size_t>(line), static_cast<std::size_t>(differs - content.begin()));
}

}  // namespace pantry::shelf
