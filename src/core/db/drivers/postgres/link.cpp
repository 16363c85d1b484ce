#include "core/db/drivers/postgres/link.h"
#include "core/db/guard.h"

#include <libpq-fe.h>

#include <fmt/format.h>
#include <poll.h>
#include <sys/socket.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <span>
#include <thread>

#include "core/base/text.h"
#include "core/db/connecting.h"
#include "core/sql/syntax/statement_kind.h"
#include "core/sql/text/lexer.h"

namespace pantry::db::postgres {
namespace {

using Clock = std::chrono::steady_clock;

constexpr int kHandOverMs = 40;                                // rows that came are shown though the server is slow
constexpr auto kStopTimeout = std::chrono::milliseconds(800);  // then a stopped line is given up

constexpr auto kAskAgain = std::chrono::milliseconds(200);  // to stop, until the server did

// Numbers of types that never change (PostgreSQL: src/include/catalog/pg_type.dat).
constexpr Oid kBool = 16;
constexpr Oid kBytea = 17;
constexpr Oid kInt8 = 20;
constexpr Oid kInt2 = 21;
constexpr Oid kInt4 = 23;
constexpr Oid kOid = 26;

std::string decodedBytes(std::string_view hex) {
    const auto digit = [](char c) { return c <= '9' ? c - '0' : (c | 0x20) - 'a' + 10; };
    std::string out;
    if (!hex.starts_with("\\x")) return std::string(hex);  // bytea_output = escape
    out.reserve(hex.size() / 2);
    for (std::size_t i = 2; i + 1 < hex.size(); i += 2) {
        out += static_cast<char>(digit(hex[i]) << 4 | digit(hex[i + 1]));
    }
    return out;
}

bool mayReturnRows(sql::StatementKind kind) {
    switch (kind) {
        case sql::StatementKind::Select:
        case sql::StatementKind::Values:
        case sql::StatementKind::Table:
        case sql::StatementKind::Insert:
        case sql::StatementKind::Update:
        case sql::StatementKind::Delete: return true;
        default: return false;
    }
}

bool isCopy(const PGresult* result) {
    const ExecStatusType status = PQresultStatus(result);
    return status == PGRES_COPY_IN || status == PGRES_COPY_OUT || status == PGRES_COPY_BOTH;
}

bool makesTemporaryTable(std::span<const sql::Token> tokens) {
    return std::ranges::any_of(
        tokens, [](const sql::Token& t) { return t.is(sql::Keyword::Temp) || t.is(sql::Keyword::Temporary); });
}

}  // namespace

Decoding decodingOf(Oid type) {
    switch (type) {
        case kInt2:
        case kInt4:
        case kInt8:
        case kOid: return Decoding::Integer;
        case kBool: return Decoding::Boolean;
        case kBytea: return Decoding::Bytes;
        default: return Decoding::Text;
    }
}

/// One statement being read: where its rows go, and what they are.
class PostgresLink::Reading {
public:
    Reading(RowSink& to, const base::Cancellation& wish, const BoundStatement& statement, bool inTransaction)
        : sink(to), cancellation(wish), bound(statement), wasInTransaction(inTransaction) {}

    void begin(const PGresult* description, const Names& names) {
        decodings.clear();
        std::vector<data::Column> columns;
        for (int i = 0; i < PQnfields(description); ++i) {
            decodings.push_back(decodingOf(PQftype(description, i)));
            data::Column column{.name = PQfname(description, i),
                                .typeName = names.typeName(PQftype(description, i), PQfmod(description, i))};
            column.type = data::typeFromName(column.typeName);
            if (column.typeName.ends_with("[]")) column.type = data::ColumnType::Text;
            const Names::Origin origin = names.origin(PQftable(description, i), PQftablecol(description, i));
            column.originSchema = origin.schema;
            column.originTable = origin.table;
            column.originColumn = origin.column;
            columns.push_back(std::move(column));
        }
        sink.columns(std::move(columns));
        builder.emplace(decodings.size());
        wanted = sink.rowsWanted();
    }

