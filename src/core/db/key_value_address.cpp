#include "core/db/key_value_address.h"
#include "core/db/engine_traits.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>

#include "core/base/secret_text.h"
#include "core/base/text.h"

namespace pantry::db {
namespace {

enum class Part { Host, Port, Database, User, Password, File, Driver };

struct Key {
    std::string_view word;  // in small letters, without blanks and underlines
    Part part;
};
constexpr auto kKeys = std::to_array<Key>({{"host", Part::Host},         {"hostaddr", Part::Host},
                                           {"server", Part::Host},       {"address", Part::Host},
                                           {"unixsocket", Part::Host},   {"socket", Part::Host},
                                           {"port", Part::Port},         {"dbname", Part::Database},
                                           {"database", Part::Database}, {"initialcatalog", Part::Database},
                                           {"user", Part::User},         {"userid", Part::User},
                                           {"username", Part::User},     {"uid", Part::User},
                                           {"password", Part::Password}, {"passwd", Part::Password},
                                           {"pwd", Part::Password},      {"datasource", Part::File},
                                           {"filename", Part::File},     {"driver", Part::Driver},
                                           {"dsn", Part::Driver}});

struct Pair {
    std::string key;
    std::string value;
    std::size_t offset = 0;  // of the value in the text
};

std::string normalised(std::string_view key) {
    std::string out = base::toLower(base::trimmed(key));
    std::erase_if(out, [](char c) { return c == ' ' || c == '_'; });
    return out;
}

std::optional<Part> partOf(std::string_view key) {
    const auto found = std::ranges::find(kKeys, normalised(key), &Key::word);
    return found == kKeys.end() ? std::nullopt : std::optional(found->part);
}

/// Takes the pairs one after another; a value may stand in '…', "…" or {…}, with \ before what is meant as it is.
class PairReader {
public:
    PairReader(std::string_view text, std::size_t from) : text_(text), at_(from) {
        separator_ = text.find(';', from) != std::string_view::npos ? ';' : ' ';
    }

    Result<std::vector<Pair>> read() {
        std::vector<Pair> pairs;
        for (;;) {
            while (at_ < text_.size() && (text_[at_] == ' ' || text_[at_] == separator_)) ++at_;
            if (at_ == text_.size()) return pairs;
            const std::size_t equals = text_.find('=', at_);
            if (equals == std::string_view::npos) {
                return Error{.kind = ErrorKind::InvalidInput,
                             .message = "A word without = stands between the pairs.",
                             .hint = "Write every part as name=value.",
                             .byteOffset = at_};
            }
            Pair pair{.key = std::string(text_.substr(at_, equals - at_))};
            at_ = equals + 1;
            while (at_ < text_.size() && text_[at_] == ' ') ++at_;
            pair.offset = at_;
            pair.value = value();
            pairs.push_back(std::move(pair));
        }
    }

private:
    std::string value() {
        const char first = at_ < text_.size() ? text_[at_] : '\0';
        const char close = first == '{' ? '}' : first == '\'' || first == '"' ? first : '\0';
        std::string out;
        if (close == '\0') {
            const std::size_t end = std::min(text_.find(separator_, at_), text_.size());
            out = base::trimmed(text_.substr(at_, end - at_));
            at_ = end;
            return out;
        }
        for (++at_; at_ < text_.size() && text_[at_] != close; ++at_) {
            if (text_[at_] == '\\' && at_ + 1 < text_.size()) ++at_;
            out += text_[at_];
        }
        at_ = std::min(at_ + 1, text_.size());
        return out;
    }

    std::string_view text_;
    std::size_t at_;
    char separator_;
};

Status setPort(ConnectionProfile& profile, std::string_view digits, std::size_t offset) {
    unsigned port = 0;
    const auto [end, code] = std::from_chars(digits.data(), digits.data() + digits.size(), port);
    if (code != std::errc() || end != digits.data() + digits.size() || port == 0 || port > 65535) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = fmt::format("“{}” is not a port.", digits),
                     .hint = "A port is a number from 1 to 65535.",
                     .byteOffset = offset};
    }
    profile.port = static_cast<std::uint16_t>(port);
    return {};
}

/// The engine that stands before the pairs, as in pgsql:host=…; and where the pairs begin.
std::pair<std::optional<Engine>, std::size_t> prefixOf(std::string_view text) {
    const std::size_t colon = text.find(':');
    if (colon == std::string_view::npos || colon > text.find('=')) return {std::nullopt, 0};
    const std::string word = base::toLower(text.substr(0, colon));
    if (word == "pgsql") return {Engine::Postgres, colon + 1};
    if (word == "mysql" || word == "mariadb") return {Engine::MariaDb, colon + 1};
    return {std::nullopt, 0};
}

