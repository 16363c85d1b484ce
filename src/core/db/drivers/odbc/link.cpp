#include "core/db/drivers/odbc/link.h"

#include <sql.h>
#include <sqlext.h>

#include <fmt/format.h>

#include <algorithm>
#include <charconv>

#include "core/base/joined.h"
#include "core/base/mutex.h"
#include "core/base/text.h"
#include "core/db/connecting.h"
#include "core/db/parameters.h"
#include "core/sql/meaning/plain_reading.h"
#include "core/sql/syntax/statement_kind.h"
#include "core/sql/text/lexer.h"

namespace pantry::db::odbc {
namespace {

constexpr sql::Dialect kDialect = sql::Dialect::Ansi;

/// How a column's values are read.
enum class Reading { Integer, Text, Binary };

Reading readingOf(SQLSMALLINT type) {
    switch (type) {
        case SQL_TINYINT:
        case SQL_SMALLINT:
        case SQL_INTEGER:
        case SQL_BIGINT: return Reading::Integer;
        case SQL_BINARY:
        case SQL_VARBINARY:
        case SQL_LONGVARBINARY: return Reading::Binary;
        default: return Reading::Text;
    }
}

data::ColumnType columnType(SQLSMALLINT type, std::string_view typeName) {
    switch (type) {
        case SQL_TINYINT:
        case SQL_SMALLINT:
        case SQL_INTEGER:
        case SQL_BIGINT: return data::ColumnType::Integer;
        case SQL_REAL:
        case SQL_FLOAT:
        case SQL_DOUBLE: return data::ColumnType::Real;
        case SQL_DECIMAL:
        case SQL_NUMERIC: return data::ColumnType::Decimal;
        case SQL_BIT: return data::ColumnType::Boolean;
        case SQL_TYPE_DATE: return data::ColumnType::Date;
        case SQL_TYPE_TIME: return data::ColumnType::Time;
        case SQL_TYPE_TIMESTAMP: return data::ColumnType::Timestamp;
        case SQL_BINARY:
        case SQL_VARBINARY:
        case SQL_LONGVARBINARY: return data::ColumnType::Binary;
        default: break;
    }
    const data::ColumnType byName = data::typeFromName(typeName);
    return byName == data::ColumnType::Unknown ? data::ColumnType::Text : byName;
}

struct ColumnPlan {
    data::Column column;
    Reading reading = Reading::Text;
};

ColumnPlan describe(SQLHANDLE statement, SQLUSMALLINT number, Crossing crossing) {
    ColumnPlan plan;
    ColumnName named = nameOf(statement, number, crossing);
    plan.column.name = std::move(named.name);
    plan.column.typeName = base::toLower(attributeOf(statement, number, SQL_DESC_TYPE_NAME, crossing));
    plan.column.type = columnType(named.type, plan.column.typeName);
    plan.column.originTable = attributeOf(statement, number, SQL_DESC_BASE_TABLE_NAME, crossing);
    if (!plan.column.originTable.empty()) {
        plan.column.originSchema = attributeOf(statement, number, SQL_DESC_SCHEMA_NAME, crossing);
        if (plan.column.originSchema.empty()) {  // some have catalogs in their place
            plan.column.originSchema = attributeOf(statement, number, SQL_DESC_CATALOG_NAME, crossing);
        }
    }
    plan.column.originColumn = attributeOf(statement, number, SQL_DESC_BASE_COLUMN_NAME, crossing);
    plan.reading = readingOf(named.type);
    return plan;
}

/// A whole number only where it reads back the same: engines that keep any value in any column exist.
void addNumberOrText(data::ChunkBuilder& builder, const std::string& text) {
    std::int64_t value = 0;
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (code == std::errc() && end == text.data() + text.size() && std::to_string(value) == text) {
        builder.addInteger(value);
    } else {
        builder.addText(text);
    }
}

Status addRow(SQLHANDLE statement, const std::vector<ColumnPlan>& plans, Crossing crossing, data::ChunkBuilder& builder,
              std::string& scratch) {
    for (std::size_t i = 0; i < plans.size(); ++i) {
        const auto number = static_cast<SQLUSMALLINT>(i + 1);
        const bool isBinary = plans[i].reading == Reading::Binary;
        const auto isThere =
            isBinary ? readBytes(statement, number, scratch) : readText(statement, number, scratch, crossing);
        if (!isThere) return isThere.error();
        if (!*isThere) {
            builder.addNull();
        } else if (isBinary) {
            builder.addBinary(scratch);
        } else if (plans[i].reading == Reading::Integer) {
            addNumberOrText(builder, scratch);
        } else {
            builder.addText(scratch);
        }
    }
    builder.endRow();
    return {};
}

void tellNotices(SQLHANDLE statement, RowSink& sink) {
    for (const Diagnostic& said : diagnosticsOf(SQL_HANDLE_STMT, statement)) {
        sink.notice({"WARNING", said.message, said.state});
    }
}

bool namesSavepoint(const std::vector<sql::Token>& tokens, std::string_view text) {
    return std::ranges::any_of(
        tokens, [&](const sql::Token& token) { return base::equalsIgnoringCase(token.textIn(text), "to"); });
}

}  // namespace

struct OdbcLink::Running {
    Running(OdbcLink& owner, SQLHANDLE statement) : link(owner) {
        const base::Lock lock(link.mutex_);
        link.running_ = statement;
    }
    ~Running() {
        std::thread stopper;
        {
            const base::Lock lock(link.mutex_);
            link.running_ = nullptr;
            stopper = std::move(link.stopper_);
        }
        if (stopper.joinable()) stopper.join();  // it still uses the statement
    }
    Running(const Running&) = delete;
    Running& operator=(const Running&) = delete;