    /// False when the sink wants no more.
    bool handOver(bool isLast) {
        if (!builder || builder->rowCount() == 0) return true;
        wantsMore = sink.rows(builder->take(), isLast);
        if (auto spent = sink.spent()) builder->reuse(std::move(spent));
        wanted = isLast || !wantsMore ? wanted : sink.rowsWanted();
        return wantsMore;
    }

    void add(const PGresult* row) {
        for (std::size_t i = 0; i < decodings.size(); ++i) addValue(row, static_cast<int>(i));
        builder->endRow();
    }

    RowSink& sink;
    const base::Cancellation& cancellation;
    const BoundStatement& bound;
    const bool wasInTransaction;
    std::optional<data::ChunkBuilder> builder;  // while a result is being read
    std::vector<Decoding> decodings;
    std::size_t wanted = 0;
    bool wantsMore = true;
    std::optional<Clock::time_point> stoppedAt;
    Clock::time_point askedAt;  // when the server was last asked to stop
    std::string copyData;       // what stands behind COPY … FROM STDIN

private:
    void addValue(const PGresult* row, int column) {
        // Only what has no length can be NULL: one question less for all other values.
        const auto length = static_cast<std::size_t>(PQgetlength(row, 0, column));
        if (length == 0 && PQgetisnull(row, 0, column) != 0) return builder->addNull();
        const std::string_view text(PQgetvalue(row, 0, column), length);
        switch (decodings[static_cast<std::size_t>(column)]) {
            case Decoding::Text: return builder->addText(text);
            case Decoding::Integer: {
                std::int64_t value = 0;
                const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), value);
                if (code != std::errc() || end != text.data() + text.size()) return builder->addText(text);
                return builder->addInteger(value);
            }
            case Decoding::Boolean: return builder->addText(text == "t" ? "true" : "false");
            case Decoding::Bytes: return builder->addBinary(decodedBytes(text));
        }
    }
};

PostgresLink::PostgresLink(ConnectionHandle connection, ConnectionProfile profile)
    : connection_(std::move(connection)),
      profile_(std::move(profile)),
      cancelKey_(PQgetCancel(connection_.get()), [](PGcancel* key) { PQfreeCancel(key); }) {
    PQsetnonblocking(connection_.get(), 1);
    PQsetNoticeReceiver(connection_.get(), &PostgresLink::receiveNotice, this);
}

PostgresLink::~PostgresLink() = default;

Status PostgresLink::prepare(const base::Cancellation& cancellation) {
    if (profile_.isReadOnly) {
        if (Status done = setReadsByDefault(true, cancellation); !done) return done;
    }
    refreshState({}, cancellation);
    return isUsable() ? Status() : lostLine(connection_.get(), profile_);
}

void PostgresLink::receiveNotice(void* self, const PGresult* notice) {
    const auto* link = static_cast<PostgresLink*>(self);
    if (link->sink_ == nullptr) return;
    const auto field = [notice](int which) {
        const char* text = PQresultErrorField(notice, which);
        return std::string(text == nullptr ? "" : text);
    };
    std::string message = field(PG_DIAG_MESSAGE_PRIMARY);
    for (const int more : {PG_DIAG_MESSAGE_DETAIL, PG_DIAG_MESSAGE_HINT}) {
        if (const std::string text = field(more); !text.empty()) message += " " + text;
    }
    link->sink_->notice({field(PG_DIAG_SEVERITY), std::move(message), field(PG_DIAG_SQLSTATE)});
}

void PostgresLink::takeNotifications(RowSink& sink) {
    while (PGnotify* n = PQnotifies(connection_.get())) {
        const std::string payload = n->extra;
        sink.notice({"NOTIFY", fmt::format("{}{}{} (from session {})", n->relname, payload.empty() ? "" : ": ", payload,
                                           n->be_pid)});
        PQfreemem(n);
    }
}

