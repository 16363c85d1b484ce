#pragma once

#include <CLI/CLI.hpp>
#include <string>
#include <vector>

#include "core/exchange/row_export.h"

namespace pantry::cli {

/// How rows are written, as options of a command.
///
/// Lifetime: addTo() binds its members, so it outlives the command.
struct ExportOptions {
    void addTo(CLI::App& command);
    /// Everything but the format and the dialect.
    [[nodiscard]] exchange::ExportChoices choices() const;

    std::vector<std::string> columns;
    std::string nullText;
    bool hasNoHeadings = false;
    std::string delimiter = ",";
    std::string quoting = "needed";
    std::string quote = "\"";
    std::string escape = "double";
    std::string lineEnd = "crlf";
    std::string encoding = "utf-8";
    std::string compression = "none";
    std::string trueText;
    std::string falseText;
    std::string dateForm = "as-sent";
    std::string decimalSign = ".";
    bool trims = false;
    bool guardsFormulas = false;
    std::string title = "Rows";
    std::string table = "rows";
    std::string dialect;  ///< empty: the connection's
    std::size_t batchRows = 100;
    bool hasCreateTable = false;
    bool isIndented = false;
    bool isInexactText = false;
};

}  // namespace pantry::cli
