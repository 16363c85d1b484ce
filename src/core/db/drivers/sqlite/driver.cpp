#include "core/db/drivers/sqlite/driver.h"
#include "core/db/parameters.h"

#include <sqlite3.h>

#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <charconv>
#include <cstdint>
#include <filesystem>
#include <set>

#include "core/base/text.h"
#include "core/base/time.h"
#include "core/db/connecting.h"
#include "core/db/drivers/sqlite/catalog.h"
#include "core/db/drivers/sqlite/handle.h"
#include "core/sql/meaning/parameters.h"
#include "core/sql/syntax/splitter.h"
#include "core/sql/text/lexer.h"

namespace pantry::db {
namespace {

namespace fs = std::filesystem;
using sqlite::DatabaseHandle;
using sqlite::StatementHandle;

constexpr int kStepsBetweenChecks = 20'000;  // virtual-machine steps, some fraction of a millisecond
constexpr int kDefaultBusyWaitMs = 5000;
constexpr int kBusyStepMs = 20;

/// Lets a cancellation reach the engine while it computes: an interrupt that comes between two steps is lost.
class ProgressWatch {
public:
    ProgressWatch(sqlite3* db, const base::Cancellation& cancellation) : db_(db), cancellation_(cancellation) {
        sqlite3_progress_handler(db_, kStepsBetweenChecks, &ProgressWatch::check, this);
    }
    ~ProgressWatch() { sqlite3_progress_handler(db_, 0, nullptr, nullptr); }
    ProgressWatch(const ProgressWatch&) = delete;
    ProgressWatch& operator=(const ProgressWatch&) = delete;

private:
    static int check(void* self) { return static_cast<ProgressWatch*>(self)->cancellation_.isRequested() ? 1 : 0; }

    sqlite3* db_;
    const base::Cancellation& cancellation_;
};

int busyWaitOf(const ConnectionProfile& profile) {
    const auto found = profile.options.find("busy_wait_ms");
    int wait = kDefaultBusyWaitMs;
    if (found == profile.options.end()) return wait;
    std::from_chars(found->second.data(), found->second.data() + found->second.size(), wait);
    return wait;
}

/// 20 or -3; nothing for what a number would not be written as again.
std::optional<std::int64_t> wholeNumber(std::string_view text) {
    std::int64_t number = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), number);
    const bool isAll = error == std::errc() && end == text.data() + text.size();
    return isAll && std::to_string(number) == text ? std::optional(number) : std::nullopt;
}

/// 2.5; not 2.50, .5 or 1e3, nor more digits than a double surely keeps.
std::optional<double> plainDecimal(std::string_view text) {
    constexpr std::size_t kSureDigits = 15;
    const std::size_t dot = text.find('.');
    if (dot == std::string_view::npos || text.size() > kSureDigits || text.ends_with('0')) return std::nullopt;
    const bool isZero = text.substr(0, dot) == "0" || text.substr(0, dot) == "-0";
    const bool isPlain = (isZero || wholeNumber(text.substr(0, dot))) && dot + 1 < text.size() &&
                         std::ranges::all_of(text.substr(dot + 1), base::isAsciiDigit);
    if (!isPlain) return std::nullopt;
    double number = 0;
    std::from_chars(text.data(), text.data() + text.size(), number);
    return number;
}

class SqliteLink final : public EngineConnection {
public:
    SqliteLink(DatabaseHandle db, const ConnectionProfile& profile)
        : db_(std::move(db)),
          isReadOnly_(sqlite3_db_readonly(db_.get(), "main") == 1),
          busyWaitMs_(busyWaitOf(profile)),
          wantsReading_(profile.isReadOnly) {
        setQueryOnly(wantsReading_);
        sqlite3_extended_result_codes(db_.get(), 1);
        sqlite3_busy_handler(db_.get(), &SqliteLink::waitWhileBusy, this);
    }