void PostgresLink::readNotices(RowSink& sink) {
    if (!isUsable()) return;
    sink_ = &sink;
    takeNotifications(sink);
    sink_ = nullptr;
}

/// Asks the server in its own way, on a line of its own and a thread of its own: a server that hangs must not hold up
/// whoever stops. The thread owns what it uses and ends with the server's answer.
void PostgresLink::cancel() {
    if (!isCancelling_.exchange(true)) {
        stops_->begin();
        std::thread([key = cancelKey_, stops = stops_] {
            std::array<char, 256> message{};
            PQcancel(key.get(), message.data(), static_cast<int>(message.size()));
            stops->end();
        }).detach();
    }
    wake_.wake();
}

/// A server that is asked before it has begun the statement forgets the wish, so it is asked until it answered.
void PostgresLink::cancelAgain(Reading& reading) {
    if (Clock::now() - reading.askedAt < kAskAgain || !stops_->areNone()) return;
    reading.askedAt = Clock::now();
    isCancelling_ = false;
    cancel();
}

bool PostgresLink::isUsable() {
    if (!connection_ || PQstatus(connection_.get()) != CONNECTION_OK) return false;
    // What the server sent meanwhile, its farewell and the end of the line behind it included.
    constexpr int kMaxReads = 100;
    for (int i = 0; i < kMaxReads; ++i) {
        if (PQconsumeInput(connection_.get()) == 0 || PQstatus(connection_.get()) != CONNECTION_OK) return false;
        pollfd socket{.fd = PQsocket(connection_.get()), .events = POLLIN, .revents = 0};
        if (::poll(&socket, 1, 0) <= 0) break;
    }
    return true;
}

TransactionState PostgresLink::transaction() const {
    switch (PQtransactionStatus(connection_.get())) {
        case PQTRANS_INTRANS: return TransactionState::Open;
        case PQTRANS_INERROR: return TransactionState::Failed;
        default: return TransactionState::None;
    }
}

std::string PostgresLink::serverVersion() {
    const char* version = PQparameterStatus(connection_.get(), "server_version");
    const std::string_view text = version == nullptr ? "" : version;
    return fmt::format("PostgreSQL {}", text.substr(0, text.find(' ')));
}

std::string PostgresLink::encryption() const {
    if (PQsslInUse(connection_.get()) == 0) return {};
    const char* protocol = PQsslAttribute(connection_.get(), "protocol");
    return protocol == nullptr ? "TLS" : protocol;
}

std::string PostgresLink::remark() const { return profile_.isReadOnly ? "opened for reading only" : ""; }

Error PostgresLink::loseLine(bool wasStopped) {
    Error error = lostLine(connection_.get(), profile_);
    if (wasStopped) {
        error = stopped();
        error.hint =
            "The server did not answer in time, so the connection was closed, and with it an open transaction. Look "
            "whether "
            "the statement took effect before you run it again.";
    }
    state_.transaction = TransactionState::None;
    if (wasStopped) leaveLineBehind();
    connection_.reset();
    return error;
}

/// Gives the connection to a thread that asks the server to stop until it did. A server that waits for a lock does not
/// notice that nobody listens any more: it would carry out the statement when the lock is free.
void PostgresLink::leaveLineBehind() {
    PQsetNoticeReceiver(
        connection_.get(), [](void*, const PGresult*) {}, nullptr);
    std::thread([connection = std::move(connection_), key = cancelKey_] {
        constexpr int kMaxAsks = 300;  // a minute
        for (int i = 0; i < kMaxAsks; ++i) {
            std::array<char, 256> message{};
            PQcancel(key.get(), message.data(), static_cast<int>(message.size()));
            pollfd socket{.fd = PQsocket(connection.get()), .events = POLLIN, .revents = 0};
            ::poll(&socket, 1, static_cast<int>(kAskAgain.count()));
            if (socket.revents == 0) continue;
            if (PQconsumeInput(connection.get()) == 0 || PQisBusy(connection.get()) == 0) return;
        }
    }).detach();
}

