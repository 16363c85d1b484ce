#include <fmt/format.h>

#include <algorithm>
#include <future>
#include <memory>

#include "cli/command.h"
#include "cli/json_output.h"
#include "core/base/utf8.h"
#include "core/sql/check/findings.h"
#include "core/sql/complete/completion.h"
#include "core/sql/layout/format_choice.h"
#include "core/sql/layout/formatter.h"
#include "core/sql/syntax/splitter.h"
#include "core/store/passwords.h"
#include "core/store/settings.h"
#include "core/work/server_check.h"

namespace pantry::cli {
namespace {

/// Reads the input or reports why not.
std::optional<std::string> readOrFail(Context& context, const TextInput& input) {
    auto text = input.read();
    if (text) return std::move(*text);
    fail(context, text.error());
    return std::nullopt;
}

void writeOrFail(Context& context, const std::string& file, std::string_view content) {
    if (Status status = writeOutput(file, content); !status) fail(context, status.error());
}

}  // namespace

void addFormat(CLI::App& app, Context& context) {
    struct Options {
        TextInput input;
        DialectOption dialect;
        std::string to;
        sql::FormatOptions format;
        std::vector<std::string> words;  // one for each of sql::formatChoices()
        bool checks = false;
    };
    auto o = std::make_shared<Options>();
    CLI::App* command = app.add_subcommand("format", "Format SQL; tokens and comments stay as they are");
    command->footer(
        "Statements with a syntax error stay untouched.\n"
        "With --check nothing is written: the exit status says whether the text is formatted already.\n"
        "Example: pantry format --dialect sqlite --width 100 -f report.sql --to report.sql");
    o->input.addTo(*command, true);
    o->dialect.addTo(*command)->required();
    command->add_option("--to", o->to, "Write FILE instead of standard output")->type_name("FILE");
    command->add_option("--width", o->format.width, "Columns to fill before a line breaks (88)")
        ->check(CLI::Range(20, 1000));
    command->add_option("--indent", o->format.indentWidth, "Spaces of an indent (4)")->check(CLI::Range(1, 16));
    o->words.resize(sql::formatChoices().size());
    for (std::size_t i = 0; i < o->words.size(); ++i) {
        const sql::FormatChoice& choice = sql::formatChoices()[i];
        const std::vector<std::string> values(choice.words.begin(), choice.words.end());
        command
            ->add_option("--" + std::string(choice.name), o->words[i],
                         fmt::format("{} ({})", choice.help, choice.words.front()))
            ->check(CLI::IsMember(values));
    }
    command->add_flag("--check", o->checks, "Only tell whether formatting would change anything");
    command->callback([o, &context] {
        const auto text = readOrFail(context, o->input);
        if (!text) return;
        for (std::size_t i = 0; i < o->words.size(); ++i) sql::choose(o->format, sql::formatChoices()[i], o->words[i]);
        std::vector<sql::UnreadStatement> unread;
        const std::string formatted = sql::formatScript(*text, o->dialect.language(), o->format, &unread);
        for (const sql::UnreadStatement& one : unread) {
            const base::LinePosition place = base::linePositionAt(*text, one.offset);
            tell(fmt::format("{}:{}:{}: left as it is: {}\n", o->input.name(), place.line, place.column, one.message));
        }
        if (!o->checks) return writeOrFail(context, o->to, formatted);
        if (formatted == *text) return;
        std::size_t at = 0;
        while (at < text->size() && at < formatted.size() && (*text)[at] == formatted[at]) ++at;
        failAt(context, o->input.name(), *text, at,
               Error{.kind = ErrorKind::InvalidInput, .message = "Formatting would change this."});
    });
}

void addSplit(CLI::App& app, Context& context) {
    struct Options {
        TextInput input;
        DialectOption dialect;
        bool asJson = false;
    };
    auto o = std::make_shared<Options>();
    CLI::App* command = app.add_subcommand("split", "List the statements of a script");
    command->footer(
        "A statement's span goes from its first token to its last; terminators, and blanks and comments around it, "
        "are\n"
        "not in it. Offsets are bytes of the input. With --json:\n"
        "  [{\"start\":byte,\"length\":bytes,\"line\":n,\"kind\":\"select\"}, …]");
    o->input.addTo(*command, true);
    o->dialect.addTo(*command)->required();
    command->add_flag("--json", o->asJson, "Write JSON");
    command->callback([o, &context] {
        const auto text = readOrFail(context, o->input);
        if (!text) return;
        JsonArray json(JsonArray::Layout::LineEach);
        std::string table;
        for (const sql::StatementSpan& s : sql::splitStatements(*text, o->dialect.language())) {
            json.add(JsonObject()
                         .number("start", s.start)
                         .number("length", s.length)
                         .number("line", s.line)
                         .text("kind", sql::kindName(s.kind))
                         .str());
            table += fmt::format("line {:<6} {:<10} bytes {}-{}\n", s.line, sql::kindName(s.kind), s.start, s.end());
        }
        writeOrFail(context, "", o->asJson ? json.str() + "\n" : table);
    });
}

namespace {

/// What the server of the connection says of the statements, one each, without running them.
Result<std::vector<db::Session::Opinion>> askServer(const Context& context, const std::string& connection,
                                                    const sql::Script& script) {
    auto found = findConnection(context, connection);
    if (!found) return found.error();
    db::Session session(found->profile, store::passwordProvider(found->password));
    std::promise<Result<std::vector<db::Session::Opinion>>> said;
    session.check(work::statementsOf(script), [&](auto opinions) { said.set_value(std::move(opinions)); });
    return said.get_future().get();
}

std::string findingJson(const sql::Finding& f) {
    JsonObject out;
    out.text("rule", f.rule)
        .text("severity", sql::severityName(f.severity))
        .number("start", f.start)
        .number("length", f.length)
        .text("message", f.message);
    if (f.rule == work::kServerRule) out.text("source", "server");
    if (f.fix) {
        out.json(
            "fix",
            JsonObject().number("start", f.fix->start).number("length", f.fix->length).text("text", f.fix->text).str());
    }
    return out.str();
}

/// What the settings and the command line say about the rules.
Result<sql::CheckOptions> checkOptionsFrom(const Context& context, const std::vector<std::string>& without) {
    sql::CheckOptions options;
    auto loaded = store::loadSettings(context.home().settingsFile());
    if (!loaded) return loaded.error();
    options.off.insert(loaded->settings.findingsOff.begin(), loaded->settings.findingsOff.end());
    options.off.insert(without.begin(), without.end());
    options.manyRows = loaded->settings.manyRows;
    return options;
}

void listRules() {
    for (const sql::FindingRule& rule : sql::findingRules()) {
        fmt::print("{:<26} {:<8} {}{}\n", rule.name, sql::severityName(rule.severity), rule.summary,
                   rule.needsCatalog ? " (needs the catalog)" : "");
    }
}

std::vector<std::string> ruleNames() {
    std::vector<std::string> names;
    for (const sql::FindingRule& rule : sql::findingRules()) names.emplace_back(rule.name);
    return names;
}

struct CheckChoices {
    TextInput input;
    DialectOption dialect;
    CatalogOption catalog;
    std::vector<std::string> without;
    bool asJson = false;
    bool listsRules = false;
    bool asksServer = false;
};

/// A line for each, or JSON. Exit status 1 when one of them is an error.
void tellFindings(Context& context, const CheckChoices& choices, std::string_view text,
                  const std::vector<sql::Finding>& findings) {
    JsonArray objects(JsonArray::Layout::LineEach);
    std::string lines;
    base::LineFinder finder(text);
    for (const sql::Finding& f : findings) {
        if (choices.asJson) {
            objects.add(findingJson(f));
        } else {
            const base::LinePosition place = finder.at(f.start);
            lines += fmt::format("{}:{}:{}: {} [{}: {}]\n", choices.input.name(), place.line, place.column, f.message,
                                 sql::severityName(f.severity), f.rule);
        }
    }
    const bool hasErrors =
        std::ranges::any_of(findings, [](const sql::Finding& f) { return f.severity == sql::Severity::Error; });
    context.exitCode = hasErrors ? kFailed : kAllWell;
    tell(lines);
    if (choices.asJson) writeOrFail(context, "", objects.str() + "\n");
}

/// What the rules find, and then what the server says, in the order of the text. Errors: those of the server.
Result<std::vector<sql::Finding>> findingsIn(Context& context, const CheckChoices& choices, const std::string& text,
                                             const sql::Language& language, const sql::CheckOptions& options) {
    std::vector<sql::Finding> findings = sql::checkScript(text, language, options);
    if (!choices.asksServer) return findings;
    sql::Script script(language);
    script.setText(text);
    const auto opinions = askServer(context, choices.catalog.connection, script);
    if (!opinions) return opinions.error();
    const std::vector<sql::Finding> said = work::serverFindings(script, *opinions, findings);
    findings.insert(findings.end(), said.begin(), said.end());
    std::ranges::stable_sort(findings, {}, &sql::Finding::start);
    return findings;
}

void failUse(Context& context, const Error& error) {
    fail(context, error);
    context.exitCode = kWrongUse;
}

void check(Context& context, const CheckChoices& choices) {
    if (choices.listsRules) return listRules();
    if (choices.asksServer && choices.catalog.connection.empty()) {
        return failUse(context, {.kind = ErrorKind::InvalidInput,
                                 .message = "--on-server needs a server.",
                                 .hint = "Say which with --connection."});
    }
    const auto language = choices.catalog.languageOf(choices.dialect, context);
    if (!language) return failUse(context, language.error());
    const auto text = readOrFail(context, choices.input);
    if (!text) return;
    auto options = checkOptionsFrom(context, choices.without);
    if (!options) return fail(context, options.error());
    const auto catalog = choices.catalog.load(context);
    if (!catalog) return fail(context, catalog.error());
    if (choices.catalog.isGiven()) options->catalog = &*catalog;
    const auto findings = findingsIn(context, choices, *text, *language, *options);
    if (!findings) return fail(context, findings.error());
    tellFindings(context, choices, *text, *findings);
}

}  // namespace

void addCheck(CLI::App& app, Context& context) {
    auto o = std::make_shared<CheckChoices>();
    CLI::App* command = app.add_subcommand("check", "Find mistakes in SQL without running it");
    command->footer(
        "Exit status 1 when there is an error; warnings and hints leave it at 0. A comment silences rules for the\n"
        "statement it stands in or above:  -- pantry: allow delete-without-where\n"
        "With --json:\n"
        "  [{\"rule\":…,\"severity\":…,\"start\":byte,\"length\":bytes,\"message\":…,\n"
        "    \"source\":\"server\" (of what a server says),\n"
        "    \"fix\":{\"start\":byte,\"length\":bytes,\"text\":…}}, …]");
    o->input.addTo(*command, true);
    o->dialect.addTo(*command);
    o->catalog.addTo(*command);
    command->add_option("--without", o->without, "Leave out a rule; may be given several times")
        ->type_name("RULE")
        ->check(CLI::IsMember(ruleNames()));
    command->add_flag("--on-server", o->asksServer,
                      "Also ask the server of --connection what it says, without running anything");
    command->add_flag("--json", o->asJson, "Write JSON to standard output");
    command->add_flag("--rules", o->listsRules, "List the rules and do nothing else");
    command->callback([o, &context] { check(context, *o); });
}

void addComplete(CLI::App& app, Context& context) {
    struct Options {
        TextInput input;
        DialectOption dialect;
        CatalogOption catalog;
        std::size_t at = 0;
        bool asJson = false;
    };
    auto o = std::make_shared<Options>();
    CLI::App* command = app.add_subcommand("complete", "List what could stand at a place in SQL");
    command->footer(
        "Best first. With --json:\n  [{\"text\":…,\"kind\":…,\"detail\":…,\"replaces\":[start,length]}, …]\n"
        "Without a connection only keywords, functions and names of the statement itself are known.");
    o->input.addTo(*command, true);
    o->dialect.addTo(*command);
    command->add_option("--at", o->at, "Place as a byte offset")->required()->type_name("BYTE");
    o->catalog.addTo(*command);
    command->add_flag("--json", o->asJson, "Write JSON");
    command->callback([o, &context] {
        const auto language = o->catalog.languageOf(o->dialect, context);
        if (!language) {
            fail(context, language.error());
            context.exitCode = kWrongUse;
            return;
        }
        const auto text = readOrFail(context, o->input);
        if (!text) return;
        const auto catalog = o->catalog.load(context);
        if (!catalog) return fail(context, catalog.error());
        const auto completion = sql::completeAt(*text, o->at, *language, *catalog, {.isAsked = true});
        JsonArray json(JsonArray::Layout::LineEach);
        std::string table;
        for (const sql::CompletionItem& item : completion.items) {
            json.add(JsonObject()
                         .text("text", item.text)
                         .text("kind", sql::completionKindName(item.kind))
                         .text("detail", item.detail)
                         .json("replaces", fmt::format("[{},{}]", completion.start, completion.length))
                         .str());
            table += fmt::format("{:<32} {:<12} {}\n", item.text, sql::completionKindName(item.kind), item.detail);
        }
        writeOrFail(context, "", o->asJson ? json.str() + "\n" : table);
    });
}

}  // namespace pantry::cli