    Result<StatementResult> run(const sql::Statement& asked, RowSink& sink,
                                const base::Cancellation& cancellation) override {
        running_ = &cancellation;
        const ProgressWatch watch(db_.get(), cancellation);
        auto result = runPrepared(asked.readAs(sql::Dialect::Sqlite), sink, cancellation);
        running_ = nullptr;
        return result;
    }

    Result<bool> check(const sql::Statement& asked, const base::Cancellation& /*cancellation*/) override {
        const sql::Statement statement = asked.readAs(sql::Dialect::Sqlite);
        int place = 0;
        auto bound = BoundStatement::make(statement.text(), sql::Dialect::Sqlite, anyValues(statement),
                                          [&](const std::string&, const auto&) { return fmt::format("?{}", ++place); });
        if (!bound) return bound.error();
        auto prepared = sqlite::prepare(db_.get(), bound->text());
        if (prepared) return true;
        Error error = prepared.error();
        if (error.byteOffset) error.byteOffset = bound->originOf(*error.byteOffset);
        return error;
    }

    void cancel() override { sqlite3_interrupt(db_.get()); }

    bool isUsable() override { return true; }

    sql::Dialect dialect() const override { return sql::Dialect::Sqlite; }

    /// PRAGMA query_only for the engine's own part, and each statement is asked whether it reads before its first step.
    Status enter(Access access, const base::Cancellation& /*cancellation*/) override {
        access_ = access;
        const bool reads = access == Access::Reading || (access == Access::AsIs && wantsReading_);
        if (reads != isQueryOnly_) setQueryOnly(reads);
        return {};
    }
    void leave(const base::Cancellation& /*cancellation*/) override { access_ = Access::AsIs; }

    ConnectionState state() const override {
        return {
            .database = "main",
            .isReadOnly = isReadOnly_ || wantsReading_,
            .isLocked = isQueryOnly_ && !wantsReading_,
            .transaction = sqlite3_get_autocommit(db_.get()) == 0 ? TransactionState::Open : TransactionState::None};
    }

    Result<catalog::CatalogPtr> loadCatalog(const catalog::Request& request,
                                            const base::Cancellation& cancellation) override {
        running_ = &cancellation;
        const ProgressWatch watch(db_.get(), cancellation);
        auto catalog = sqlite::loadCatalog(db_.get(), serverVersion(), request, cancellation);
        running_ = nullptr;
        return catalog;
    }

    Result<catalog::Definition> definition(const catalog::ObjectName& object, const base::Cancellation&) override {
        return sqlite::readDefinition(db_.get(), object);
    }

    Result<catalog::ObjectDetails> details(const catalog::ObjectName& object, const base::Cancellation&) override {
        return sqlite::readDetails(db_.get(), object);
    }

    Result<std::vector<catalog::SourceText>> sources(const std::vector<std::string>& schemas,
                                                     const base::Cancellation&) override {
        return sqlite::readSources(db_.get(), schemas);
    }

    std::string serverVersion() override {
        const std::string_view version = sqlite3_libversion();
        return fmt::format("SQLite {}", version.substr(0, version.rfind('.')));
    }

    std::string remark() const override { return isReadOnly_ || wantsReading_ ? "opened for reading only" : ""; }

private:
    static int waitWhileBusy(void* self, int count) {
        const auto* link = static_cast<SqliteLink*>(self);
        const bool isStopped = link->running_ != nullptr && link->running_->isRequested();
        if (isStopped || count * kBusyStepMs >= link->busyWaitMs_) return 0;
        sqlite3_sleep(kBusyStepMs);
        return 1;
    }