Status PostgresLink::flush() {
    for (;;) {
        const int left = PQflush(connection_.get());
        if (left == 0) return {};
        if (left < 0) return loseLine(false);
        pollfd socket{.fd = PQsocket(connection_.get()), .events = POLLOUT | POLLIN, .revents = 0};
        ::poll(&socket, 1, kHandOverMs);
        // The server may have to get rid of something before it reads on.
        if ((socket.revents & POLLIN) != 0 && PQconsumeInput(connection_.get()) == 0) return loseLine(false);
    }
}

/// Ready when a result can be had without waiting, Idle when none came in time.
PostgresLink::Step PostgresLink::waitForResult(int milliseconds) {
    if (PQisBusy(connection_.get()) == 0) return Step::Ready;
    if (waitForInput(milliseconds) == Step::Lost) return Step::Lost;
    return PQisBusy(connection_.get()) == 0 ? Step::Ready : Step::Idle;
}

PostgresLink::Step PostgresLink::waitForInput(int milliseconds) {
    std::array<pollfd, 2> waits{pollfd{.fd = PQsocket(connection_.get()), .events = POLLIN, .revents = 0},
                                pollfd{.fd = wake_.descriptor(), .events = POLLIN, .revents = 0}};
    ::poll(waits.data(), waits.size(), milliseconds);
    if ((waits[1].revents & POLLIN) != 0) wake_.reset();
    if (waits[0].revents != 0 && PQconsumeInput(connection_.get()) == 0) return Step::Lost;
    return waits[0].revents != 0 ? Step::Ready : Step::Idle;
}

/// The next result of what was sent; nullptr when there is none.
Result<ResultHandle> PostgresLink::nextResult(Reading& reading) {
    for (;;) {
        const Step step = waitForResult(kHandOverMs);
        if (step == Step::Ready) return ResultHandle(PQgetResult(connection_.get()));
        const bool isStopped = reading.cancellation.isRequested();
        if (step == Step::Lost) return loseLine(false);
        if (isStopped) {
            if (!reading.stoppedAt) {
                reading.stoppedAt = Clock::now();
                reading.askedAt = *reading.stoppedAt;
                cancel();  // it may have been asked for before this statement was sent
            }
            cancelAgain(reading);
            if (Clock::now() - *reading.stoppedAt > kStopTimeout) return loseLine(true);
        }
        // Our own questions have a sink that keeps nothing; what came meanwhile waits for somebody's.
        if (sink_ != nullptr) takeNotifications(*sink_);
        if (reading.wantsMore && reading.sink.isHandOverDue()) reading.handOver(false);
    }
}

Status PostgresLink::send(const BoundStatement& bound, const std::vector<std::optional<std::string>>& values) {
    std::vector<const char*> texts;
    for (const auto& value : values) texts.push_back(value ? value->c_str() : nullptr);
    stops_->wait();
    const int sent = PQsendQueryParams(connection_.get(), bound.text().c_str(), static_cast<int>(texts.size()), nullptr,
                                       texts.data(), nullptr, nullptr, 0);
    if (sent == 0) return loseLine(false);
    PQsetSingleRowMode(connection_.get());
    return flush();
}

Result<ResultHandle> PostgresLink::ask(const std::string& query, const base::Cancellation& cancellation) {
    DiscardingSink sink;
    const BoundStatement bound;
    Reading reading(sink, cancellation, bound, false);
    stops_->wait();
    if (PQsendQuery(connection_.get(), query.c_str()) == 0) return loseLine(false);
    if (Status status = flush(); !status) return status.error();
    ResultHandle last;
    std::optional<Error> error;
    for (;;) {
        auto result = nextResult(reading);
        if (!result) return result.error();
        if (*result == nullptr) break;
        if (isCopy(result->get())) return loseLine(false);  // nobody asked for it, and it has no end
        if (PQresultStatus(result->get()) == PGRES_FATAL_ERROR) error = errorOf(result->get(), query, profile_);
        last = std::move(*result);
    }
    if (error && reading.stoppedAt) return stopped();
    if (error) return *error;
    return last;
}

