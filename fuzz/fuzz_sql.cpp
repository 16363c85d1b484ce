// Any bytes into lexer, splitter, parser, formatter, completion and findings: no crash, no loss, formatting is safe and
// settles. The first byte chooses the dialect, the second the caret.
#include <cstdint>
#include <cstdlib>
#include <string>
#include <string_view>

#include "core/sql/completion.h"
#include "core/sql/findings.h"
#include "core/sql/formatter.h"
#include "core/sql/lexer.h"

namespace {

void require(bool holds) {
    if (!holds) std::abort();
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace pantry::sql;
    if (size < 2) return 0;
    const auto dialect = static_cast<Dialect>(data[0] % 4);
    const std::string_view text(reinterpret_cast<const char*>(data) + 2, size - 2);

    std::size_t at = 0;
    for (const Token& token : lex(text, dialect)) {
        require(token.start == at && token.length > 0);
        at = token.end();
    }
    require(at == text.size());

    const std::string once = formatScript(text, dialect);
    require(haveSameTokens(text, once, dialect));
    require(formatScript(once, dialect) == once);

    static const CatalogView catalog({{.schema = "main", .name = "plot", .columns = {{"name", "text"}}}}, {"main"});
    const Completion completion = completeAt(text, data[1] * text.size() / 255, dialect, catalog);
    require(completion.start + completion.length <= text.size());
    for (const Finding& finding : checkScript(text, dialect)) require(finding.start + finding.length <= text.size());
    return 0;
}