    Result<StatementResult> runPrepared(const sql::Statement& asked, RowSink& sink,
                                        const base::Cancellation& cancellation) {
        const std::string& text = asked.text();
        if (const std::size_t zero = text.find('\0'); zero != std::string::npos) {
            return Error{.kind = ErrorKind::InvalidInput,
                         .message = "The statement holds a zero byte, behind which SQLite would not read on.",
                         .hint = "Take it out, or write the value as x'00'.",
                         .byteOffset = zero};
        }
        // Every parameter must have a value: the engine would take a missing one for NULL and say nothing.
        const std::set<std::string> besideTexts =
            asked.parameters().empty() ? std::set<std::string>() : sql::comparedWithTexts(text, asked.tree());
        std::vector<Value> values;
        auto bound = BoundStatement::make(text, sql::Dialect::Sqlite, asked.parameters(),
                                          [&](const std::string& name, const std::optional<std::string>& value) {
                                              values.push_back({value, besideTexts.contains(name)});
                                              return fmt::format("?{}", values.size());
                                          });
        if (!bound) return bound.error();
        auto statement = sqlite::prepare(db_.get(), bound->text());
        if (!statement) {
            Error error = statement.error();
            if (error.byteOffset) error.byteOffset = bound->originOf(*error.byteOffset);
            return cancellation.isRequested() ? stopped() : error;
        }
        StatementResult result;
        if (*statement == nullptr) return result;  // only comments
        const bool isPragma = asked.kind() == sql::StatementKind::Pragma;
        if (access_ == Access::Reading && !isPragma && sqlite3_stmt_readonly(statement->get()) == 0) return refusal();
        bind(statement->get(), values);
        const auto changesBefore = sqlite3_total_changes64(db_.get());
        const int columnCount = sqlite3_column_count(statement->get());
        result.hasRows = columnCount > 0;
        if (result.hasRows) sink.columns(describe(statement->get(), columnCount));
        auto read = readRows(statement->get(), columnCount, sink, cancellation);
        if (isPragma && access_ != Access::Reading) noteQueryOnly();
        if (!read && isQueryOnly_ && (sqlite3_errcode(db_.get()) & 0xff) == SQLITE_READONLY) return refusal();
        if (!read) return read.error();
        result.isComplete = *read;
        if (sqlite3_stmt_readonly(statement->get()) == 0 && asked.effect() == sql::StatementEffect::Writes) {
            if (asked.kind() == sql::StatementKind::Insert) {
                result.generatedKey = std::to_string(sqlite3_last_insert_rowid(db_.get()));
            }
            // Rows that triggers changed are left out: nobody who writes UPDATE expects to see them counted.
            result.affectedRows =
                sqlite3_total_changes64(db_.get()) == changesBefore ? 0 : sqlite3_changes64(db_.get());
        }
        return result;
    }

    [[nodiscard]] Error refusal() const {
        if (isReadOnly_) {
            return {.kind = ErrorKind::Permission,
                    .message = "The database cannot be written: file or folder are read-only.",
                    .hint = "Ask for the right to write, or work on a copy."};
        }
        return {.kind = ErrorKind::ReadOnly,
                .message = "SQLite says that the statement writes, and this connection only reads.",
                .hint = "Open the connection for writing if that is meant."};
    }

    void setQueryOnly(bool isOn) {
        sqlite3_exec(db_.get(), isOn ? "PRAGMA query_only = ON" : "PRAGMA query_only = OFF", nullptr, nullptr, nullptr);
        isQueryOnly_ = isOn;
    }

    /// A PRAGMA that somebody ran may have changed it.
    void noteQueryOnly() {
        auto statement = sqlite::prepare(db_.get(), "PRAGMA query_only");
        if (!statement || sqlite3_step(statement->get()) != SQLITE_ROW) return;
        isQueryOnly_ = wantsReading_ = sqlite3_column_int(statement->get(), 0) != 0;
    }

    struct Value {
        std::optional<std::string> text;
        bool isBesideText = false;
    };
    /// Values come as texts. What reads as a number is bound as one, since beside an expression, which has no affinity,
    /// '20' would be more than every number; beside a column of texts SQLite makes the same text of it again. Only what
    /// is written as SQLite itself would write it, so that 007 and 2.50 stay what they are, and not what is compared
    /// with an expression that makes a text. (Datatypes In SQLite, 3.2 and 4.2.)
    static void bind(sqlite3_stmt* statement, const std::vector<Value>& values) {
        int place = 0;
        for (const auto& [text, isBesideText] : values) {
            ++place;
            const auto whole = text && !isBesideText ? wholeNumber(*text) : std::nullopt;
            const auto decimal = text && !isBesideText ? plainDecimal(*text) : std::nullopt;
            if (!text) {
                sqlite3_bind_null(statement, place);
            } else if (whole) {
                sqlite3_bind_int64(statement, place, *whole);
            } else if (decimal) {
                sqlite3_bind_double(statement, place, *decimal);
            } else {
                sqlite3_bind_text64(statement, place, text->data(), text->size(), SQLITE_TRANSIENT, SQLITE_UTF8);
            }
        }
    }

