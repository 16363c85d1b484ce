// Any bytes as a statement on a live connection: judged without a crash, held back or not, and told without its
// secrets. The first byte chooses the engine, the second how its strings are quoted.
#include <cstdint>
#include <cstdlib>
#include <string>

#include "core/db/guard.h"
#include "core/sql/meaning/secrets.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace pantry;
    if (size < 2) return 0;
    const auto engine = static_cast<db::Engine>(data[0] % 4);
    const std::string text(reinterpret_cast<const char*>(data) + 2, size - 2);
    db::ConnectionState connection;
    connection.backslash = static_cast<sql::Backslash>(data[1] % 3);
    connection.quotesAreNames = (data[1] & 4U) != 0;
    const db::ConnectionProfile live{.environment = db::Environment::Live, .engine = engine};
    const sql::Statement statement(text, db::languageOf(engine, connection));
    const auto held = db::heldBack(live, statement, connection);
    if (held && held->reason.empty()) std::abort();
    (void)sql::withoutSecrets(text, db::dialectOf(engine));
    return 0;
}
