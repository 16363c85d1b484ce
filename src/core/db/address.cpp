#include "core/db/address.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <vector>

#include "core/base/secret_text.h"
#include "core/base/text.h"
#include "core/base/utf8.h"
#include "core/db/address_parameters.h"
#include "core/db/engine_traits.h"
#include "core/db/key_value_address.h"

namespace pantry::db {
namespace {

struct Scheme {
    std::string_view word;
    Engine engine;
};
constexpr auto kSchemes = std::to_array<Scheme>({{"postgresql", Engine::Postgres},
                                                 {"postgres", Engine::Postgres},
                                                 {"mariadb", Engine::MariaDb},
                                                 {"mysql", Engine::MariaDb},
                                                 {"sqlite", Engine::Sqlite},
                                                 {"odbc", Engine::Odbc}});

int hexValue(char c) {
    if (base::isAsciiDigit(c)) return c - '0';
    const char lower = base::asciiLower(c);
    return lower >= 'a' && lower <= 'f' ? lower - 'a' + 10 : -1;
}

/// Reads an address from left to right; offsets count from the start of what was pasted.
class AddressParser {
public:
    explicit AddressParser(std::string_view text) : text_(text) {}

    Result<Address> parse() {
        for (const std::string_view begin : {std::string_view("sqlite:"), std::string_view("file:")}) {
            if (!base::startsWithIgnoringCase(text_, begin) || text_.substr(begin.size()).starts_with("//")) continue;
            return localFile(text_.substr(begin.size()));
        }
        const std::size_t schemeEnd = text_.find("://");
        if (schemeEnd == std::string_view::npos) return plainPath();
        const auto engine = engineOf(text_.substr(0, schemeEnd));
        if (!engine) {
            return fail(0, fmt::format("“{}” is not an engine.", text_.substr(0, schemeEnd)),
                        "Begin the address with postgresql://, mariadb://, sqlite:// or odbc://.");
        }
        address_.profile.engine = *engine;
        std::string_view rest = text_.substr(schemeEnd + 3);
        const std::size_t query = rest.find('?');
        if (query != std::string_view::npos) {
            if (Status status = options(rest.substr(query + 1)); !status) return status.error();
            rest = rest.substr(0, query);
        }
        if (Status status = isFile(*engine) ? file(rest) : server(rest); !status) return status.error();
        if (Status status = placesInOptions(); !status) return status.error();
        return std::move(address_);
    }

private:
    /// A client's name may follow the engine's, after a plus.
    static std::optional<Engine> engineOf(std::string_view word) {
        word = word.substr(0, word.find('+'));
        for (const Scheme& scheme : kSchemes) {
            if (base::equalsIgnoringCase(scheme.word, word)) return scheme.engine;
        }
        return std::nullopt;
    }

    [[nodiscard]] Error fail(std::size_t offset, std::string message, std::string hint) const {
        return {.kind = ErrorKind::InvalidInput,
                .message = std::move(message),
                .hint = std::move(hint),
                .byteOffset = offset};
    }
    [[nodiscard]] std::size_t offsetOf(std::string_view part) const {
        return static_cast<std::size_t>(part.data() - text_.data());
    }

    /// sqlite:/srv/kitchen.db, without the slashes of an authority.
    Result<Address> localFile(std::string_view rest) {
        address_.profile.engine = Engine::Sqlite;
        const std::size_t query = rest.find('?');
        if (Status status = file(rest.substr(0, query)); !status) return status.error();
        if (query != std::string_view::npos) {
            if (Status status = options(rest.substr(query + 1)); !status) return status.error();
        }
        return std::move(address_);
    }

    Result<Address> plainPath() {
        if (text_.empty()) return fail(0, "The address is empty.", "Paste one such as sqlite:///srv/kitchen.db.");
        const bool looksLikePath = text_.front() == '/' || text_.front() == '.' || text_.front() == '~' ||
                                   text_.ends_with(".db") || text_.ends_with(".sqlite");
        if (!looksLikePath) {
            return fail(0, fmt::format("“{}” is neither an address nor a path.", withoutSecrets(text_)),
                        "An address has the form engine://user@host:port/database.");
        }
        address_.profile.engine = Engine::Sqlite;
        address_.profile.database = text_;
        return std::move(address_);
    }

