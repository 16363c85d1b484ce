// Any bytes as a connection address: no crash, and what is understood comes back the same.
#include <cstdint>
#include <cstdlib>
#include <string_view>

#include "core/db/address.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace pantry::db;
    const std::string_view text(reinterpret_cast<const char*>(data), size);
    (void)withoutSecrets(text);
    const auto address = parseAddress(text);
    if (!address) return 0;
    const auto again = parseAddress(addressOf(address->profile));
    const bool isSame = again && again->profile.database == address->profile.database &&
                        again->profile.user == address->profile.user && again->profile.port == address->profile.port;
    if (!isSame && address->profile.engine == Engine::Postgres) std::abort();
    return 0;
}
