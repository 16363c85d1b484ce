#include "cli/command.h"
#include "cli/password_prompt.h"

#include <fmt/format.h>
#include <unistd.h>

#include <future>

#include "core/base/file.h"
#include "core/base/output_file.h"
#include "core/base/text.h"
#include "core/base/utf8.h"
#include "core/db/session.h"
#include "core/store/catalog_file.h"

namespace pantry::cli {

store::Home Context::home() const {
    return store::findHome(homeFolder.empty() ? std::nullopt : std::optional<std::filesystem::path>(homeFolder));
}

void TextInput::addTo(CLI::App& command, bool withExpression) {
    auto* fileOption = command.add_option("-f,--file", file, "Read FILE instead of standard input")->type_name("FILE");
    if (withExpression) {
        command.add_option("-e,--execute", text, "Take SQL from the command line")
            ->type_name("SQL")
            ->excludes(fileOption);
    }
}

Result<std::string> TextInput::read() const {
    if (text) return *text;
    return file.empty() || file == "-" ? base::readStandardInput() : base::readFile(file);
}

CLI::Option* DialectOption::addTo(CLI::App& command) {
    command.add_flag("--ansi-quotes", ansiQuotes, "In MariaDB and MySQL: double quotes hold names (ANSI_QUOTES)");
    command
        .add_option("--backslash", backslash,
                    "Whether \\ in '…' escapes what follows, where the session says other than the dialect")
        ->check(CLI::IsMember({"escapes", "plain"}))
        ->type_name("HOW");
    return command.add_option("-d,--dialect", name, "Language of the text: postgres, mysql, sqlite or ansi")
        ->check(CLI::IsMember({"postgres", "mysql", "sqlite", "ansi"}))
        ->type_name("DIALECT");
}

sql::Language DialectOption::language() const {
    sql::Language language = sql::dialectFromName(name).value_or(sql::Dialect::Ansi);
    language.ansiQuotes = ansiQuotes;
    if (!backslash.empty()) language.backslash = backslash == "plain" ? sql::Backslash::Plain : sql::Backslash::Escapes;
    return language;
}

void CatalogOption::addTo(CLI::App& command) {
    auto* connected = command.add_option("-c,--connection", connection, "Take tables and columns from this connection");
    command.add_option("--catalog", file, "Take tables and columns from FILE, as pantry catalog --json writes it")
        ->type_name("FILE")
        ->excludes(connected);
}

Result<catalog::View> CatalogOption::load(const Context& context) const {
    if (!file.empty()) return store::readCatalogFile(file);
    if (connection.empty()) return catalog::View();
    auto found = findConnection(context, connection);
    if (!found) return found.error();
    db::Session session(found->profile, store::passwordProvider(found->password));
    auto loaded = loadCatalogOf(session);
    if (!loaded) return loaded.error();
    return catalog::View(*loaded);
}

Result<sql::Language> CatalogOption::languageOf(const DialectOption& dialect, const Context& context) const {
    sql::Language language = dialect.language();
    if (!dialect.name.empty()) return language;
    if (connection.empty()) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = "It is not known which language the text is in.",
                     .hint = "Say --dialect postgres, mysql, sqlite or ansi, or --connection."};
    }
    auto saved = store::ConnectionsFile(context.home().connectionsFile()).load();
    if (!saved) return saved.error();
    const auto found = store::resolveConnection(connection, saved->profiles);
    if (!found) return found.error();
    language.dialect = db::dialectOf(found->profile.engine);
    return language;
}

void tell(std::string_view text) {
    const std::string shown = ::isatty(STDERR_FILENO) == 1 ? base::withVisibleControls(text) : std::string(text);
    std::fwrite(shown.data(), 1, shown.size(), stderr);
}

Status writeOutput(const std::string& file, std::string_view content) {
    if (!file.empty() && file != "-") return base::writeOutputFile(file, content);
    const bool isTerminal = ::isatty(STDOUT_FILENO) == 1;
    const std::string shown = isTerminal ? base::withVisibleControls(content) : std::string();
    if (isTerminal) content = shown;
    std::fwrite(content.data(), 1, content.size(), stdout);
    if (std::fflush(stdout) == 0) return {};
    return base::fileError(errno, "write", "standard output");
}

void fail(Context& context, const Error& error) {
    tell(fmt::format("pantry: {}\n", error.text()));
    context.exitCode = kFailed;
}

void failAt(Context& context, const std::string& file, std::string_view text, std::size_t offset, const Error& error) {
    const base::LinePosition place = base::linePositionAt(text, offset);
    tell(fmt::format("{}:{}:{}: {}\n", file, place.line, place.column, error.text()));
    context.exitCode = kFailed;
}

Result<store::ResolvedConnection> findConnection(const Context& context, const std::string& wanted) {
    auto saved = store::ConnectionsFile(context.home().connectionsFile()).load();
    if (!saved) return saved.error();
    if (saved->notice) tell(fmt::format("pantry: {}\n", saved->notice->text()));
    auto found = store::resolveConnection(wanted, saved->profiles);
    if (found && !found->password) found->password = passwordFromTerminal(found->profile);
    return found;
}

Result<catalog::CatalogPtr> loadCatalogOf(db::Session& session, catalog::Request request) {
    std::promise<Result<catalog::CatalogPtr>> promise;
    session.loadCatalog(std::move(request),
                        [&](Result<catalog::CatalogPtr> catalog) { promise.set_value(std::move(catalog)); });
    return promise.get_future().get();
}

}  // namespace pantry::cli
