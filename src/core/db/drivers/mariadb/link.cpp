#include "core/db/drivers/mariadb/link.h"
#include "core/db/guard.h"

#include <mysql.h>

#include <fmt/format.h>
#include <poll.h>
#include <sys/socket.h>

#include <algorithm>
#include <charconv>
#include <chrono>
#include <cmath>
#include <thread>

#include "core/base/mutex.h"
#include "core/base/secret_text.h"
#include "core/base/text.h"
#include "core/db/connecting.h"
#include "core/db/drivers/mariadb/columns.h"
#include "core/db/parameters.h"
#include "core/sql/syntax/statement_kind.h"
#include "core/sql/text/lexer.h"

namespace pantry::db::mariadb {
namespace {

using Clock = std::chrono::steady_clock;

constexpr auto kStopTimeout = std::chrono::milliseconds(800);  // then a stopped line is given up

/// The bits of a BIT value as the engine writes them in a literal.
std::string bitsOf(std::string_view bytes, unsigned long width) {
    std::string out;
    width = std::min<unsigned long>(width, bytes.size() * 8);  // a server may say anything
    for (unsigned long bit = width; bit-- > 0;) {
        const std::size_t byte = bytes.size() - 1 - bit / 8;
        const bool isSet = byte < bytes.size() && (static_cast<unsigned char>(bytes[byte]) >> (bit % 8) & 1U) != 0;
        out += isSet ? '1' : '0';
    }
    return out;
}

}  // namespace

/// What the run and the threads that stop it share.
struct MariaDbLink::Stopping {
    base::Mutex mutex;
    base::Condition changed;
    bool isRunning = false;  // a statement is on its way
    bool isAsked = false;    // to stop it
    bool isGivenUp = false;  // its connection was closed, since the server did not stop it in time
    int threads = 0;         // that still work on stopping it
    // Of the connection while a statement runs; the connection itself belongs to the thread that works it.
    my_socket socket = -1;
    unsigned long id = 0;

    void begin(my_socket s, unsigned long connectionId) {
        base::Lock lock(mutex);
        // What stops the statement before must not reach this one.
        lock.waitFor(changed, std::chrono::seconds(2), [this]() REQUIRES(mutex) { return threads == 0; });
        isRunning = true;
        isAsked = false;
        isGivenUp = false;
        socket = s;
        id = connectionId;
    }
    void end() {
        base::Lock lock(mutex);
        isRunning = false;
        changed.notify_all();
        lock.waitFor(changed, std::chrono::seconds(1), [this]() REQUIRES(mutex) { return threads == 0; });
    }
    /// On a thread of its own: closes the socket when the server takes too long.
    void watch() {
        base::Lock lock(mutex);
        const bool isOver = lock.waitFor(changed, kStopTimeout, [this]() REQUIRES(mutex) { return !isRunning; });
        if (!isOver) {
            isGivenUp = true;
            ::shutdown(socket, SHUT_RDWR);
        }
        --threads;
        changed.notify_all();
    }
    /// Whether the statement still runs after a while. On a thread of its own.
    bool goesOn() {
        constexpr auto kAskAgain = std::chrono::milliseconds(200);
        base::Lock lock(mutex);
        return !lock.waitFor(changed, kAskAgain, [this]() REQUIRES(mutex) { return !isRunning; });
    }
    bool wasGivenUp() {
        const base::Lock lock(mutex);
        return isGivenUp;
    }
    void leave() {
        const base::Lock lock(mutex);
        --threads;
        changed.notify_all();
    }
};

/// One statement being read: where its rows go, and what they are.
class MariaDbLink::Reading {
public:
    Reading(RowSink& to, const base::Cancellation& wish, const std::string& statement, TrueOrigins origins)
        : sink(to), cancellation(wish), text(statement), origins_(std::move(origins)) {}

