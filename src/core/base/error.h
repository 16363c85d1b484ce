#pragma once

#include <cstddef>
#include <optional>
#include <string>

namespace pantry {

/// What the caller can do about a failure; the kinds differ by that, not by where they arose.
enum class ErrorKind {
    InvalidInput,           ///< what was typed or read is wrong; correct it
    NotFound,               ///< a file, connection or object does not exist
    Permission,             ///< not allowed; ask somebody or choose another place
    ReadOnly,               ///< refused because the connection is open for reading only; open it for writing
    HeldBack,               ///< not run: somebody must confirm it first
    Busy,                   ///< locked by somebody else; try again
    SerializationConflict,  ///< undone for another transaction's sake; run the transaction again
    Damaged,                ///< a file is not what it should be
    TooNew,                 ///< written by a newer version of this program
    Cancelled,              ///< somebody asked to stop
    Connection,             ///< the server cannot be reached; look where it is
    ConnectionLost,         ///< it was there and broke, and nothing is in doubt; run it again
    InDoubt,                ///< it broke while something was on its way that may have taken effect; look first
    Statement,              ///< the database refused a statement; correct it
    UnknownName,            ///< the same, for a table or column that it does not know
    Io,                     ///< reading or writing failed
    Internal,               ///< our own mistake
};

/// Whether the connection is of no more use.
[[nodiscard]] constexpr bool endsConnection(ErrorKind kind) {
    return kind == ErrorKind::Connection || kind == ErrorKind::ConnectionLost || kind == ErrorKind::InDoubt;
}

/// A failure as a value: one sentence for the person, the rest for the program.
struct Error {
    ErrorKind kind = ErrorKind::Internal;
    std::string message;                         ///< what happened, naming the offending text
    std::string hint = {};                       ///< what to do about it; may be empty
    std::optional<std::size_t> byteOffset = {};  ///< place in the text that was given, in bytes
    std::string code = {};                       ///< SQLSTATE or the engine's own code
    std::string detail = {};                     ///< what the server adds to its message; may be empty
    std::string constraint = {};                 ///< the constraint that was not kept, where the server names it

    /// Message, detail and hint in one line.
    [[nodiscard]] std::string text() const;
    friend bool operator==(const Error&, const Error&) = default;
};

}  // namespace pantry