/// What the statement's columns will be; nullptr when the server cannot say.
Result<ResultHandle> PostgresLink::describeOne(const std::string& text, const base::Cancellation& cancellation) {
    DiscardingSink sink;
    const BoundStatement bound;
    Reading reading(sink, cancellation, bound, false);
    PGconn* c = connection_.get();
    stops_->wait();
    if (PQenterPipelineMode(c) == 0) return ResultHandle();
    const bool isSent = PQsendPrepare(c, "", text.c_str(), 0, nullptr) != 0 && PQsendDescribePrepared(c, "") != 0 &&
                        PQpipelineSync(c) != 0;
    if (!isSent) return loseLine(false);
    if (Status status = flush(); !status) return status.error();
    ResultHandle description;
    std::optional<Error> error;
    int nothing = 0;
    for (bool isOver = false; !isOver;) {
        auto result = nextResult(reading);
        if (!result) return result.error();
        if (*result == nullptr) {
            // One stands between two results of a pipeline; after several nothing more will come.
            constexpr int kMaxInARow = 3;
            if (++nothing > kMaxInARow || PQstatus(c) != CONNECTION_OK) return loseLine(false);
            continue;
        }
        nothing = 0;
        if (isCopy(result->get())) return loseLine(false);
        switch (PQresultStatus(result->get())) {
            case PGRES_PIPELINE_SYNC: isOver = true; break;
            case PGRES_FATAL_ERROR: error = errorOf(result->get(), text, profile_); break;
            case PGRES_COMMAND_OK: description = std::move(*result); break;
            default: break;
        }
    }
    PQexitPipelineMode(c);
    if (error && reading.stoppedAt) return stopped();
    if (error) return *error;
    return description;
}

/// Learns the names of the columns to come.
Status PostgresLink::describe(const std::string& text, const base::Cancellation& cancellation) {
    auto description = describeOne(text, cancellation);
    if (!description) return description.error();
    if (*description == nullptr || PQnfields(description->get()) == 0) return {};
    const std::string query = names_.queryFor(description->get());
    if (query.empty()) return {};
    auto rows = ask(query, cancellation);
    if (rows) names_.learn(rows->get());
    return rows || connection_ ? Status() : Status(rows.error());  // without names the statement can run as well
}

/// The parse step of the extended protocol names tables, columns and functions; of statements that define something it
/// reads no more than the words.
Result<bool> PostgresLink::check(const sql::Statement& asked, const base::Cancellation& cancellation) {
    if (!isUsable()) return loseLine(false);
    const sql::Statement statement = asked.readAs(languageOf(Engine::Postgres, state_));
    const auto& tokens = statement.tokens();
    const bool hasData = !tokens.empty() && tokens.back().kind == sql::TokenKind::CopyData;
    const std::string_view text(statement.text());
    int place = 0;
    auto bound = BoundStatement::make(hasData ? text.substr(0, tokens.back().start) : text, sql::Dialect::Postgres,
                                      anyValues(statement),
                                      [&](const std::string&, const auto&) { return fmt::format("${}", ++place); });
    if (!bound) return bound.error();
    auto described = describeOne(bound->text(), cancellation);
    if (!described) {
        Error error = described.error();
        if (error.byteOffset) error.byteOffset = bound->originOf(*error.byteOffset);
        return error;
    }
    return statement.effect() != sql::StatementEffect::Defines;
}