    Result<std::string> decoded(std::string_view part) const {
        std::string out;
        for (std::size_t i = 0; i < part.size(); ++i) {
            if (part[i] != '%') {
                out += part[i];
                continue;
            }
            const int high = i + 2 < part.size() ? hexValue(part[i + 1]) : -1;
            const int low = i + 2 < part.size() ? hexValue(part[i + 2]) : -1;
            if (high < 0 || low < 0) {
                return fail(offsetOf(part) + i, "A % in an address is followed by two hexadecimal digits.",
                            "Write %25 for a % that is meant as one.");
            }
            out += static_cast<char>(high * 16 + low);
            i += 2;
        }
        return out;
    }

    static bool isPasswordName(std::string_view name) {
        return base::equalsIgnoringCase(name, "password") || base::equalsIgnoringCase(name, "passwd") ||
               base::equalsIgnoringCase(name, "pwd");
    }

    Status options(std::string_view query) {
        for (const std::string_view option : base::splitAt(query, '&')) {
            if (option.empty()) continue;
            const std::size_t equals = option.find('=');
            auto name = decoded(option.substr(0, equals));
            auto value = decoded(equals == std::string_view::npos ? std::string_view() : option.substr(equals + 1));
            if (!name) return name.error();
            if (!value) return value.error();
            if (isPasswordName(*name)) {
                address_.password = *value;
            } else if (base::isSecretName(*name)) {
                return fail(offsetOf(option),
                            fmt::format("“{}” is a secret that this program has no place for.", *name),
                            "Take it out of the address; nothing that is saved holds a secret.");
            } else if (*name == "user") {
                address_.profile.user = *value;
            } else if (!isFile(address_.profile.engine) && isPlace(*name)) {
                places_.push_back({*name, *value, offsetOf(option) + equals + 1});
            } else {
                address_.profile.options[*name] = *value;
            }
        }
        return {};
    }

    /// Where a server is may stand behind the question mark too, as a socket's folder mostly does; it counts more
    /// there.
    struct Place {
        std::string name;
        std::string value;
        std::size_t offset;
    };
    static bool isPlace(std::string_view name) {
        return name == "host" || name == "port" || name == "dbname" || name == "socket" || name == "unix_socket";
    }
    Status placesInOptions() {
        for (const Place& place : places_) {
            if (place.name == "port") {
                if (Status status = port(place.value, place.offset); !status) return status;
            } else {
                (place.name == "dbname" ? address_.profile.database : address_.profile.host) = place.value;
            }
        }
        return {};
    }

    /// sqlite:///absolute/path, sqlite://relative/path
    Status file(std::string_view rest) {
        auto path = decoded(rest);
        if (!path) return path.error();
        if (path->empty()) {
            return fail(text_.size(), "The address names no file.", "Write it as sqlite:///srv/kitchen.db.");
        }
        address_.profile.database = *path;
        return {};
    }

    Status server(std::string_view rest) {
        const std::size_t slash = rest.find('/');
        std::string_view authority = rest.substr(0, slash);
        if (slash != std::string_view::npos) {
            auto database = decoded(rest.substr(slash + 1));
            if (!database) return database.error();
            address_.profile.database = *database;
        }
        const std::size_t at = authority.rfind('@');
        if (at != std::string_view::npos) {
            if (Status status = credentials(authority.substr(0, at)); !status) return status;
            authority = authority.substr(at + 1);
        }
        return hostAndPort(authority);
    }

    Status credentials(std::string_view part) {
        const std::size_t colon = part.find(':');
        auto user = decoded(part.substr(0, colon));
        if (!user) return user.error();
        address_.profile.user = *user;
        if (colon == std::string_view::npos) return {};
        auto password = decoded(part.substr(colon + 1));
        if (!password) return password.error();
        address_.password = *password;
        return {};
    }

    Status hostAndPort(std::string_view part) {
        std::size_t colon = part.rfind(':');
        if (part.starts_with('[')) {  // [::1]:5432
            const std::size_t close = part.find(']');
            if (close == std::string_view::npos) {
                return fail(offsetOf(part), "The [ before the host has no ].", "Write it as [::1].");
            }
            colon = part.find(':', close);
            address_.profile.host = part.substr(1, close - 1);
        } else {
            auto host = decoded(part.substr(0, colon));
            if (!host) return host.error();
            address_.profile.host = *host;
        }
        if (colon == std::string_view::npos) return {};
        return port(part.substr(colon + 1), offsetOf(part) + colon + 1);
    }

