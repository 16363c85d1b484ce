#include "core/db/drivers/odbc/driver.h"

#include <sql.h>
#include <sqlext.h>

#include <fmt/format.h>

#include "core/base/late_library.h"
#include "core/base/text.h"
#include "core/db/connecting.h"
#include "core/db/drivers/odbc/link.h"
#include "core/db/key_value_address.h"

namespace pantry::db {
namespace {

using namespace odbc;

/// A value of a connection string: in braces where it holds what parts the pairs.
std::string braced(std::string_view value) {
    if (value.find_first_of(";{}= ") == std::string_view::npos) return std::string(value);
    std::string out = "{";
    for (const char c : value) {
        out += c;
        if (c == '}') out += c;
    }
    return out + "}";
}

std::string connectionString(const ConnectionProfile& profile, const std::optional<std::string>& password) {
    const bool isPairs = profile.database.find('=') != std::string::npos;
    std::string text = isPairs ? profile.database : "DSN=" + braced(profile.database);
    // As people type it, with blanks around; drivers take these for parts of the names.
    if (const auto pairs = parseKeyValues(text);
        pairs && *pairs && (*pairs)->profile.engine == Engine::Odbc && isPairs) {
        text = (*pairs)->profile.database;
    }
    if (!text.ends_with(';')) text += ';';
    if (!profile.user.empty()) text += "UID=" + braced(profile.user) + ";";
    if (password) text += "PWD=" + braced(*password) + ";";
    return text;
}

/// Some drivers say no more than that it failed.
Error connectError(Error error) {
    if (!error.hint.empty()) return error;
    error.kind = ErrorKind::Connection;
    error.message = fmt::format("The driver did not connect: {}.", base::trimmed(error.message));
    error.hint = "Check the settings of the data source: their names are the driver's own.";
    return error;
}

Result<EnvironmentHandle> makeEnvironment() {
    if (Status there = base::loadLibrary(LATE_ODBC); !there) return there.error();
    SQLHANDLE raw = nullptr;
    if (!SQL_SUCCEEDED(SQLAllocHandle(SQL_HANDLE_ENV, SQL_NULL_HANDLE, &raw))) {
        return Error{.kind = ErrorKind::Internal, .message = "The ODBC driver manager could not be started."};
    }
    EnvironmentHandle environment(raw);
    SQLSetEnvAttr(raw, SQL_ATTR_ODBC_VERSION, reinterpret_cast<SQLPOINTER>(SQL_OV_ODBC3), SQL_IS_UINTEGER);
    return environment;
}

Result<std::unique_ptr<EngineConnection>> signIntoOdbc(const ConnectionProfile& profile,
                                                       const std::optional<std::string>& password) {
    if (profile.database.empty()) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = "The connection names no data source.",
                     .hint = "Name one of ~/.odbc.ini, or write DRIVER={name};… with the driver's own settings."};
    }
    auto environment = makeEnvironment();
    if (!environment) return environment.error();
    SQLHANDLE raw = nullptr;
    if (!SQL_SUCCEEDED(SQLAllocHandle(SQL_HANDLE_DBC, environment->get(), &raw))) {
        return errorOf(SQL_HANDLE_ENV, environment->get());
    }
    ConnectionHandle connection(raw);
    const auto patience = static_cast<std::uintptr_t>(patienceOf(profile).count());
    SQLSetConnectAttrW(raw, SQL_ATTR_LOGIN_TIMEOUT, reinterpret_cast<SQLPOINTER>(patience), SQL_IS_UINTEGER);
    if (profile.isReadOnly) {
        SQLSetConnectAttrW(raw, SQL_ATTR_ACCESS_MODE, reinterpret_cast<SQLPOINTER>(SQL_MODE_READ_ONLY),
                           SQL_IS_UINTEGER);
    }
    Wide words = toWide(connectionString(profile, password));
    const SQLRETURN code = SQLDriverConnectW(raw, nullptr, words.data(), static_cast<SQLSMALLINT>(words.size()),
                                             nullptr, 0, nullptr, SQL_DRIVER_NOPROMPT);
    if (!SQL_SUCCEEDED(code)) return connectError(errorOf(SQL_HANDLE_DBC, raw));
    return std::unique_ptr<EngineConnection>(
        std::make_unique<OdbcLink>(std::move(*environment), std::move(connection), profile.isReadOnly));
}

}  // namespace

Result<std::unique_ptr<EngineConnection>> OdbcDriver::open(const ConnectionProfile& profile,
                                                           const std::optional<std::string>& password,
                                                           const base::Cancellation& cancellation) const {
    return openServer([&] { return signIntoOdbc(profile, password); }, profile, cancellation);
}

std::vector<TestStage> OdbcDriver::test(const ConnectionProfile& profile, const std::optional<std::string>& password,
                                        const base::Cancellation& cancellation) const {
    return testServer([&] { return signIntoOdbc(profile, password); }, profile, 0, cancellation);
}

std::vector<std::string> odbcSources() {
    std::vector<std::string> names;
    const auto environment = makeEnvironment();
    if (!environment) return names;
    SQLWCHAR name[256] = {};
    SQLWCHAR about[512] = {};
    SQLSMALLINT nameLength = 0;
    SQLSMALLINT aboutLength = 0;
    SQLUSMALLINT direction = SQL_FETCH_FIRST;
    while (SQL_SUCCEEDED(
        SQLDataSourcesW(environment->get(), direction, name, 255, &nameLength, about, 511, &aboutLength))) {
        std::string one;
        appendWide(one, name, static_cast<std::size_t>(nameLength));
        names.push_back(std::move(one));
        direction = SQL_FETCH_NEXT;
    }
    return names;
}

}  // namespace pantry::db
