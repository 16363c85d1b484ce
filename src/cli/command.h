#pragma once

#include <CLI/CLI.hpp>
#include <cstdio>
#include <functional>
#include <optional>
#include <string>
#include <string_view>

#include "core/base/result.h"
#include "core/catalog/catalog_view.h"
#include "core/db/session.h"
#include "core/sql/text/dialect.h"
#include "core/store/connections_file.h"
#include "core/store/home.h"
#include "core/store/passwords.h"

namespace pantry::cli {

/// Exit codes of `pantry`.
enum ExitCode : int { kAllWell = 0, kFailed = 1, kWrongUse = 2 };

/// What every sub-command has at hand.
struct Context {
    std::string homeFolder;  ///< --home
    bool isVerbose = false;
    int exitCode = kAllWell;  ///< set by the sub-command that ran

    [[nodiscard]] store::Home home() const;
};

/// Options that say where text comes from.
struct TextInput {
    std::string file;
    std::optional<std::string> text;  ///< given on the command line itself

    void addTo(CLI::App& command, bool withExpression);
    /// Errors: what reading can fail with.
    [[nodiscard]] Result<std::string> read() const;
    /// Its name in messages: the file, or “-”.
    [[nodiscard]] std::string name() const { return file.empty() ? "-" : file; }
};

/// --dialect, with the settings of a session that change how its texts are read.
struct DialectOption {
    std::string name;
    bool ansiQuotes = false;
    std::string backslash;

    CLI::Option* addTo(CLI::App& command);
    [[nodiscard]] sql::Language language() const;
};

/// Where tables and columns are known from: --connection or --catalog, or nowhere.
struct CatalogOption {
    std::string connection;
    std::string file;

    void addTo(CLI::App& command);
    [[nodiscard]] bool isGiven() const { return !connection.empty() || !file.empty(); }
    /// The catalog; an empty one when none was asked for. Errors: what connecting or reading can fail with.
    [[nodiscard]] Result<catalog::View> load(const struct Context& context) const;
    /// The language of the text: what `dialect` says, else that of the connection. Errors: InvalidInput when neither is
    /// given, those of finding the connection.
    [[nodiscard]] Result<sql::Language> languageOf(const DialectOption& dialect, const struct Context& context) const;
};

/// Writes to --to FILE, whole or not at all, or to standard output.
Status writeOutput(const std::string& file, std::string_view content);

/// Writes to standard error; what a server or a file put into it cannot steer a terminal.
void tell(std::string_view text);

/// Prints `error` to standard error and notes the failure.
void fail(Context& context, const Error& error);

/// Prints file:line:column: message, the place being a byte offset into `text`.
void failAt(Context& context, const std::string& file, std::string_view text, std::size_t offset, const Error& error);

/// The saved connection or address that --connection names.
Result<store::ResolvedConnection> findConnection(const Context& context, const std::string& wanted);

/// Loads a catalog and waits for it.
Result<catalog::CatalogPtr> loadCatalogOf(db::Session& session, catalog::Request request = {});

// Each adds its sub-command; the callbacks run while the command line is parsed.
void addFormat(CLI::App& app, Context& context);
void addSplit(CLI::App& app, Context& context);
void addCheck(CLI::App& app, Context& context);
void addComplete(CLI::App& app, Context& context);
void addConnections(CLI::App& app, Context& context);
void addCatalog(CLI::App& app, Context& context);
void addScript(CLI::App& app, Context& context);
void addRun(CLI::App& app, Context& context);
void addHistory(CLI::App& app, Context& context);
void addShelf(CLI::App& app, Context& context);
void addDemo(CLI::App& app, Context& context);

}  // namespace pantry::cli
