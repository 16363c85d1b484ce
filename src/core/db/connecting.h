#pragma once

#include <chrono>
#include <functional>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/cancellation.h"
#include "core/base/result.h"
#include "core/db/driver.h"
#include "core/db/profile.h"

/// What the drivers of several engines share when they open a connection.
namespace pantry::db {

/// How a connection is encrypted.
enum class TlsMode {
    Auto,      ///< encrypted and verified where the server offers it; on this machine as the server likes
    Off,       ///< never
    Encrypt,   ///< encrypted, whoever answers
    VerifyCa,  ///< and the certificate is signed by one we trust
    Verify,    ///< and it is the certificate of that host
};

struct TlsChoice {
    TlsMode mode = TlsMode::Auto;
    std::string ca;           ///< file of certificates to trust; empty for the system's
    std::string certificate;  ///< file of our own certificate; may be empty
    std::string key;          ///< and of its key
    std::string keyPassword;  ///< which may be encrypted
};

/// Reads the options tls (auto, off, encrypt, verify-ca, verify), tls-ca, tls-certificate and tls-key of a profile.
/// Errors: InvalidInput for an unknown mode or a file that is not there.
Result<TlsChoice> tlsOf(const ConnectionProfile& profile);

/// Whether nobody can stand between here and there: a socket, or a loopback address.
[[nodiscard]] bool isOnThisMachine(const ConnectionProfile& profile);

/// Whether a password may go over this connection: an encrypted one, one on this machine, or when somebody has agreed
/// to it for this connection (the property unencrypted-password). What the server asks for is not asked first: it could
/// ask for something else the next time.
[[nodiscard]] bool mayShowPassword(const ConnectionProfile& profile, bool isEncrypted);

/// The server asks for a password on a connection that everybody between here and there can read.
[[nodiscard]] Error wouldShowPassword(const ConnectionProfile& profile);

/// The certificates that this system trusts; empty when it has none.
[[nodiscard]] std::string systemCertificates();

/// How long connecting may take: the option connect-seconds, else fifteen seconds.
[[nodiscard]] std::chrono::seconds patienceOf(const ConnectionProfile& profile);

[[nodiscard]] Error stopped();

/// The definitions of those of these relations that are views of somebody's own.
using ViewDefinitions = std::function<Result<std::vector<std::string>>(const std::vector<sql::CalledName>& relations)>;

/// What a statement calls together with what the views that it reads call, and the views that these read. What a
/// definition hides becomes its doubt. Errors: those of asking.
Result<sql::PlainReading> withViews(sql::PlainReading reading, const sql::Language& language,
                                    const ViewDefinitions& definitionsOf);

/// Why a connection that came from somebody's file is not opened yet.
[[nodiscard]] Error notSeenYet(const ConnectionProfile& profile);

/// Why a function's call waits for a confirmation.
[[nodiscard]] std::string notKnownToBeHarmless(const sql::CalledName& function);

/// Nobody answered within patienceOf().
[[nodiscard]] Error answeredTooLate(const ConnectionProfile& profile);

/// The server has no encryption, and it was asked for.
[[nodiscard]] Error noEncryption(const ConnectionProfile& profile);

/// A driver property, empty when it is not set.
[[nodiscard]] std::string optionOf(const ConnectionProfile& profile, std::string_view name);

/// Takes everything and keeps nothing.
class DiscardingSink final : public RowSink {
public:
    void columns(std::vector<data::Column> /*columns*/) override {}
    void notice(const Notice& /*notice*/) override {}
    bool rows(data::ChunkPtr /*chunk*/, bool /*isLast*/) override { return true; }
    std::size_t rowsWanted() const override { return 8192; }
    bool isHandOverDue() const override { return false; }
};

/// Runs the statements that a profile wants on connecting. Errors: those of the first that fails.
Status runOnConnect(EngineConnection& link, const ConnectionProfile& profile, const base::Cancellation& cancellation);

/// The stages of a connection test, one after another up to the first that fails.
class TestStages {
public:
    /// Tries one; false when it failed.
    template <class Step>
    bool tryOne(std::string name, Step step) {
        const auto start = std::chrono::steady_clock::now();
        const Status status = step();
        const auto duration = std::chrono::steady_clock::now() - start;
        stages_.push_back({std::move(name), status ? std::nullopt : std::optional<Error>(status.error()),
                           std::chrono::duration_cast<std::chrono::microseconds>(duration)});
        return status.has_value();
    }
    /// The last one is worth a warning.
    void warn() { stages_.back().isWarning = true; }
    void rename(std::string name) { stages_.back().name = std::move(name); }
    /// The stages that every engine has once its connection is open: the statements for connecting, the catalog.
    void finishWith(EngineConnection& link, const ConnectionProfile& profile, const base::Cancellation& cancellation);
    [[nodiscard]] std::vector<TestStage> take() { return std::move(stages_); }

private:
    std::vector<TestStage> stages_;
};

/// A connection that is signed in and set to what every new connection is, before the profile's own statements.
using SignIn = std::function<Result<std::unique_ptr<EngineConnection>>()>;

/// Signs in and runs the statements for connecting.
Result<std::unique_ptr<EngineConnection>> openServer(const SignIn& signIn, const ConnectionProfile& profile,
                                                     const base::Cancellation& cancellation);

/// The stages of testing a server.
std::vector<TestStage> testServer(const SignIn& signIn, const ConnectionProfile& profile, std::uint16_t usualPort,
                                  const base::Cancellation& cancellation);

}  // namespace pantry::db
