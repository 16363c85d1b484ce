#include <errmsg.h>
#include <fmt/format.h>
#include <poll.h>

#include <array>
#include <charconv>

#include "core/base/text.h"

#include <mysql.h>

#include "core/db/drivers/mariadb/handle.h"
#include "core/sql/text/lexer.h"

namespace pantry::db::mariadb {
namespace {

struct Meaning {
    unsigned code;
    ErrorKind kind;
    std::string_view hint;
};

// Numbers of the server's messages (MariaDB Knowledge Base, “MariaDB Error Codes”).
constexpr unsigned kSyntax = 1064;
constexpr unsigned kUnknownColumn = 1054;
constexpr unsigned kUnknownTable = 1146;
constexpr unsigned kInterrupted = 1317;

constexpr auto kMeanings = std::to_array<Meaning>({
    {1040, ErrorKind::Busy, "The server has no connection left: close a sheet's connection or try again later."},
    {1203, ErrorKind::Busy, "This user has no connection left: close a sheet's connection or try again later."},
    {1226, ErrorKind::Busy, "This user has used up what the server allows; try again later."},
    {1045, ErrorKind::Permission, "Check user and password."},
    {1698, ErrorKind::Permission, "Check user and password."},
    {1044, ErrorKind::Permission, "Ask for the right to use this database."},
    {1142, ErrorKind::Permission, "Ask the owner for the right to do this."},
    {1143, ErrorKind::Permission, "Ask the owner for the right to do this."},
    {1227, ErrorKind::Permission, "Ask the owner for the right to do this."},
    {1130, ErrorKind::Permission, "Ask whoever runs the server to let this machine in."},
    {1049, ErrorKind::NotFound, "Check the database's name."},
    {1792, ErrorKind::ReadOnly, "This connection is for reading only."},
    {1290, ErrorKind::Permission, "The server is set to refuse this."},
    {kUnknownTable, ErrorKind::UnknownName, ""},
    {kUnknownColumn, ErrorKind::UnknownName, ""},
    {1205, ErrorKind::Busy, "Somebody else holds a lock. Try again later."},
    {1213, ErrorKind::SerializationConflict, "Two transactions waited for each other. Run the transaction again."},
    {1021, ErrorKind::Io, "The server's disk is full."},
    {1114, ErrorKind::Io, "The table, or the server's disk, is full."},
    {3, ErrorKind::Io, "The server's disk may be full."},
    {1969, ErrorKind::Statement, "The statement's time limit was reached."},
    {3024, ErrorKind::Statement, "The statement's time limit was reached."},
    {CR_CONN_HOST_ERROR, ErrorKind::Connection, "Is the server running, and are host and port right?"},
    {CR_CONNECTION_ERROR, ErrorKind::Connection, "Is the server running on this machine?"},
    {CR_UNKNOWN_HOST, ErrorKind::Connection,
     "Check the spelling, and whether this machine is in the network that knows it."},
    {CR_SSL_CONNECTION_ERROR, ErrorKind::Connection,
     "Check the certificates, or choose “encrypt” for TLS to go without the check."},
});

std::string sentence(std::string text) {
    if (!text.empty() && text.back() != '.') text += '.';
    return text;
}

/// The text in quotes after `lead`, as in: near 'FROM plot' at line 2
std::string_view quotedAfter(std::string_view message, std::string_view lead) {
    const std::size_t at = message.find(lead);
    if (at == std::string_view::npos) return {};
    const std::size_t start = at + lead.size();
    const std::size_t end = message.rfind("' at line");
    const std::size_t close = end != std::string_view::npos && end >= start ? end : message.find('\'', start);
    return close == std::string_view::npos ? std::string_view() : message.substr(start, close - start);
}

std::size_t startOfLine(std::string_view text, std::size_t line) {
    std::size_t at = 0;
    while (--line > 0) {
        const std::size_t next = text.find('\n', at);
        if (next == std::string_view::npos) break;
        at = next + 1;
    }
    return at;
}

/// The server tells the text from the mistake on, and its line.
std::optional<std::size_t> syntaxPlace(std::string_view message, std::string_view statement) {
    const std::size_t lineWord = message.rfind("at line ");
    if (lineWord == std::string_view::npos) return std::nullopt;
    std::size_t line = 1;
    const std::string_view digits = message.substr(lineWord + 8);
    std::from_chars(digits.data(), digits.data() + digits.size(), line);
    const std::string_view near = quotedAfter(message, "near '");
    if (near.empty()) return statement.size();  // the end came too early
    const std::size_t from = startOfLine(statement, line);
    // What it tells may be cut off, and the line is the one where it ends to read: look in the lines before as well.
    const std::size_t found = statement.find(near, from);
    if (found != std::string_view::npos) return found;
    const std::size_t anywhere = statement.rfind(near);
    return anywhere == std::string_view::npos ? std::optional(from) : anywhere;
}

/// Where a name stands in the statement; 'orchard.plot' looks for plot.
std::optional<std::size_t> placeOfName(std::string_view name, std::string_view statement) {
    const std::string_view last = name.substr(name.rfind('.') + 1);
    for (const sql::Token& token : sql::lex(statement, sql::Dialect::MySql)) {
        const bool isName = token.kind == sql::TokenKind::Word || token.kind == sql::TokenKind::QuotedName;
        if (isName && base::equalsIgnoringCase(sql::unquotedName(token.textIn(statement)), last)) return token.start;
    }
    return std::nullopt;
}

std::optional<std::size_t> placeOf(unsigned code, std::string_view message, std::string_view statement) {
    switch (code) {
        case kSyntax: return syntaxPlace(message, statement);
        case kUnknownColumn:
        case kUnknownTable: return placeOfName(quotedAfter(message, "'"), statement);
        default: return std::nullopt;
    }
}

/// Whether the connection is gone, by its own state: a statement can fail with any code and any words, such as those of
/// a line that the server itself had to another one. After its farewell a server closes within a moment.
bool isClosed(MYSQL* connection) {
    constexpr int kAMomentMs = 200;
    const my_socket socket = mysql_get_socket(connection);
    if (socket == MARIADB_INVALID_SOCKET) return true;
    pollfd line{.fd = socket, .events = POLLRDHUP, .revents = 0};
    return ::poll(&line, 1, kAMomentMs) > 0;
}

}  // namespace

bool isLost(unsigned code) {
    constexpr unsigned kShutdown = 1053;
    constexpr unsigned kKilled = 1927;
    constexpr unsigned kTimedOut = 4031;
    return code == CR_SERVER_GONE_ERROR || code == CR_SERVER_LOST || code == kShutdown || code == kKilled ||
           code == kTimedOut || code == 1080 || code == 5014;
}

Error errorOf(MYSQL* connection, std::string_view statement, const ConnectionProfile& profile) {
    const unsigned code = mysql_errno(connection);
    const std::string said = mysql_error(connection);
    Error error{.kind = ErrorKind::Statement,
                .message = sentence(said),
                .code = fmt::format("{} ({})", mysql_sqlstate(connection), code)};
    if (isLost(code) && isClosed(connection)) {
        return {.kind = ErrorKind::ConnectionLost,
                .message = fmt::format("The connection to {} was lost.", db::placeOf(profile)),
                .hint = "Rows that came stay. The next run connects again.",
                .code = error.code,
                .detail = sentence(said)};
    }
    if (code == kInterrupted) error.hint = "Somebody else stopped it, or the server is stopping.";
    for (const Meaning& meaning : kMeanings) {
        if (meaning.code != code) continue;
        error.kind = meaning.kind;
        error.hint = meaning.hint;
        break;
    }
    if (!statement.empty()) error.byteOffset = placeOf(code, said, statement);
    const std::size_t constraint = said.find("CONSTRAINT `");
    if (constraint != std::string::npos) {
        error.constraint = said.substr(constraint + 12, said.find('`', constraint + 12) - constraint - 12);
    }
    return error;
}

}  // namespace pantry::db::mariadb
