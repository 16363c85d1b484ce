#pragma once

#include <string>
#include <vector>

#include "cli/command.h"
#include "cli/export_options.h"

namespace pantry::cli {

/// How a script runs on the command line.
struct RunChoices {
    std::string connection;
    std::string as = "table";
    std::string to;
    std::size_t rows = 0;             ///< 0: all
    std::vector<std::string> values;  ///< name=value
    std::string onError = "stop";
    std::string confirmed;    ///< the connection on which what is held back may run
    std::string environment;  ///< of a plain address
    bool showsProgress = false;
    ExportOptions exports;
    std::string inputName = "-";  ///< of the script, in messages
    std::string saved;            ///< where on the shelf it came from

    /// Everything but the connection.
    void addTo(CLI::App& command);
};

/// Runs the statements of a script, one after another, and prints or writes what they return.
void runScript(Context& context, const RunChoices& choices, const std::string& script);

}  // namespace pantry::cli