/// Without a word about it, the way of writing tells the engine.
Engine guessEngine(const std::vector<Pair>& pairs, const ConnectionProfile& profile) {
    if (profile.port == traitsOf(Engine::MariaDb).port) return Engine::MariaDb;
    const auto has = [&](std::string_view key) {
        return std::ranges::any_of(pairs, [&](const Pair& p) { return normalised(p.key) == key; });
    };
    if (has("driver") || has("dsn")) return Engine::Odbc;
    if (has("datasource") || has("filename")) return Engine::Sqlite;
    return has("server") && (has("uid") || has("pwd")) ? Engine::MariaDb : Engine::Postgres;
}

/// Names of an ODBC driver's own settings are its business: all pairs are kept, but for who signs in.
Address odbcAddress(const std::vector<Pair>& pairs) {
    Address address;
    address.profile.engine = Engine::Odbc;
    std::string text;
    for (const Pair& pair : pairs) {
        const auto part = partOf(pair.key);
        if (part == Part::User) {
            address.profile.user = pair.value;
        } else if (part == Part::Password) {
            address.password = pair.value;
        } else {
            const bool isPlain = pair.value.find_first_of(";{}= ") == std::string::npos;
            text += fmt::format("{}={};", base::trimmed(pair.key), isPlain ? pair.value : "{" + pair.value + "}");
        }
    }
    const bool isNameAlone = pairs.size() == 1 && normalised(pairs[0].key) == "dsn";
    address.profile.database = isNameAlone ? pairs[0].value : text;
    return address;
}

}  // namespace

std::optional<Result<Address>> parseKeyValues(std::string_view text) {
    const auto [engine, begin] = prefixOf(text);
    const std::size_t equals = text.find('=', begin);
    if (equals == std::string_view::npos || !partOf(text.substr(begin, equals - begin))) return std::nullopt;
    auto pairs = PairReader(text, begin).read();
    if (!pairs) return Result<Address>(pairs.error());
    for (const Pair& pair : *pairs) {
        if (partOf(pair.key) == Part::Password || !base::isSecretName(pair.key)) continue;
        return Result<Address>(
            Error{.kind = ErrorKind::InvalidInput,
                  .message = fmt::format("“{}” is a secret that this program has no place for.", pair.key),
                  .hint = "Take it out of the address; nothing that is saved holds a secret.",
                  .byteOffset = pair.offset});
    }
    Address address;
    ConnectionProfile& p = address.profile;
    if (!engine && guessEngine(*pairs, p) == Engine::Odbc) return Result<Address>(odbcAddress(*pairs));
    for (const Pair& pair : *pairs) {
        const auto part = partOf(pair.key);
        if (!part) {
            p.options[std::string(base::trimmed(pair.key))] = pair.value;
            continue;
        }
        switch (*part) {
            case Part::Host: p.host = pair.value; break;
            case Part::Database: p.database = pair.value; break;
            case Part::User: p.user = pair.value; break;
            case Part::Password: address.password = pair.value; break;
            case Part::File: p.database = pair.value; break;
            case Part::Driver: break;  // another engine's connection says so by its prefix
            case Part::Port:
                if (Status status = setPort(p, pair.value, pair.offset); !status)
                    return Result<Address>(status.error());
        }
    }
    p.engine = engine ? *engine : guessEngine(*pairs, p);
    return Result<Address>(std::move(address));
}

std::optional<Result<Address>> parseBracketed(std::string_view text) {
    const std::size_t open = text.find("@tcp(");
    const std::size_t unixOpen = text.find("@unix(");
    const std::size_t at = std::min(open, unixOpen);
    const std::size_t close = text.find(')', at == std::string_view::npos ? 0 : at);
    if (at == std::string_view::npos || close == std::string_view::npos) return std::nullopt;
    Address address;
    ConnectionProfile& p = address.profile;
    p.engine = Engine::MariaDb;
    const std::string_view credentials = text.substr(0, at);
    const std::size_t colon = credentials.find(':');
    p.user = credentials.substr(0, colon);
    if (colon != std::string_view::npos) address.password = std::string(credentials.substr(colon + 1));
    const std::size_t inside = text.find('(', at) + 1;
    const std::string_view place = text.substr(inside, close - inside);
    const std::size_t portColon = open == at ? place.rfind(':') : std::string_view::npos;
    p.host = place.substr(0, portColon);
    if (portColon != std::string_view::npos) {
        Status status = setPort(p, place.substr(portColon + 1), inside + portColon + 1);
        if (!status) return Result<Address>(status.error());
    }
    if (close + 1 < text.size() && text[close + 1] == '/') {
        const std::size_t query = text.find('?', close);
        p.database = text.substr(close + 2, query - close - 2);
        for (const std::string_view option :
             base::splitAt(query == std::string_view::npos ? "" : text.substr(query + 1), '&')) {
            const std::size_t equals = option.find('=');
            if (equals != std::string_view::npos && !base::isSecretName(option.substr(0, equals)))
                p.options[std::string(option.substr(0, equals))] = std::string(option.substr(equals + 1));
        }
    }
    return Result<Address>(std::move(address));
}

}  // namespace pantry::db