    OdbcLink& link;
};

OdbcLink::OdbcLink(EnvironmentHandle environment, ConnectionHandle connection, bool isReadOnly)
    : environment_(std::move(environment)),
      connection_(std::move(connection)),
      crossing_(crossingOf(connection_.get())),
      isReadOnly_(isReadOnly) {}

OdbcLink::~OdbcLink() {
    if (isInTransaction_) (void)end(false);  // nobody is left to be told
}

Status OdbcLink::begin() {
    if (isInTransaction_) return {};
    const SQLRETURN code = SQLSetConnectAttrW(connection_.get(), SQL_ATTR_AUTOCOMMIT,
                                              reinterpret_cast<SQLPOINTER>(SQL_AUTOCOMMIT_OFF), SQL_IS_UINTEGER);
    if (!SQL_SUCCEEDED(code)) return errorOf(SQL_HANDLE_DBC, connection_.get());
    isInTransaction_ = true;
    return {};
}

Status OdbcLink::end(bool isKept) {
    const SQLRETURN code = SQLEndTran(SQL_HANDLE_DBC, connection_.get(), isKept ? SQL_COMMIT : SQL_ROLLBACK);
    if (!SQL_SUCCEEDED(code)) return errorOf(SQL_HANDLE_DBC, connection_.get());
    isInTransaction_ = false;
    SQLSetConnectAttrW(connection_.get(), SQL_ATTR_AUTOCOMMIT, reinterpret_cast<SQLPOINTER>(SQL_AUTOCOMMIT_ON),
                       SQL_IS_UINTEGER);
    return {};
}

Result<StatementResult> OdbcLink::run(const sql::Statement& asked, RowSink& sink,
                                      const base::Cancellation& cancellation) {
    const sql::Statement statement = asked.readAs(kDialect);
    const std::string& text = statement.text();
    const auto& tokens = statement.tokens();
    const sql::StatementKind kind = statement.kind();
    const bool ends =
        kind == sql::StatementKind::Commit || (kind == sql::StatementKind::Rollback && !namesSavepoint(tokens, text));
    if (kind == sql::StatementKind::Begin || ends) {
        const Status done = ends ? end(kind == sql::StatementKind::Commit) : begin();
        return done ? Result<StatementResult>(StatementResult{}) : Result<StatementResult>(done.error());
    }
    const bool mustRead = access_ == Access::Reading || (isReadOnly_ && access_ != Access::Changing);
    if (mustRead && !statement.reading().isPlain()) {
        return Error{.kind = ErrorKind::ReadOnly,
                     .message = "This connection is for reading only, and the statement may change something.",
                     .hint = "Take “reading only” off the connection, or use another one."};
    }
    // Values are written as literals: drivers disagree about what a parameter of unknown type may stand for.
    auto bound = BoundStatement::make(text, kDialect, asked.parameters(),
                                      [](const std::string&, const std::optional<std::string>& value) {
                                          return value ? sql::quotedString(*value, kDialect) : std::string("NULL");
                                      });
    if (!bound) return bound.error();
    auto prepared = makeStatement(connection_.get());
    if (!prepared) return prepared.error();
    const Running running(*this, prepared->get());
    SQLRETURN code = execute(prepared->get(), bound->text(), crossing_);
    StatementResult result;
    // SQL_NO_DATA: a change that touched no row.
    while (code != SQL_NO_DATA || !result.affectedRows) {
        if (code != SQL_NO_DATA && !SQL_SUCCEEDED(code)) {
            Error error = errorOf(SQL_HANDLE_STMT, prepared->get());
            return cancellation.isRequested() ? stopped() : error;
        }
        if (code == SQL_SUCCESS_WITH_INFO) tellNotices(prepared->get(), sink);
        SQLSMALLINT columns = 0;
        if (code != SQL_NO_DATA) SQLNumResultCols(prepared->get(), &columns);
        if (columns > 0) {
            result.hasRows = true;
            auto isWhole = readResult(prepared->get(), columns, sink, cancellation);
            if (!isWhole) return isWhole.error();
            result.isComplete = *isWhole;
            if (!*isWhole) return result;
        } else if (statement.effect() == sql::StatementEffect::Writes) {
            SQLLEN rows = 0;
            if (SQL_SUCCEEDED(SQLRowCount(prepared->get(), &rows)) && rows >= 0)
                result.affectedRows = result.affectedRows.value_or(0) + rows;
        }
        if (code == SQL_NO_DATA) break;
        code = SQLMoreResults(prepared->get());
        if (code == SQL_NO_DATA) break;
    }
    return result;
}

/// True when all rows were read. Looks one row ahead, so that a result that ends with its page is known to be whole.
Result<bool> OdbcLink::readResult(SQLHANDLE statement, SQLSMALLINT columnCount, RowSink& sink,
                                  const base::Cancellation& cancellation) {
    std::vector<ColumnPlan> plans;
    std::vector<data::Column> columns;
    for (SQLSMALLINT i = 1; i <= columnCount; ++i) {
        plans.push_back(describe(statement, static_cast<SQLUSMALLINT>(i), crossing_));
        columns.push_back(plans.back().column);
    }
    sink.columns(std::move(columns));
    data::ChunkBuilder builder(plans.size());
    std::string scratch;
    std::size_t wanted = sink.rowsWanted();
    std::optional<Error> error;
    SQLRETURN code = SQLFetch(statement);
    while (SQL_SUCCEEDED(code) && !cancellation.isRequested()) {
        if (const Status added = addRow(statement, plans, crossing_, builder, scratch); !added) {
            error = added.error();
            break;
        }
        code = SQLFetch(statement);
        const bool isDue =
            builder.isFull() || builder.rowCount() >= wanted || (builder.rowCount() % 64 == 0 && sink.isHandOverDue());
        if (!isDue || !SQL_SUCCEEDED(code)) continue;
        if (!sink.rows(builder.take(), false)) return false;
        if (auto spent = sink.spent()) builder.reuse(std::move(spent));
        wanted = sink.rowsWanted();
    }
    const bool isWhole = code == SQL_NO_DATA && !error;
    if (!isWhole && !error) error = cancellation.isRequested() ? stopped() : errorOf(SQL_HANDLE_STMT, statement);
    if (builder.rowCount() > 0) sink.rows(builder.take(), true);  // rows that came before an error are kept
    if (isWhole) return true;
    return cancellation.isRequested() ? stopped() : *error;
}

void OdbcLink::cancel() {
    const base::Lock lock(mutex_);
    if (running_ == nullptr || stopper_.joinable()) return;
    stopper_ = std::thread([statement = running_] { SQLCancel(statement); });  // some drivers ask the server first
}

bool OdbcLink::isUsable() {
    SQLUINTEGER isDead = SQL_CD_FALSE;
    const SQLRETURN code =
        SQLGetConnectAttrW(connection_.get(), SQL_ATTR_CONNECTION_DEAD, &isDead, sizeof isDead, nullptr);
    return !SQL_SUCCEEDED(code) || isDead == SQL_CD_FALSE;  // a driver that cannot tell is believed
}

ConnectionState OdbcLink::state() const {
    return {.database = infoOf(connection_.get(), SQL_DATABASE_NAME),
            .user = infoOf(connection_.get(), SQL_USER_NAME),
            .isReadOnly = isReadOnly_,
            .isLocked = access_ == Access::Reading,
            .transaction = isInTransaction_ ? TransactionState::Open : TransactionState::None};
}

std::string OdbcLink::serverVersion() {
    return std::string(base::trimmed(
        fmt::format("{} {}", infoOf(connection_.get(), SQL_DBMS_NAME), infoOf(connection_.get(), SQL_DBMS_VER))));
}

std::string OdbcLink::remark() const { return isReadOnly_ ? "opened for reading only" : ""; }

Result<catalog::CatalogPtr> OdbcLink::loadCatalog(const catalog::Request& request,
                                                  const base::Cancellation& cancellation) {
    return odbc::loadCatalog(connection_.get(), crossing_, serverVersion(), request, cancellation);
}

/// ODBC has no statement for it: written from what the catalog functions tell.
Result<catalog::Definition> OdbcLink::definition(const catalog::ObjectName& object,
                                                 const base::Cancellation& cancellation) {
    auto catalog = loadCatalog({.schemas = {object.schema}}, cancellation);
    if (!catalog) return catalog.error();
    const catalog::Relation* relation = (*catalog)->find(object.schema, object.name);
    if (relation == nullptr) {
        return Error{.kind = ErrorKind::NotFound, .message = fmt::format("There is no {} here.", object.name)};
    }
    if (relation->kind != catalog::ObjectKind::Table) {
        return Error{
            .kind = ErrorKind::NotFound,
            .message = fmt::format("ODBC does not tell how the {} {} is made.", kindName(relation->kind), object.name)};
    }
    std::vector<std::string> lines;
    std::vector<std::pair<int, std::string>> key;
    for (const catalog::Column& column : relation->columns) {
        lines.push_back(fmt::format("    {} {}{}{}", sql::quotedName(column.name, kDialect), column.typeName,
                                    column.defaultValue ? " DEFAULT " + *column.defaultValue : "",
                                    column.isNullable ? "" : " NOT NULL"));
        if (column.keyPosition > 0) key.emplace_back(column.keyPosition, sql::quotedName(column.name, kDialect));
    }
    std::ranges::sort(key);
    std::string names;
    for (const auto& [position, name] : key) names += (names.empty() ? "" : ", ") + name;
    if (!names.empty()) lines.push_back(fmt::format("    PRIMARY KEY ({})", names));
    return catalog::Definition{.text =
                                   fmt::format("CREATE TABLE {} (\n{}\n);\n", sql::quotedName(relation->name, kDialect),
                                               base::joined(lines, ",\n"))};
}

}  // namespace pantry::db::odbc