Result<StatementResult> PostgresLink::run(const sql::Statement& asked, RowSink& sink,
                                          const base::Cancellation& cancellation) {
    if (!isUsable()) return loseLine(false);
    const sql::Statement read = asked.readAs(languageOf(Engine::Postgres, state_));
    const std::string_view statement = read.text();
    if (const std::size_t zero = statement.find('\0'); zero != std::string_view::npos) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = "The statement holds a zero byte, which PostgreSQL cannot take.",
                     .hint = "Take it out, or write the value as bytea.",
                     .byteOffset = zero};
    }
    isCancelling_ = false;
    wake_.reset();
    const auto& tokens = read.tokens();
    // The data behind COPY … FROM STDIN are no part of what is sent as a statement.
    std::string_view command = statement;
    std::string data;
    if (!tokens.empty() && tokens.back().kind == sql::TokenKind::CopyData) {
        command = statement.substr(0, tokens.back().start);
        data = tokens.back().textIn(statement);
    }
    std::vector<std::optional<std::string>> values;
    auto bound = BoundStatement::make(command, sql::Dialect::Postgres, asked.parameters(),
                                      [&](const std::string&, const std::optional<std::string>& value) {
                                          values.push_back(value);
                                          return fmt::format("${}", values.size());
                                      });
    if (!bound) return bound.error();
    sink_ = &sink;
    Reading reading(sink, cancellation, *bound, transaction() == TransactionState::Open);
    reading.copyData = std::move(data);
    StatementResult out;
    const sql::StatementKind kind = read.kind();
    Status status;
    if (mayReturnRows(kind)) status = describe(bound->text(), cancellation);
    if (status && cancellation.isRequested()) status = stopped();  // what was not sent need not be stopped
    if (status) status = send(*bound, values);
    if (status) status = readResults(reading, out);
    if (connection_) takeNotifications(sink);
    sink_ = nullptr;
    if (connection_) {
        if (sql::effectOf(kind) == sql::StatementEffect::Defines) names_.forget();
        if (status && kind == sql::StatementKind::Create && makesTemporaryTable(tokens))
            state_.hasTemporaryTables = true;
        state_.transaction = transaction();
        refreshState(read, cancellation);
    }
    if (!status) {
        Error error = status.error();
        if (error.byteOffset) error.byteOffset = bound->originOf(*error.byteOffset);
        return error;
    }
    return out;
}

Status PostgresLink::takeRow(Reading& reading, const PGresult* row) {
    if (!reading.builder) reading.begin(row, names_);
    reading.add(row);
    const data::ChunkBuilder& builder = *reading.builder;
    const bool isDue = builder.isFull() || builder.rowCount() >= reading.wanted ||
                       (builder.rowCount() % 64 == 0 && reading.sink.isHandOverDue());
    if (isDue) reading.handOver(false);
    return {};
}

Status PostgresLink::readResults(Reading& reading, StatementResult& out) {
    std::optional<Error> error;
    for (;;) {
        auto result = nextResult(reading);
        if (!result) {
            reading.handOver(true);  // rows that came before the connection broke stay
            return result.error();
        }
        const PGresult* r = result->get();
        if (r == nullptr) break;
        switch (PQresultStatus(r)) {
            case PGRES_SINGLE_TUPLE:
                out.hasRows = true;
                if (reading.wantsMore) (void)takeRow(reading, r);
                if (!reading.wantsMore && out.isComplete) {
                    out.isComplete = false;
                    if (Status status = discardRest(reading); !status) return status;
                }
                break;
            case PGRES_TUPLES_OK:
                out.hasRows = true;
                if (!reading.builder && reading.wantsMore) reading.begin(r, names_);
                if (reading.wantsMore) reading.handOver(true);
                reading.builder.reset();
                [[fallthrough]];
            case PGRES_COMMAND_OK: {
                const std::string count = PQcmdTuples(const_cast<PGresult*>(r));
                const std::string_view verb = PQcmdStatus(const_cast<PGresult*>(r));
                const bool changes = !count.empty() && !verb.starts_with("SELECT") && !verb.starts_with("FETCH");
                if (changes) out.affectedRows = out.affectedRows.value_or(0) + std::stoll(count);
                break;
            }
            case PGRES_COPY_OUT:
                if (Status status = copyOut(reading, out); !status) return status;
                break;
            case PGRES_COPY_IN:
                if (Status status = copyIn(reading); !status) return status;
                break;
            case PGRES_COPY_BOTH: {  // a stream of changes, which has no end and no rows
                cancel();
                Error lost = loseLine(false);
                lost.kind = ErrorKind::Statement;
                lost.message = "The statement begins replication, which this program cannot take part in.";
                return lost;
            }
            case PGRES_FATAL_ERROR:
                reading.handOver(true);
                if (!error) error = errorOf(r, reading.bound.text(), profile_);
                break;
            default: break;
        }
    }
    if (!error) return {};
    const bool wasStopped = error->code == "57014" && reading.cancellation.isRequested();
    if (wasStopped) return stopped();
    if (!reading.wantsMore && error->code == "57014") return {};  // we stopped it ourselves: nobody wanted the rest
    if (endsConnection(error->kind)) connection_.reset();
    return *error;
}