    static std::vector<data::Column> describe(sqlite3_stmt* statement, int count) {
        std::vector<data::Column> columns;
        const auto orEmpty = [](const char* text) { return std::string(text == nullptr ? "" : text); };
        for (int i = 0; i < count; ++i) {
            data::Column column;
            column.name = orEmpty(sqlite3_column_name(statement, i));
            column.typeName = base::toLower(orEmpty(sqlite3_column_decltype(statement, i)));
            column.type = data::typeFromName(column.typeName);
            column.originSchema = orEmpty(sqlite3_column_database_name(statement, i));
            column.originTable = orEmpty(sqlite3_column_table_name(statement, i));
            column.originColumn = orEmpty(sqlite3_column_origin_name(statement, i));
            columns.push_back(std::move(column));
        }
        return columns;
    }

    /// True when all rows were read, false when the sink wanted no more. Looks one row ahead, so that a result
    /// that ends with its page is known to be whole.
    Result<bool> readRows(sqlite3_stmt* statement, int columnCount, RowSink& sink,
                          const base::Cancellation& cancellation) {
        data::ChunkBuilder builder(static_cast<std::size_t>(columnCount));
        std::size_t wanted = sink.rowsWanted();  // asked once a hand-over: it takes a lock
        int code = sqlite3_step(statement);
        while (code == SQLITE_ROW && !cancellation.isRequested()) {
            for (int i = 0; i < columnCount; ++i) addValue(builder, statement, i);
            builder.endRow();
            code = sqlite3_step(statement);
            const bool isDue = builder.isFull() || builder.rowCount() >= wanted ||
                               (builder.rowCount() % 64 == 0 && sink.isHandOverDue());
            if (!isDue || code != SQLITE_ROW) continue;
            if (!sink.rows(builder.take(), false)) return false;
            if (auto spent = sink.spent()) builder.reuse(std::move(spent));
            wanted = sink.rowsWanted();
        }
        const bool isWhole = code == SQLITE_DONE;
        // Taken before handing on: that may wait, and the engine's message must still be this one.
        const Error error = isWhole || cancellation.isRequested() ? stopped() : sqlite::errorOf(db_.get(), code);
        if (builder.rowCount() > 0) sink.rows(builder.take(), true);  // rows that came before an error are kept
        if (isWhole) return true;
        return error;
    }

    static void addValue(data::ChunkBuilder& builder, sqlite3_stmt* statement, int column) {
        switch (sqlite3_column_type(statement, column)) {
            case SQLITE_INTEGER: return builder.addInteger(sqlite3_column_int64(statement, column));
            case SQLITE_FLOAT: return builder.addReal(sqlite3_column_double(statement, column));
            case SQLITE_TEXT: {
                const auto* text = reinterpret_cast<const char*>(sqlite3_column_text(statement, column));
                return builder.addText({text, static_cast<std::size_t>(sqlite3_column_bytes(statement, column))});
            }
            case SQLITE_BLOB: {
                const auto* bytes = static_cast<const char*>(sqlite3_column_blob(statement, column));
                return builder.addBinary({bytes, static_cast<std::size_t>(sqlite3_column_bytes(statement, column))});
            }
            default: return builder.addNull();
        }
    }

    DatabaseHandle db_;
    bool isReadOnly_;  // the file itself
    int busyWaitMs_;
    Access access_ = Access::AsIs;
    bool isQueryOnly_ = false;  // as the engine has it now
    bool wantsReading_;         // somebody chose it, for the connection or with the PRAGMA
    const base::Cancellation* running_ = nullptr;
};