    void begin(MYSQL_RES* result) {
        const unsigned count = mysql_num_fields(result);
        const MYSQL_FIELD* fields = mysql_fetch_fields(result);
        decodings_.clear();
        widths_.clear();
        std::vector<data::Column> columns;
        for (unsigned i = 0; i < count; ++i) {
            decodings_.push_back(decodingOf(fields[i]));
            widths_.push_back(fields[i].length);
            columns.push_back(columnOf(fields[i]));
            if (!origins_.holds(fields[i])) {
                columns.back().originSchema.clear();
                columns.back().originTable.clear();
                columns.back().originColumn.clear();
            }
        }
        sink.columns(std::move(columns));
        builder.emplace(count);
        wanted = sink.rowsWanted();
    }

    void add(MYSQL_ROW row, const unsigned long* lengths) {
        for (std::size_t i = 0; i < decodings_.size(); ++i) {
            if (row[i] == nullptr) {
                builder->addNull();
            } else {
                addValue({row[i], lengths[i]}, i);
            }
        }
        builder->endRow();
    }

    [[nodiscard]] bool isHandOverDue() const {
        return builder->isFull() || builder->rowCount() >= wanted ||
               (builder->rowCount() % 64 == 0 && sink.isHandOverDue());
    }

    /// False when the sink wants no more.
    bool handOver(bool isLast) {
        if (!builder || builder->rowCount() == 0) return true;
        const bool wantsMore = sink.rows(builder->take(), isLast);
        if (auto spent = sink.spent()) builder->reuse(std::move(spent));
        if (wantsMore && !isLast) wanted = sink.rowsWanted();
        return wantsMore;
    }

    RowSink& sink;
    const base::Cancellation& cancellation;
    const std::string& text;
    std::optional<data::ChunkBuilder> builder;
    std::size_t wanted = 0;

private:
    TrueOrigins origins_;

    void addValue(std::string_view value, std::size_t column) {
        switch (decodings_[column]) {
            case Decoding::Text: return builder->addText(value);
            case Decoding::Bytes: return builder->addBinary(value);
            case Decoding::Bits: return builder->addText(bitsOf(value, widths_[column]));
            case Decoding::Integer: {
                std::int64_t number = 0;
                const auto [end, code] = std::from_chars(value.data(), value.data() + value.size(), number);
                if (code != std::errc() || end != value.data() + value.size()) return builder->addText(value);
                return builder->addInteger(number);
            }
        }
    }