/// Nobody wants the rows that are still to come. Stopping the statement would break an open transaction, so there they
/// are read and thrown away.
Status PostgresLink::discardRest(Reading& reading) {
    if (!reading.wasInTransaction) cancel();
    return {};
}

/// COPY … TO STDOUT: each line a row.
Status PostgresLink::copyOut(Reading& reading, StatementResult& out) {
    out.hasRows = true;
    reading.sink.columns({{.name = "line", .typeName = "text", .type = data::ColumnType::Text}});
    reading.builder.emplace(1);
    reading.wanted = reading.sink.rowsWanted();
    for (;;) {
        char* line = nullptr;
        const int length = PQgetCopyData(connection_.get(), &line, 1);
        if (length == 0) {
            if (waitForInput(kHandOverMs) == Step::Lost) {
                reading.handOver(true);
                return loseLine(false);
            }
            if (reading.cancellation.isRequested() && !reading.stoppedAt) {
                reading.stoppedAt = Clock::now();
                reading.askedAt = *reading.stoppedAt;
                cancel();
            }
            if (reading.stoppedAt) cancelAgain(reading);
            if (reading.stoppedAt && Clock::now() - *reading.stoppedAt > kStopTimeout) return loseLine(true);
            continue;
        }
        if (length < 0) break;
        std::string_view text(line, static_cast<std::size_t>(length));
        if (text.ends_with('\n')) text.remove_suffix(1);
        if (reading.wantsMore) {
            reading.builder->addText(text);
            reading.builder->endRow();
            if (reading.builder->isFull() || reading.builder->rowCount() >= reading.wanted) {
                if (!reading.handOver(false)) {
                    out.isComplete = false;
                    (void)discardRest(reading);
                }
            }
        }
        PQfreemem(line);
    }
    if (reading.wantsMore) reading.handOver(true);
    reading.builder.reset();
    return {};
}

/// COPY … FROM STDIN: the lines that stand behind it, up to \.
Status PostgresLink::copyIn(Reading& reading) {
    std::string_view data = reading.copyData;
    const std::size_t first = data.find('\n');
    data = first == std::string_view::npos ? std::string_view() : data.substr(first + 1);
    const std::size_t end = data.rfind("\\.");
    const bool isClosed = end != std::string_view::npos && (end == 0 || data[end - 1] == '\n');
    if (!isClosed) {
        PQputCopyEnd(connection_.get(), "the data have no end");
        return flush();
    }
    data = data.substr(0, end);
    constexpr std::size_t kPiece = 64 * 1024;
    while (!data.empty()) {
        if (reading.cancellation.isRequested()) {
            PQputCopyEnd(connection_.get(), "stopped");
            reading.stoppedAt = Clock::now();
            return flush();
        }
        const std::string_view piece = data.substr(0, kPiece);
        const int put = PQputCopyData(connection_.get(), piece.data(), static_cast<int>(piece.size()));
        if (put < 0) return loseLine(false);
        if (Status status = flush(); !status) return status;
        if (put > 0) data.remove_prefix(piece.size());
    }
    PQputCopyEnd(connection_.get(), nullptr);
    return flush();
}