Error noSuchFile(const std::string& path) {
    return {.kind = ErrorKind::NotFound,
            .message = fmt::format("There is no file {}.", path),
            .hint = "Check the path; a database that was moved needs its new one."};
}

Status checkFile(const std::string& path) {
    std::error_code code;
    if (path.empty()) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = "The connection names no file.",
                     .hint = "Choose the database file."};
    }
    if (path == ":memory:") return {};
    if (fs::is_directory(path, code)) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = fmt::format("{} is a folder, not a database file.", path),
                     .hint = "Choose a file in it."};
    }
    if (!fs::exists(path, code)) return noSuchFile(path);
    if (::access(path.c_str(), R_OK) != 0) {
        return Error{.kind = ErrorKind::Permission,
                     .message = fmt::format("The file {} may not be read.", path),
                     .hint = "Ask its owner for the right to read it."};
    }
    return {};
}

Result<DatabaseHandle> openFile(const ConnectionProfile& profile) {
    const bool canWrite = ::access(profile.database.c_str(), W_OK) == 0;
    const bool isMemory = profile.database == ":memory:";
    // One thread at a time works a link, and only sqlite3_interrupt() comes from others, which needs no lock: the locks
    // around each look at a value would cost a quarter of the time.
    const int flags = (canWrite || isMemory ? SQLITE_OPEN_READWRITE : SQLITE_OPEN_READONLY) | SQLITE_OPEN_NOMUTEX;
    sqlite3* raw = nullptr;
    const int code =
        sqlite3_open_v2(profile.database.c_str(), &raw, isMemory ? flags | SQLITE_OPEN_CREATE : flags, nullptr);
    DatabaseHandle db(raw);
    if (code != SQLITE_OK) return sqlite::errorOf(raw, code);
    return db;
}

/// The engine looks into the file only when it must: read the first page, and know that it is a database.
Status probe(sqlite3* db, const std::string& path) {
    auto statement = sqlite::prepare(db, "SELECT count(*) FROM sqlite_schema");
    if (statement && sqlite3_step(statement->get()) == SQLITE_ROW) return {};
    Error error = statement ? sqlite::errorOf(db, sqlite3_errcode(db)) : statement.error();
    if (error.kind == ErrorKind::Damaged) error.message = fmt::format("{} is not an SQLite database.", path);
    return error;
}

}  // namespace

Result<std::unique_ptr<EngineConnection>> SqliteDriver::open(const ConnectionProfile& profile,
                                                             const std::optional<std::string>&,
                                                             const base::Cancellation& cancellation) const {
    if (Status status = checkFile(profile.database); !status) return status.error();
    auto db = openFile(profile);
    if (!db) return db.error();
    sqlite3_busy_timeout(db->get(), busyWaitOf(profile));
    if (Status status = probe(db->get(), profile.database); !status) return status.error();
    std::unique_ptr<EngineConnection> link = std::make_unique<SqliteLink>(std::move(*db), profile);
    if (Status status = runOnConnect(*link, profile, cancellation); !status) return status.error();
    return link;
}

std::vector<TestStage> SqliteDriver::test(const ConnectionProfile& profile, const std::optional<std::string>&,
                                          const base::Cancellation& cancellation) const {
    TestStages stages;
    if (!stages.tryOne("Found the file", [&] { return checkFile(profile.database); })) return stages.take();
    DatabaseHandle db;
    const bool isOpen = stages.tryOne("Opened it as an SQLite database", [&]() -> Status {
        auto opened = openFile(profile);
        if (!opened) return opened.error();
        db = std::move(*opened);
        return probe(db.get(), profile.database);
    });
    if (!isOpen) return stages.take();
    const bool isReadOnly = profile.isReadOnly || sqlite3_db_readonly(db.get(), "main") == 1;
    stages.tryOne(isReadOnly ? "It can be read, not written" : "It can be read and written", [] { return Status(); });
    SqliteLink link(std::move(db), profile);
    stages.finishWith(link, profile, cancellation);
    return stages.take();
}

}  // namespace pantry::db
