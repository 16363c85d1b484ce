#include "core/db/drivers/odbc/handle.h"

#include <sql.h>
#include <sqlext.h>

#include <algorithm>
#include <array>

#include "core/base/text.h"
#include "core/base/utf8.h"

namespace pantry::db::odbc {

static_assert(kEnvironment == SQL_HANDLE_ENV && kConnection == SQL_HANDLE_DBC && kStatement == SQL_HANDLE_STMT &&
              kVarchar == SQL_VARCHAR);

void freeHandle(SQLSMALLINT type, SQLHANDLE handle) {
    if (type == SQL_HANDLE_DBC) SQLDisconnect(handle);
    SQLFreeHandle(type, handle);
}

namespace {

constexpr std::uint32_t kFirstBeyond = 0x10000;  // code points from here on take two units
constexpr std::uint32_t kHighSurrogates = 0xD800;
constexpr std::uint32_t kLowSurrogates = 0xDC00;
constexpr std::uint32_t kAfterSurrogates = 0xE000;

/// “[vendor][driver]message”: the brackets tell nothing to a person.
std::string withoutPrefixes(std::string_view message) {
    while (message.starts_with('[')) {
        const std::size_t close = message.find(']');
        if (close == std::string_view::npos) break;
        message.remove_prefix(close + 1);
    }
    return base::oneLine(base::trimmed(message), 600);
}

struct Meaning {
    std::string_view state;  // how it begins
    ErrorKind kind;
    std::string_view hint;
};
/// SQLSTATEs by what somebody can do about them (ISO/IEC 9075-2, and the driver manager's own IM class).
constexpr auto kMeanings = std::to_array<Meaning>({
    {"IM002", ErrorKind::NotFound,
     "Name a data source of ~/.odbc.ini or /etc/odbc.ini, or write the driver and its settings: DRIVER={name};…"},
    {"IM003", ErrorKind::NotFound, "Install the driver that the data source names."},
    {"01000", ErrorKind::NotFound, "Install the driver that the data source names."},
    {"28", ErrorKind::Permission, "Check user and password; capitals count."},
    {"08", ErrorKind::Connection, "Is the server running, and are its host and port right?"},
    {"42S02", ErrorKind::UnknownName, ""},
    {"42S22", ErrorKind::UnknownName, ""},
    {"40001", ErrorKind::SerializationConflict, "Run the transaction again."},
    {"HYT", ErrorKind::Busy, "Try again in a moment."},
    {"HY008", ErrorKind::Cancelled, ""},
});

/// Reads a value piece by piece, since nobody knows its length before.
template <class Unit, class Append>
Result<bool> readPieces(SQLHANDLE statement, SQLUSMALLINT column, SQLSMALLINT type, std::size_t endUnits,
                        const Append& append) {
    std::array<Unit, 8192> piece;
    for (;;) {
        SQLLEN length = 0;
        const SQLRETURN code =
            SQLGetData(statement, column, type, piece.data(), static_cast<SQLLEN>(sizeof piece), &length);
        if (code == SQL_NO_DATA) return true;
        if (!SQL_SUCCEEDED(code)) return errorOf(SQL_HANDLE_STMT, statement);
        if (length == SQL_NULL_DATA) return false;
        const std::size_t room = piece.size() - endUnits;
        const bool isMore = length == SQL_NO_TOTAL || static_cast<std::size_t>(length) / sizeof(Unit) > room;
        append(piece.data(), isMore ? room : static_cast<std::size_t>(length) / sizeof(Unit));
        if (!isMore) return true;
    }
}

/// Some drivers count units, some bytes: the end mark is what can be trusted.
template <std::size_t N>
std::size_t lengthOf(const std::array<SQLWCHAR, N>& text) {
    return static_cast<std::size_t>(std::find(text.begin(), text.end(), SQLWCHAR{0}) - text.begin());
}

}  // namespace

Wide toWide(std::string_view utf8) {
    Wide out;
    out.reserve(utf8.size());
    for (std::size_t at = 0; at < utf8.size();) {
        const base::CodePoint point = base::decodeAt(utf8, at);
        at += point.length;
        if (point.value < kFirstBeyond) {
            out.push_back(static_cast<SQLWCHAR>(point.value));
        } else {
            const std::uint32_t rest = point.value - kFirstBeyond;
            out.push_back(static_cast<SQLWCHAR>(kHighSurrogates + (rest >> 10)));
            out.push_back(static_cast<SQLWCHAR>(kLowSurrogates + (rest & 0x3FF)));
        }
    }
    return out;
}

void appendWide(std::string& utf8, const SQLWCHAR* text, std::size_t length) {
    for (std::size_t i = 0; i < length; ++i) {
        std::uint32_t value = text[i];
        const bool isHigh = value >= kHighSurrogates && value < kLowSurrogates;
        if (isHigh && i + 1 < length && text[i + 1] >= kLowSurrogates && text[i + 1] < kAfterSurrogates) {
            value = kFirstBeyond + ((value - kHighSurrogates) << 10) + (text[++i] - kLowSurrogates);
        }
        base::appendUtf8(utf8, value);
    }
}

std::vector<Diagnostic> diagnosticsOf(SQLSMALLINT type, SQLHANDLE handle) {
    std::vector<Diagnostic> all;
    std::array<SQLWCHAR, 6> state{};
    std::array<SQLWCHAR, 4096> message{};
    for (SQLSMALLINT number = 1;; ++number) {
        SQLINTEGER native = 0;
        SQLSMALLINT length = 0;
        const SQLRETURN code = SQLGetDiagRecW(type, handle, number, state.data(), &native, message.data(),
                                              static_cast<SQLSMALLINT>(message.size()), &length);
        if (!SQL_SUCCEEDED(code)) return all;
        Diagnostic one;
        appendWide(one.state, state.data(), 5);
        std::string text;
        appendWide(text, message.data(), std::min<std::size_t>(static_cast<std::size_t>(length), message.size() - 1));
        one.message = withoutPrefixes(text);
        all.push_back(std::move(one));
    }
}

Error errorOf(SQLSMALLINT type, SQLHANDLE handle) {
    const auto said = diagnosticsOf(type, handle);
    if (said.empty()) return {.kind = ErrorKind::Statement, .message = "The driver failed without a word."};
    Error error{.kind = ErrorKind::Statement, .message = said.front().message, .code = said.front().state};
    for (const Meaning& meaning : kMeanings) {
        if (!error.code.starts_with(meaning.state)) continue;
        error.kind = meaning.kind;
        error.hint = meaning.hint;
        break;
    }
    return error;
}

Result<StatementHandle> makeStatement(SQLHANDLE connection) {
    SQLHANDLE raw = nullptr;
    if (!SQL_SUCCEEDED(SQLAllocHandle(SQL_HANDLE_STMT, connection, &raw))) return errorOf(SQL_HANDLE_DBC, connection);
    return StatementHandle(raw);
}

std::string infoOf(SQLHANDLE connection, SQLUSMALLINT what) {
    std::array<SQLWCHAR, 512> text{};
    SQLSMALLINT bytes = 0;
    const SQLRETURN code =
        SQLGetInfoW(connection, what, text.data(), static_cast<SQLSMALLINT>(sizeof text - sizeof text[0]), &bytes);
    std::string out;
    if (!SQL_SUCCEEDED(code) || bytes < 0) return out;
    appendWide(out, text.data(), lengthOf(text));
    return out;
}

Crossing crossingOf(SQLHANDLE connection) {
    const Wide probe = toWide("'é🍏'");
    std::array<SQLWCHAR, 64> back{};
    SQLINTEGER length = 0;
    Wide text = probe;
    const SQLRETURN code = SQLNativeSqlW(connection, text.data(), static_cast<SQLINTEGER>(text.size()), back.data(),
                                         static_cast<SQLINTEGER>(back.size()), &length);
    const bool isSame = SQL_SUCCEEDED(code) && std::equal(probe.begin(), probe.end(), back.begin());
    return isSame ? Crossing::Units : Crossing::Bytes;
}

SQLRETURN execute(SQLHANDLE statement, std::string_view text, Crossing crossing) {
    if (crossing == Crossing::Units) {
        Wide wide = toWide(text);
        return SQLExecDirectW(statement, wide.data(), static_cast<SQLINTEGER>(wide.size()));
    }
    std::string bytes(text);
    return SQLExecDirect(statement, reinterpret_cast<SQLCHAR*>(bytes.data()), static_cast<SQLINTEGER>(bytes.size()));
}

ColumnName nameOf(SQLHANDLE statement, SQLUSMALLINT column, Crossing crossing) {
    ColumnName out;
    SQLSMALLINT length = 0;
    SQLSMALLINT digits = 0;
    SQLSMALLINT nullable = 0;
    SQLULEN size = 0;
    if (crossing == Crossing::Bytes) {
        std::array<char, 1024> name{};
        SQLDescribeCol(statement, column, reinterpret_cast<SQLCHAR*>(name.data()), name.size() - 1, &length, &out.type,
                       &size, &digits, &nullable);
        out.name = name.data();
        return out;
    }
    std::array<SQLWCHAR, 512> name{};
    SQLDescribeColW(statement, column, name.data(), name.size() - 1, &length, &out.type, &size, &digits, &nullable);
    appendWide(out.name, name.data(), lengthOf(name));
    return out;
}

std::string attributeOf(SQLHANDLE statement, SQLUSMALLINT column, SQLUSMALLINT what, Crossing crossing) {
    SQLSMALLINT length = 0;
    std::string out;
    if (crossing == Crossing::Bytes) {
        std::array<char, 1024> text{};
        const SQLRETURN code = SQLColAttribute(statement, column, what, text.data(), text.size() - 1, &length, nullptr);
        return SQL_SUCCEEDED(code) ? std::string(text.data()) : out;
    }
    std::array<SQLWCHAR, 512> text{};
    const SQLRETURN code =
        SQLColAttributeW(statement, column, what, text.data(), sizeof text - sizeof text[0], &length, nullptr);
    if (SQL_SUCCEEDED(code)) appendWide(out, text.data(), lengthOf(text));
    return out;
}

Result<bool> readText(SQLHANDLE statement, SQLUSMALLINT column, std::string& out, Crossing crossing) {
    out.clear();
    if (crossing == Crossing::Bytes) {
        return readPieces<char>(statement, column, SQL_C_CHAR, 1,
                                [&](const char* text, std::size_t length) { out.append(text, length); });
    }
    SQLWCHAR held = 0;  // the first half of a character whose second half comes with the next piece
    return readPieces<SQLWCHAR>(statement, column, SQL_C_WCHAR, 1, [&](SQLWCHAR* text, std::size_t length) {
        if (held != 0 && length > 0) {
            const SQLWCHAR pair[2] = {held, text[0]};
            appendWide(out, pair, 2);
            held = 0;
            ++text;
            --length;
        }
        const bool endsHalf = length > 0 && text[length - 1] >= kHighSurrogates && text[length - 1] < kLowSurrogates;
        if (endsHalf) held = text[--length];
        appendWide(out, text, length);
    });
}

Result<bool> readBytes(SQLHANDLE statement, SQLUSMALLINT column, std::string& out) {
    out.clear();
    return readPieces<char>(statement, column, SQL_C_BINARY, 0,
                            [&](const char* bytes, std::size_t length) { out.append(bytes, length); });
}

}  // namespace pantry::db::odbc
