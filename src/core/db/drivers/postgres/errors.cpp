#include <fmt/format.h>

#include <array>

#include "core/base/text.h"

#include <libpq-fe.h>

#include "core/base/utf8.h"
#include "core/db/drivers/postgres/handle.h"

namespace pantry::db::postgres {
namespace {

std::string fieldOf(const PGresult* result, int field) {
    const char* text = PQresultErrorField(result, field);
    return text == nullptr ? "" : text;
}

std::string sentence(std::string text) {
    if (text.empty()) return text;
    if (text[0] >= 'a' && text[0] <= 'z') text[0] = static_cast<char>(text[0] - 32);
    const char last = text.back();
    if (last != '.' && last != '!' && last != '?') text += '.';
    return text;
}

struct Meaning {
    std::string_view code;  // an SQLSTATE or its first letters
    ErrorKind kind;
    std::string_view hint;
};

/// Longer codes first (PostgreSQL manual, appendix A).
constexpr auto kMeanings = std::to_array<Meaning>({
    {"57014", ErrorKind::Statement, "The statement's time limit was reached, or somebody else stopped it."},
    {"57P01", ErrorKind::ConnectionLost, "The server was told to stop. The next run connects again."},
    {"57P02", ErrorKind::ConnectionLost, "The server crashed and restarts. The next run connects again."},
    {"57P03", ErrorKind::Busy, "The server is starting or stopping. Try again in a moment."},
    {"57P05", ErrorKind::ConnectionLost,
     "The server closes connections that are idle for long. The next run connects again."},
    {"53300", ErrorKind::Busy, "Close a sheet's connection or try again later."},
    {"53100", ErrorKind::Io, "The server's disk is full."},
    {"55P03", ErrorKind::Busy, "Somebody else holds a lock. Try again later."},
    {"40P01", ErrorKind::SerializationConflict, "Two transactions waited for each other. Run the transaction again."},
    {"40001", ErrorKind::SerializationConflict,
     "Another transaction changed the same rows. Run the transaction again."},
    {"25P02", ErrorKind::Statement, "An earlier statement of this transaction failed. End it with ROLLBACK."},
    {"25006", ErrorKind::ReadOnly, "This connection is for reading only."},
    {"42501", ErrorKind::Permission, "Ask the owner for the right to do this."},
    {"42P01", ErrorKind::UnknownName, ""},
    {"42703", ErrorKind::UnknownName, ""},
    {"28", ErrorKind::Permission, "Check user and password."},
    {"3D000", ErrorKind::NotFound, "Check the database's name."},
    {"08", ErrorKind::ConnectionLost, "The next run connects again."},
});

}  // namespace

Error errorOf(const PGresult* result, std::string_view statement, const ConnectionProfile& profile) {
    Error error{.kind = ErrorKind::Statement,
                .message = sentence(fieldOf(result, PG_DIAG_MESSAGE_PRIMARY)),
                .hint = sentence(fieldOf(result, PG_DIAG_MESSAGE_HINT)),
                .code = fieldOf(result, PG_DIAG_SQLSTATE),
                .detail = sentence(fieldOf(result, PG_DIAG_MESSAGE_DETAIL)),
                .constraint = fieldOf(result, PG_DIAG_CONSTRAINT_NAME)};
    if (error.message.empty()) error.message = sentence(std::string(base::trimmed(PQresultErrorMessage(result))));
    // A mistake of the statement leaves the connection as it is, whatever its code: a function of the server may have
    // failed to connect somewhere itself.
    const std::string severity = fieldOf(result, PG_DIAG_SEVERITY_NONLOCALIZED);
    const bool endsLine = severity == "FATAL" || severity == "PANIC";
    for (const Meaning& meaning : kMeanings) {
        if (!error.code.starts_with(meaning.code)) continue;
        if (endsConnection(meaning.kind) && !endsLine) break;
        error.kind = meaning.kind;
        // To run it again is all that helps; the server's hint is for those who look after it.
        const bool knowsBetter = meaning.kind == ErrorKind::SerializationConflict;
        if (error.hint.empty() || knowsBetter) error.hint = meaning.hint;
        break;
    }
    if (endsConnection(error.kind)) error.message = fmt::format("{}: {}", placeOf(profile), error.message);
    const std::string position = fieldOf(result, PG_DIAG_STATEMENT_POSITION);
    if (!position.empty()) {
        const auto character = static_cast<std::size_t>(std::max(1, std::atoi(position.c_str())));
        error.byteOffset = base::byteOffsetOf(statement, character - 1);
    }
    return error;
}

Error lostLine(const PGconn* connection, const ConnectionProfile& profile) {
    std::string said(base::trimmed(connection == nullptr ? "" : PQerrorMessage(connection)));
    said = base::oneLine(said, 200);
    return {.kind = ErrorKind::ConnectionLost,
            .message = fmt::format("The connection to {} was lost.", placeOf(profile)),
            .hint = "Rows that came stay. The next run connects again.",
            .detail = sentence(said)};
}

}  // namespace pantry::db::postgres
