#include <exception>
#include <string>
#include <vector>

#include "cli/command.h"
#include "core/base/output_file.h"
#include "core/base/process_privacy.h"
#include "core/store/log.h"

namespace {

constexpr const char* kDescription =
    "Agile Pantry without a window: format and check SQL, look into databases, run statements, search the history.";

constexpr const char* kFooter = R"(
Text is read from standard input or -f FILE, results are written to standard output or --to FILE, messages to
standard error as file:line:column: message.

Exit status: 0 when all is well, 1 when a statement or a check failed, 2 for wrong use.

--connection takes the name of a saved connection or an address such as sqlite:///srv/kitchen.db.
Each sub-command explains itself: pantry run --help.)";

}  // namespace

int main(int argc, char** argv) try {
    using namespace pantry::cli;
    pantry::base::keepMemoryPrivate();
    pantry::base::takePasswordVariables();
    pantry::base::keepFilesPrivate();
    Context context;
    CLI::App app(kDescription, "pantry");
    app.footer(kFooter);
    app.set_version_flag("--version", "Agile Pantry " PANTRY_VERSION);
    app.add_option("--home", context.homeFolder,
                   "Folder with connections, history and settings (else $AGILE_PANTRY_HOME, else the XDG folders)")
        ->type_name("DIR");
    app.add_flag("--verbose", context.isVerbose, "Write details to the log file");
    app.require_subcommand(1);
    app.fallthrough();
    app.parse_complete_callback([&] { pantry::store::startLog(context.home(), context.isVerbose); });
    addFormat(app, context);
    addSplit(app, context);
    addCheck(app, context);
    addComplete(app, context);
    addConnections(app, context);
    addCatalog(app, context);
    addScript(app, context);
    addRun(app, context);
    addHistory(app, context);
    addShelf(app, context);
    addDemo(app, context);
    try {
        const std::vector<std::string> arguments = pantry::base::takeArguments(argc, argv);
        std::vector<const char*> words;
        for (const std::string& word : arguments) words.push_back(word.c_str());
        app.parse(argc, words.data());
    } catch (const CLI::ParseError& error) {
        return app.exit(error) == 0 ? kAllWell : kWrongUse;
    }
    return context.exitCode;
} catch (const std::exception& error) {
    std::fprintf(stderr, "pantry: %s\n", error.what());
    return 1;
}