/// Asks what holds on the connection after a statement that may have changed it.
void PostgresLink::refreshState(const sql::Statement& statement, const base::Cancellation& cancellation) {
    if (!connection_ || transaction() == TransactionState::Failed || cancellation.isRequested()) return;
    const auto effect = statement.effect();
    const bool mayChange = effect == sql::StatementEffect::Configures || effect == sql::StatementEffect::Transacts ||
                           effect == sql::StatementEffect::Unknown;
    if (!mayChange) return;
    if (transaction() == TransactionState::Open) {
        // A query would take the transaction's snapshot, and what sets it up must come before: SHOW takes none.
        if (auto level = ask("SHOW transaction_isolation", cancellation); level && PQntuples(level->get()) == 1)
            state_.isolation = PQgetvalue(level->get(), 0, 0);
        const auto kind = statement.kind();
        if (kind == sql::StatementKind::Begin || kind == sql::StatementKind::Set) {
            state_.transaction = transaction();
            return;
        }
    }
    auto rows =
        ask("SELECT pg_catalog.current_database(), pg_catalog.current_schema(), CURRENT_USER, "
            "pg_catalog.current_setting('transaction_isolation'), pg_catalog.current_setting('transaction_read_only'), "
            "(SELECT setting FROM pg_catalog.pg_settings WHERE name = 'statement_timeout'), "
            "EXISTS (SELECT 1 FROM pg_catalog.pg_listening_channels()), SESSION_USER",
            cancellation);
    if (!rows || PQntuples(rows->get()) != 1) return;  // a server that is only related: what is known stays
    const auto value = [&](int column) { return std::string(PQgetvalue(rows->get(), 0, column)); };
    state_.database = value(0);
    state_.schema = value(1);
    state_.user = value(7);
    state_.role = value(2) == value(7) ? std::string() : value(2);
    state_.isolation = value(3);
    if (!hasSavepoint_ && !isReopened_) state_.isReadOnly = value(4) == "on" && !isLocked_;
    state_.statementLimit = std::chrono::milliseconds(std::atoll(value(5).c_str()));
    state_.isListening = value(6) == "t";
    state_.transaction = transaction();
}

int PostgresLink::versionNumber() const { return PQserverVersion(connection_.get()); }

/// How texts are read is reported by the server with every answer, whoever changed it.
ConnectionState PostgresLink::state() const {
    ConnectionState state = state_;
    if (!connection_) return state;
    const char* conforming = PQparameterStatus(connection_.get(), "standard_conforming_strings");
    const bool escapes = conforming != nullptr && std::string_view(conforming) == "off";
    state.backslash = escapes ? sql::Backslash::Escapes : sql::Backslash::AsDialect;
    state.isLocked = isLocked_;
    return state;
}

Result<std::vector<TextRow>> PostgresLink::askRows(const std::string& query, const base::Cancellation& cancellation) {
    auto result = ask(query, cancellation);
    if (!result) return result.error();
    std::vector<TextRow> rows;
    for (int i = 0; i < PQntuples(result->get()); ++i) {
        TextRow& row = rows.emplace_back();
        for (int c = 0; c < PQnfields(result->get()); ++c) {
            const bool isNull = PQgetisnull(result->get(), i, c) != 0;
            row.push_back(isNull ? std::nullopt : std::optional<std::string>(PQgetvalue(result->get(), i, c)));
        }
    }
    return rows;
}

Result<catalog::CatalogPtr> PostgresLink::loadCatalog(const catalog::Request& request,
                                                      const base::Cancellation& cancellation) {
    if (!isUsable()) return loseLine(false);
    isCancelling_ = false;
    return postgres::loadCatalog(*this, serverVersion(), request, cancellation);
}

Result<catalog::Definition> PostgresLink::definition(const catalog::ObjectName& object,
                                                     const base::Cancellation& cancellation) {
    if (!isUsable()) return loseLine(false);
    isCancelling_ = false;
    return readDefinition(*this, object, cancellation);
}

}  // namespace pantry::db::postgres