    std::vector<Decoding> decodings_;
    std::vector<unsigned long> widths_;
};

MariaDbLink::MariaDbLink(ConnectionHandle connection, ConnectionProfile profile, std::optional<std::string> password)
    : connection_(std::move(connection)),
      profile_(std::move(profile)),
      password_(std::move(password)),
      stopping_(std::make_shared<Stopping>()) {}

MariaDbLink::~MariaDbLink() {
    if (password_) base::wipe(*password_);
}

Status MariaDbLink::prepare(const base::Cancellation& cancellation) {
    if (cancellation.isRequested()) return stopped();
    if (!isUsable()) return lost();
    if (profile_.isReadOnly) {
        if (Status status = setReads(true); !status) return status;
    }
    refreshState("");
    return connection_ ? Status() : Status(lost());
}

void MariaDbLink::cancel() {
    const base::Lock lock(stopping_->mutex);
    if (!stopping_->isRunning || stopping_->isAsked) return;
    stopping_->isAsked = true;
    stopping_->threads += 2;
    std::thread([stopping = stopping_] { stopping->watch(); }).detach();
    // On a connection and a thread of its own, which own what they use: whoever stops must not be held up.
    std::thread([stopping = stopping_, id = stopping_->id, profile = profile_, password = password_]() mutable {
        profile.options["connect-seconds"] = "1";
        if (auto side = connect(profile, password, base::Cancellation())) {
            // A server that is asked before it has begun the statement forgets the wish, so it is asked until it did.
            do {
                mysql_query(side->get(), fmt::format("KILL QUERY {}", id).c_str());
            } while (stopping->goesOn());
            // A server that waits for a lock does not notice that nobody listens any more.
            if (stopping->wasGivenUp()) mysql_query(side->get(), fmt::format("KILL CONNECTION {}", id).c_str());
        }
        stopping->leave();
    }).detach();
}

bool MariaDbLink::isUsable() {
    if (!connection_) return false;
    // A server that goes away says so, or closes; both make the socket readable.
    pollfd socket{.fd = mysql_get_socket(connection_.get()), .events = POLLIN, .revents = 0};
    if (::poll(&socket, 1, 0) == 0) return true;
    char byte = 0;
    const auto seen = ::recv(socket.fd, &byte, 1, MSG_PEEK | MSG_DONTWAIT);
    const bool isAlive = seen > 0 && mysql_ping(connection_.get()) == 0;  // under TLS more may come than answers
    if (!isAlive) connection_.reset();
    return isAlive;
}

std::string MariaDbLink::serverVersion() {
    if (!connection_) return "MariaDB";
    std::string_view version = mysql_get_server_info(connection_.get());
    const bool isMariaDb = mariadb_connection(connection_.get()) != 0;
    if (version.starts_with("5.5.5-")) version.remove_prefix(6);  // for old replicas
    return fmt::format("{} {}", isMariaDb ? "MariaDB" : "MySQL", version.substr(0, version.find('-')));
}

std::string MariaDbLink::encryption() const {
    const char* cipher = connection_ ? mysql_get_ssl_cipher(connection_.get()) : nullptr;
    return cipher == nullptr ? "" : cipher;
}

std::string MariaDbLink::remark() const { return profile_.isReadOnly ? "opened for reading only" : ""; }

Status MariaDbLink::ask(const std::string& query, const RowTaker& take) {
    MYSQL* c = connection_.get();
    if (c == nullptr) return lost();
    if (mysql_real_query(c, query.data(), query.size()) != 0) return errorOf(c, query, profile_);
    const ResultHandle result(mysql_store_result(c));
    if (result == nullptr) return mysql_errno(c) == 0 ? Status() : Status(errorOf(c, query, profile_));
    while (MYSQL_ROW row = mysql_fetch_row(result.get())) take(row, mysql_fetch_lengths(result.get()));
    return {};
}

Result<std::vector<TextRow>> MariaDbLink::askRows(const std::string& query) {
    std::vector<TextRow> rows;
    const Status status = ask(query, [&](MYSQL_ROW row, const unsigned long* lengths) {
        TextRow& texts = rows.emplace_back();
        for (unsigned i = 0; i < mysql_field_count(connection_.get()); ++i) {
            texts.push_back(row[i] == nullptr ? std::nullopt : std::optional(std::string(row[i], lengths[i])));
        }
    });
    if (!status) return status.error();
    return rows;
}

std::string MariaDbLink::literal(const std::optional<std::string>& value) const {
    if (!value) return "NULL";
    if (!connection_) return sql::quotedString(*value, sql::Dialect::MySql);
    std::string escaped(value->size() * 2 + 1, '\0');
    const unsigned long length =
        mysql_real_escape_string(connection_.get(), escaped.data(), value->data(), value->size());
    escaped.resize(length);
    return "'" + escaped + "'";
}

Error MariaDbLink::lost() const {
    return {.kind = ErrorKind::ConnectionLost,
            .message = fmt::format("The connection to {} was lost.", placeOf(profile_)),
            .hint = "The next run connects again."};
}

Result<bool> MariaDbLink::check(const sql::Statement& asked, const base::Cancellation& /*cancellation*/) {
    if (!isUsable()) return lost();
    const sql::Statement statement = asked.readAs(languageOf(Engine::MariaDb, state_));
    auto bound = BoundStatement::make(statement.text(), sql::Dialect::MySql, anyValues(statement),
                                      [](const std::string&, const auto&) { return std::string("?"); });
    if (!bound) return bound.error();
    const std::unique_ptr<MYSQL_STMT, decltype(&mysql_stmt_close)> prepared(mysql_stmt_init(connection_.get()),
                                                                            &mysql_stmt_close);
    if (prepared == nullptr) return lost();
    constexpr unsigned kNotPrepared = 1295;  // “not supported in the prepared statement protocol yet”
    const std::string& text = bound->text();
    if (mysql_stmt_prepare(prepared.get(), text.data(), static_cast<unsigned long>(text.size())) == 0) {
        return statement.effect() != sql::StatementEffect::Defines;
    }
    if (mysql_stmt_errno(prepared.get()) == kNotPrepared) return false;
    Error error = mariadb::errorOf(connection_.get(), text, profile_);
    if (error.byteOffset) error.byteOffset = bound->originOf(*error.byteOffset);
    return error;
}

Result<StatementResult> MariaDbLink::run(const sql::Statement& asked, RowSink& sink,
                                         const base::Cancellation& cancellation) {
    if (!isUsable()) return lost();
    const sql::Statement statement = asked.readAs(languageOf(Engine::MariaDb, state_));
    auto bound = BoundStatement::make(
        statement.text(), sql::Dialect::MySql, asked.parameters(),
        [this](const std::string&, const std::optional<std::string>& value) { return literal(value); });
    if (!bound) return bound.error();
    stopping_->begin(mysql_get_socket(connection_.get()), mysql_thread_id(connection_.get()));
    if (cancellation.isRequested()) cancel();  // it was asked for before there was anything to stop
    auto result = runText(bound->text(), sink, cancellation);
    stopping_->end();
    if (!result) {
        Error error = result.error();
        if (error.byteOffset) error.byteOffset = bound->originOf(*error.byteOffset);
        // Closed only now, when nobody who stops can mean its socket any more.
        if (isLost_ || endsConnection(error.kind)) connection_.reset();
        isLost_ = false;
        if (connection_) noteTransaction();
        if (!connection_) state_.transaction = TransactionState::None;
        return error;
    }
    if (statement.kind() == sql::StatementKind::Create &&
        std::ranges::any_of(statement.tokens(), [](const sql::Token& t) { return t.is(sql::Keyword::Temporary); })) {
        state_.hasTemporaryTables = true;
    }
    // The server counts rows for every statement, also where there are none to change.
    const auto effect = statement.effect();
    const bool changesRows = effect == sql::StatementEffect::Writes || effect == sql::StatementEffect::Unknown;
    if (!changesRows) result->affectedRows.reset();
    tellWarnings(sink);
    refreshState(statement);
    return result;
}

Error MariaDbLink::failure(std::string_view statement, const base::Cancellation& cancellation) {
    Error error = errorOf(connection_.get(), statement, profile_);
    if (!cancellation.isRequested()) return error;
    Error stop = stopped();
    if (endsConnection(error.kind)) {
        stop.hint =
            "The server did not answer in time, so the connection was closed, and with it an open transaction. Look "
            "whether "
            "the statement took effect before you run it again.";
        isLost_ = true;
    }
    return stop;
}

Result<StatementResult> MariaDbLink::runText(const std::string& text, RowSink& sink,
                                             const base::Cancellation& cancellation) {
    StatementResult out;
    const sql::Language language(sql::Dialect::MySql, state_.quotesAreNames, state_.backslash);
    Reading reading(sink, cancellation, text, TrueOrigins(text, language, state_.database));
    if (!connection_) return lost();
    if (mysql_real_query(connection_.get(), text.data(), text.size()) != 0) return failure(text, cancellation);
    if (Status status = readResults(reading, out); !status) return status.error();
    return out;
}

Status MariaDbLink::readResults(Reading& reading, StatementResult& out) {
    MYSQL* c = connection_.get();
    for (;;) {
        const ResultHandle result(mysql_use_result(c));
        if (result != nullptr) {
            if (Status status = readRows(reading, result.get(), out); !status) return status;
        } else if (mysql_field_count(c) == 0) {
            const auto affected = mysql_affected_rows(c);
            if (affected != static_cast<my_ulonglong>(-1)) {
                out.affectedRows = out.affectedRows.value_or(0) + static_cast<std::int64_t>(affected);
            }
            if (const auto key = mysql_insert_id(c); key != 0) out.generatedKey = std::to_string(key);
        } else {
            return failure(reading.text, reading.cancellation);
        }
        const int next = mysql_next_result(c);
        if (next < 0) return {};
        if (next > 0) return failure(reading.text, reading.cancellation);
    }
}

Status MariaDbLink::readRows(Reading& reading, MYSQL_RES* result, StatementResult& out) {
    MYSQL* c = connection_.get();
    const bool isWanted = out.isComplete;
    out.hasRows = true;
    if (isWanted) reading.begin(result);
    while (MYSQL_ROW row = mysql_fetch_row(result)) {
        if (!out.isComplete) continue;  // the rest is read and thrown away
        reading.add(row, mysql_fetch_lengths(result));
        if (!reading.isHandOverDue() || reading.handOver(false)) continue;
        out.isComplete = false;
        cancel();  // so that the rest is short
    }
    const bool isBroken = mysql_errno(c) != 0;
    if (out.isComplete) reading.handOver(true);  // rows that came before an error stay
    reading.builder.reset();
    if (!isBroken) return {};
    const Error error = errorOf(c, reading.text, profile_);
    const bool wasUnwanted = !out.isComplete && !reading.cancellation.isRequested() && !endsConnection(error.kind);
    if (wasUnwanted) return {};
    return failure(reading.text, reading.cancellation);
}

void MariaDbLink::tellWarnings(RowSink& sink) {
    if (!connection_ || mysql_warning_count(connection_.get()) == 0) return;
    std::vector<Notice> notices;
    (void)ask("SHOW WARNINGS", [&](MYSQL_ROW row, const unsigned long*) {
        const auto text = [row](int i) { return std::string(row[i] == nullptr ? "" : row[i]); };
        notices.push_back({base::toUpper(text(0)), text(2), text(1)});
    });
    for (const Notice& notice : notices) sink.notice(notice);
}

void MariaDbLink::noteTransaction() {
    if (!connection_) return;
    unsigned status = 0;
    mariadb_get_infov(connection_.get(), MARIADB_CONNECTION_SERVER_STATUS, &status);
    state_.transaction = (status & SERVER_STATUS_IN_TRANS) != 0 ? TransactionState::Open : TransactionState::None;
    state_.quotesAreNames = (status & SERVER_STATUS_ANSI_QUOTES) != 0;
    const bool isPlain = (status & SERVER_STATUS_NO_BACKSLASH_ESCAPES) != 0;
    state_.backslash = isPlain ? sql::Backslash::Plain : sql::Backslash::AsDialect;
}

/// Asks what holds on the connection after a statement that may have changed it.
void MariaDbLink::refreshState(const sql::Statement& statement) {
    if (!connection_) return;
    noteTransaction();
    const auto kind = statement.kind();
    const auto effect = statement.effect();
    const bool mayChange = effect == sql::StatementEffect::Configures || effect == sql::StatementEffect::Transacts ||
                           effect == sql::StatementEffect::Unknown || kind == sql::StatementKind::Use;
    if (!mayChange) return;
    const bool isMariaDb = mariadb_connection(connection_.get()) != 0;
    const std::string query =
        isMariaDb ? "SELECT DATABASE(), CURRENT_USER(), @@tx_isolation, @@tx_read_only, @@max_statement_time * 1000, "
                    "CURRENT_ROLE()"
                  : "SELECT DATABASE(), CURRENT_USER(), @@transaction_isolation, @@transaction_read_only, "
                    "@@max_execution_time, NULL";
    const Status status = ask(query, [&](MYSQL_ROW row, const unsigned long*) {
        const auto value = [row](int i) { return std::string(row[i] == nullptr ? "" : row[i]); };
        state_.database = value(0);
        state_.user = value(1);
        state_.role = value(5);
        state_.isolation = base::toLower(value(2));
        std::ranges::replace(state_.isolation, '-', ' ');
        if (!isReopened_) {
            sessionReads_ = value(3) == "1";
            state_.isReadOnly = sessionReads_ && !state_.isLocked;
        }
        state_.statementLimit = std::chrono::milliseconds(std::llround(std::atof(value(4).c_str())));
    });
    if (!status && endsConnection(status.error().kind)) connection_.reset();
    if (connection_) noteTransaction();
}

Result<catalog::CatalogPtr> MariaDbLink::loadCatalog(const catalog::Request& request,
                                                     const base::Cancellation& cancellation) {
    if (!isUsable()) return lost();
    return mariadb::loadCatalog(*this, serverVersion(), request, cancellation);
}

Result<catalog::Definition> MariaDbLink::definition(const catalog::ObjectName& object,
                                                    const base::Cancellation& cancellation) {
    if (!isUsable()) return lost();
    return readDefinition(*this, object, cancellation);
}

}  // namespace pantry::db::mariadb