    Status port(std::string_view digits, std::size_t offset) {
        unsigned number = 0;
        const auto [end, code] = std::from_chars(digits.data(), digits.data() + digits.size(), number);
        if (code != std::errc() || end != digits.data() + digits.size() || number == 0 || number > 65535) {
            return fail(offset, fmt::format("“{}” is not a port.", digits), "A port is a number from 1 to 65535.");
        }
        address_.profile.port = static_cast<std::uint16_t>(number);
        return {};
    }

    std::string_view text_;
    Address address_;
    std::vector<Place> places_;  // behind the question mark
};

bool isUnreserved(char c) {
    const char lower = base::asciiLower(c);
    return (lower >= 'a' && lower <= 'z') || base::isAsciiDigit(c) || c == '-' || c == '.' || c == '_' || c == '~' ||
           c == '/';
}

std::string encoded(std::string_view text) {
    std::string out;
    for (const char c : text) {
        if (isUnreserved(c)) {
            out += c;
        } else {
            out += fmt::format("%{:02X}", static_cast<unsigned char>(c));
        }
    }
    return out;
}

/// In front of the database a slash, as a socket's path has it, would end the user and the host.
std::string encodedAuthority(std::string_view part) {
    std::string out = encoded(part);
    for (std::size_t at = 0; (at = out.find('/', at)) != std::string::npos; at += 3) out.replace(at, 1, "%2F");
    return out;
}

}  // namespace

namespace {

/// An address is a text in one line. Only a path may have bytes of its own.
Status checkText(std::string_view address) {
    const bool isPath = address.starts_with('/') || address.starts_with('.') || address.starts_with('~');
    for (std::size_t i = 0; i < address.size();) {
        const base::CodePoint c = base::decodeAt(address, i);
        if (c.value < ' ' || c.value == 0x7F || (!c.valid && !isPath)) {
            return Error{.kind = ErrorKind::InvalidInput,
                         .message = fmt::format("Byte {} of the address is {}.", i + 1,
                                                c.valid ? "a control character" : "no UTF-8"),
                         .hint = "Write it as %XX when it is meant.",
                         .byteOffset = i};
        }
        i += c.length;
    }
    return {};
}

}  // namespace

Result<Address> parseAddress(std::string_view text) {
    const std::string_view whole = base::trimmed(text);
    if (Status status = checkText(whole); !status) return status.error();
    constexpr std::string_view kJava = "jdbc:";
    const std::size_t skipped = base::startsWithIgnoringCase(whole, kJava) ? kJava.size() : 0;
    const std::string_view address = whole.substr(skipped);
    Result<Address> parsed = [&] {
        if (auto pairs = parseKeyValues(address)) return std::move(*pairs);
        if (auto bracketed = parseBracketed(address)) return std::move(*bracketed);
        return AddressParser(address).parse();
    }();
    if (parsed) parsed->unused = takeAddressParameters(parsed->profile);
    if (parsed || !parsed.error().byteOffset) return parsed;
    Error error = parsed.error();
    *error.byteOffset += skipped;
    return error;
}

std::string addressOf(const ConnectionProfile& profile) {
    std::string out = std::string(engineWord(profile.engine)) + "://";
    if (isFile(profile.engine)) {
        out += encoded(profile.database);
    } else {
        if (!profile.user.empty()) out += encodedAuthority(profile.user) + "@";
        const bool isIpv6 = profile.host.find(':') != std::string::npos;
        out += isIpv6 ? "[" + profile.host + "]" : encodedAuthority(profile.host);
        if (profile.port != 0) out += fmt::format(":{}", profile.port);
        if (!profile.database.empty()) out += "/" + encoded(profile.database);
    }
    char separator = '?';
    for (const auto& [name, value] : profile.options) {
        if (base::isSecretName(name)) continue;
        out += separator + encoded(name) + "=" + encoded(value);
        separator = '&';
    }
    return out;
}

std::string withoutSecrets(std::string_view text) { return base::withoutSecretText(text); }

}  // namespace pantry::db
