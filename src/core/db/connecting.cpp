#include "core/db/connecting.h"
#include "core/db/driver_properties.h"

#include <arpa/inet.h>
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <filesystem>
#include <iterator>
#include <set>

#include "core/base/text.h"
#include "core/db/guard.h"
#include "core/db/reaching.h"
#include "core/sql/syntax/splitter.h"

namespace pantry::db {
namespace {

struct ModeWord {
    std::string_view word;
    TlsMode mode;
};

/// The words that addresses of PostgreSQL use for the same stand behind our own.
constexpr auto kModes = std::to_array<ModeWord>({{"auto", TlsMode::Auto},
                                                 {"off", TlsMode::Off},
                                                 {"encrypt", TlsMode::Encrypt},
                                                 {"verify-ca", TlsMode::VerifyCa},
                                                 {"verify", TlsMode::Verify},
                                                 {"disable", TlsMode::Off},
                                                 {"prefer", TlsMode::Auto},
                                                 {"require", TlsMode::Encrypt},
                                                 {"verify-full", TlsMode::Verify}});

Status checkFile(const std::string& file, std::string_view what) {
    std::error_code ignored;
    if (file.empty() || std::filesystem::exists(file, ignored)) return {};
    return Error{.kind = ErrorKind::InvalidInput,
                 .message = fmt::format("There is no file {} ({}).", file, what),
                 .hint = "Check the path in the connection's properties."};
}

}  // namespace

Error stopped() { return {.kind = ErrorKind::Cancelled, .message = "Stopped."}; }

Result<sql::PlainReading> withViews(sql::PlainReading reading, const sql::Language& language,
                                    const ViewDefinitions& definitionsOf) {
    std::set<sql::CalledName> seen;
    std::vector<sql::CalledName> next = reading.relations;
    while (!next.empty()) {
        std::erase_if(next, [&](const sql::CalledName& name) { return !seen.insert(name).second; });
        if (next.empty()) break;
        auto definitions = definitionsOf(next);
        if (!definitions) return definitions.error();
        next.clear();
        for (const std::string& definition : *definitions) {
            sql::PlainReading inside = sql::plainReadingOf(definition, language);
            if (!inside.isPlain() && reading.isPlain()) reading.doubt = "A view that it reads: " + inside.doubt;
            std::ranges::move(inside.calls, std::back_inserter(reading.calls));
            std::ranges::move(inside.operators, std::back_inserter(reading.operators));
            std::ranges::move(inside.fields, std::back_inserter(reading.fields));
            std::ranges::move(inside.relations, std::back_inserter(next));
        }
    }
    return reading;
}

Error notSeenYet(const ConnectionProfile& profile) {
    return {.kind = ErrorKind::InvalidInput,
            .message = fmt::format("{} was imported, and nobody has looked at it yet.", profile.name),
            .hint = "Look at it on the page Connections and save it, or run pantry connections confirm."};
}

std::string notKnownToBeHarmless(const sql::CalledName& function) {
    const std::string name = function.schema.empty() ? function.name : function.schema + "." + function.name;
    return fmt::format("It calls {}(), which is not known to be harmless.", name);
}

Error answeredTooLate(const ConnectionProfile& profile) {
    return {
        .kind = ErrorKind::Connection,
        .message = fmt::format("{} did not answer within {} seconds.", placeOf(profile), patienceOf(profile).count()),
        .hint = "Check host and port; a firewall may swallow the request."};
}

Error noEncryption(const ConnectionProfile& profile) {
    return {.kind = ErrorKind::Connection,
            .message = fmt::format("{} offers no encryption.", placeOf(profile)),
            .hint = "Choose “off” or “auto” for TLS if that is acceptable."};
}

std::string optionOf(const ConnectionProfile& profile, std::string_view name) {
    const auto found = profile.options.find(std::string(name));
    return found == profile.options.end() ? std::string() : found->second;
}

Result<TlsChoice> tlsOf(const ConnectionProfile& profile) {
    TlsChoice choice{.ca = optionOf(profile, "tls-ca"),
                     .certificate = optionOf(profile, "tls-certificate"),
                     .key = optionOf(profile, "tls-key"),
                     .keyPassword = optionOf(profile, kTlsKeyPassword)};
    std::string word = optionOf(profile, "tls");
    if (!word.empty()) {
        const auto found = std::ranges::find(kModes, word, &ModeWord::word);
        if (found == kModes.end()) {
            return Error{.kind = ErrorKind::InvalidInput,
                         .message = fmt::format("“{}” is no way of encrypting a connection.", word),
                         .hint = "Choose auto, off, encrypt, verify-ca or verify."};
        }
        choice.mode = found->mode;
    }
    for (const auto& [file, what] :
         {std::pair(&choice.ca, "certificates to trust"), std::pair(&choice.certificate, "our certificate"),
          std::pair(&choice.key, "its key")}) {
        if (Status status = checkFile(*file, what); !status) return status.error();
    }
    return choice;
}

namespace {

bool isHostOfThisMachine(const std::string& host) {
    if (host.empty() || host.starts_with('/') || host.starts_with('@')) return true;
    if (base::equalsIgnoringCase(host, "localhost") || host == "::1" || host == "[::1]") return true;
    // A name such as 127.0.0.1.example.net only begins like an address.
    in_addr address{};
    return ::inet_pton(AF_INET, host.c_str(), &address) == 1 && (ntohl(address.s_addr) >> 24) == 127;
}

}  // namespace

bool isOnThisMachine(const ConnectionProfile& profile) {
    // libpq takes lists of hosts, and an address that goes before the name; a service says where only later.
    const std::string address = optionOf(profile, "hostaddr");
    if (!optionOf(profile, "service").empty()) return false;
    for (const std::string& list : {profile.host, address}) {
        for (const std::string_view host : base::splitAt(list, ',')) {
            if (!isHostOfThisMachine(std::string(host))) return false;
        }
    }
    return true;
}

bool mayShowPassword(const ConnectionProfile& profile, bool isEncrypted) {
    return isEncrypted || isOnThisMachine(profile) || optionOf(profile, "unencrypted-password") == "yes";
}

Error wouldShowPassword(const ConnectionProfile& profile) {
    return {.kind = ErrorKind::Connection,
            .message = fmt::format("The connection to {} is not encrypted, and the server asks for a password.",
                                   placeOf(profile)),
            .hint =
                "Choose “encrypt” or “verify” for TLS. If everybody on the way may read the password, set the "
                "property unencrypted-password to yes."};
}

std::string systemCertificates() {
    const std::string file = "/etc/ssl/certs/ca-certificates.crt";
    std::error_code ignored;
    return std::filesystem::exists(file, ignored) ? file : "";
}

std::chrono::seconds patienceOf(const ConnectionProfile& profile) {
    int seconds = 15;
    const std::string option = optionOf(profile, "connect-seconds");
    std::from_chars(option.data(), option.data() + option.size(), seconds);
    return std::chrono::seconds(std::max(seconds, 1));
}

Status runOnConnect(EngineConnection& link, const ConnectionProfile& profile, const base::Cancellation& cancellation) {
    DiscardingSink sink;
    const std::string& script = profile.onConnect;
    const RunGuard guard = runGuardOf(profile);
    for (const sql::StatementSpan& span : sql::splitStatements(script, dialectOf(profile.engine))) {
        const sql::Statement statement(script.substr(span.start, span.length), dialectOf(profile.engine));
        const auto held = heldBack(guard, {.engine = profile.engine, .connection = link.state()}, statement,
                                   [&](const sql::PlainReading& reading) {
                                       auto doubt = link.doubtAbout(reading, cancellation);
                                       return doubt ? *doubt : doubt.error().message;
                                   });
        if (held) {
            return Error{.kind = ErrorKind::HeldBack,
                         .message = fmt::format("A statement to run on connecting is held back on {}: {}", profile.name,
                                                held->reason),
                         .hint = "Take it out of the connection, and run it from a sheet, where it can be confirmed."};
        }
        auto result = link.run(statement, sink, cancellation);
        if (result) continue;
        Error error = result.error();
        error.message = "A statement to run on connecting failed: " + error.message;
        error.byteOffset.reset();  // it is not in the text that the user looks at
        return error;
    }
    return {};
}

void TestStages::finishWith(EngineConnection& link, const ConnectionProfile& profile,
                            const base::Cancellation& cancellation) {
    if (!profile.onConnect.empty()) {
        const bool ran =
            tryOne("Ran the statements for connecting", [&] { return runOnConnect(link, profile, cancellation); });
        if (!ran) return;
    }
    catalog::CatalogPtr catalog;
    const bool isRead = tryOne("Read the catalog", [&]() -> Status {
        auto read = link.loadCatalog({}, cancellation);
        if (!read) return read.error();
        catalog = std::move(*read);
        return {};
    });
    if (!isRead) return;
    std::size_t forbidden = 0;
    for (const catalog::SchemaPtr& schema : catalog->schemas()) forbidden += schema->forbidden;
    const auto relations = static_cast<std::int64_t>(catalog->relations().size());
    rename(fmt::format("Read the catalog: {}", base::counted(relations, "table or view", "tables and views")));
    if (forbidden > 0) {
        rename(fmt::format("{} may be read, {} not", base::counted(relations, "table or view", "tables and views"),
                           base::grouped(static_cast<std::int64_t>(forbidden))));
    }
}

Result<std::unique_ptr<EngineConnection>> openServer(const SignIn& signIn, const ConnectionProfile& profile,
                                                     const base::Cancellation& cancellation) {
    auto link = signIn();
    if (!link) return link.error();
    if (Status status = runOnConnect(**link, profile, cancellation); !status) return status.error();
    return link;
}

std::vector<TestStage> testServer(const SignIn& signIn, const ConnectionProfile& profile, std::uint16_t usualPort,
                                  const base::Cancellation& cancellation) {
    TestStages stages;
    if (!tryToReach(profile, usualPort, stages)) return stages.take();
    std::unique_ptr<EngineConnection> link;
    const bool isOpen = stages.tryOne("Signed in", [&]() -> Status {
        auto opened = signIn();
        if (!opened) return opened.error();
        link = std::move(*opened);
        return {};
    });
    if (!isOpen) return stages.take();
    const ConnectionState state = link->state();
    stages.rename(fmt::format("Signed in{}: {}", state.user.empty() ? "" : " as " + state.user, link->serverVersion()));
    const auto note = [&](const std::string& text) { stages.tryOne(text, [] { return Status(); }); };
    const std::string encryption = link->encryption();
    note(encryption.empty() ? "The connection is not encrypted"
                            : fmt::format("The connection is encrypted: {}", encryption));
    if (encryption.empty() && !isOnThisMachine(profile)) stages.warn();
    if (!state.database.empty()) note(fmt::format("Opened the database {}", state.database));
    if (const std::string remark = link->remark(); !remark.empty()) note("The connection is " + remark);
    stages.finishWith(*link, profile, cancellation);
    return stages.take();
}

}  // namespace pantry::db
