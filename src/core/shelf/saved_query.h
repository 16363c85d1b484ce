#pragma once

#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

namespace pantry::shelf {

/// A parameter of a saved query, as its head tells it.
struct QueryParameter {
    std::string name;        ///< without its sign; a number for those that have none
    std::string type = {};   ///< as the engine writes it; empty when not known
    std::string value = {};  ///< the last one, as somebody would type it; always empty where the name is a secret's
    bool hasValue = false;
    friend bool operator==(const QueryParameter&, const QueryParameter&) = default;
};

/// What the comment at the beginning of a saved query says about it.
struct QueryHead {
    std::string title;
    std::string note = {};        ///< lines with \n between them
    std::string connection = {};  ///< the name of the connection it is meant for; empty: any
    std::vector<QueryParameter> parameters = {};
    std::string grid = {};  ///< what is chosen for the columns of its first statement, as one line; empty: nothing
    std::vector<std::string> others = {};  ///< lines that this version does not know, whole; kept as they are
    friend bool operator==(const QueryHead&, const QueryHead&) = default;
};

/// A saved query: a text of SQL, and before it perhaps a head of comment lines, which every tool can read:
///
///     -- title: Scab by plot
///     -- note: Which plots need treatment before blossom.
///     --       Visits without a score count as visits.
///     -- connection: Orchard records
///     -- parameter: since date = 2026-01-01
///     -- grid: {"order":["scab","plot"]}
///
/// The first line must be the title; a head ends with its comment lines. What is no head is text.
struct SavedQuery {
    QueryHead head;
    std::string text;
    bool hasHead = false;
    friend bool operator==(const SavedQuery&, const SavedQuery&) = default;
};

/// Reads any text; nothing of it is lost: a head that is none is text.
[[nodiscard]] SavedQuery readQuery(std::string_view content);

/// The content of its file. Values of parameters with the names of secrets are left out.
[[nodiscard]] std::string writeQuery(const SavedQuery& query);

/// The bytes that the head takes of a content, with the empty line behind it; 0 without one.
[[nodiscard]] std::size_t headLength(std::string_view content);

}  // namespace pantry::shelf
