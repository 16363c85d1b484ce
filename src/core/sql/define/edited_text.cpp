#include "core/sql/define/edited_text.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <set>

#include "core/base/text.h"
#include "core/sql/define/object_words.h"
#include "core/sql/syntax/splitter.h"
#include "core/sql/text/lexer.h"
#include "core/sql/write/names.h"

namespace pantry::sql {
namespace {

using catalog::ObjectKind;

constexpr auto kReplaceable =
    std::to_array<std::string_view>({"view", "function", "procedure", "aggregate", "trigger", "rule", "event"});

/// A CREATE statement as far as its name: what it makes, and how it is called there.
struct Made {
    std::string kind;        // in lower case; empty where it makes something else
    std::string name;        // its last part, without quotes
    std::string parameters;  // of a routine, as they stand, blanks drawn together
    std::size_t verbEnd = 0;
    bool isCreate = false;
    bool replaces = false;
    bool isConstraint = false;
    bool isMaterialized = false;
};

bool isName(const Token& token) { return token.kind == TokenKind::Word || token.kind == TokenKind::QuotedName; }

/// Text between brackets, with single blanks.
std::string inBrackets(std::string_view text, const std::vector<Token>& tokens, std::size_t open) {
    std::string out;
    int depth = 0;
    for (std::size_t i = open; i < tokens.size(); ++i) {
        if (tokens[i].kind == TokenKind::OpenParen) ++depth;
        if (tokens[i].kind == TokenKind::CloseParen && --depth == 0) break;
        if (!out.empty()) out += ' ';
        out += base::toLower(tokens[i].textIn(text));
    }
    return out;
}

/// The name that begins at a token: its last part.
void readName(Made& made, std::string_view text, const std::vector<Token>& tokens, std::size_t i) {
    while (i + 2 < tokens.size() && tokens[i + 1].kind == TokenKind::Dot) i += 2;
    if (i >= tokens.size() || !isName(tokens[i])) return;
    made.name = unquotedName(tokens[i].textIn(text));
    if (i + 1 < tokens.size() && tokens[i + 1].kind == TokenKind::OpenParen) {
        made.parameters = inBrackets(text, tokens, i + 1);
    }
}

Made madeBy(std::string_view text, Dialect dialect) {
    Made made;
    std::vector<Token> tokens = lex(text, dialect);
    std::erase_if(tokens, [](const Token& token) { return token.isSilent(); });
    const auto isWord = [&](std::size_t i, std::string_view word) {
        return i < tokens.size() && base::equalsIgnoringCase(tokens[i].textIn(text), word);
    };
    if (!isWord(0, "create")) return made;
    made.isCreate = true;
    made.verbEnd = tokens.front().end();
    made.replaces = isWord(1, "or") && isWord(2, "replace");
    for (std::size_t i = 1; i < tokens.size(); ++i) {
        if (isWord(i, "as") || isWord(i, "on") || tokens[i].kind == TokenKind::OpenParen) break;
        made.isConstraint = made.isConstraint || isWord(i, "constraint");
        made.isMaterialized = made.isMaterialized || isWord(i, "materialized");
        const std::string word = base::toLower(tokens[i].textIn(text));
        if (std::ranges::find(kReplaceable, word) == kReplaceable.end()) continue;
        made.kind = word;
        ++i;
        if (isWord(i, "if")) i += 3;
        readName(made, text, tokens, i);
        break;
    }
    return made;
}

struct Part {
    std::string_view text;
    std::size_t start;
};

std::vector<Part> partsOf(std::string_view text, Dialect dialect) {
    std::vector<Part> parts;
    for (const StatementSpan& span : splitStatements(text, dialect)) {
        parts.push_back({text.substr(span.start, span.length), span.start});
    }
    return parts;
}

std::string dropOf(const EditedObject& edited, Dialect dialect) {
    const catalog::ObjectName& object = edited.object;
    if (edited.trigger.empty()) {
        return fmt::format("DROP {} {}", objectWord(object.kind),
                           withParameters(qualifiedName(object.schema, object.name, dialect), object, dialect));
    }
    if (dialect == Dialect::Postgres) {
        return fmt::format("DROP TRIGGER {} ON {}", quotedName(edited.trigger, dialect),
                           qualifiedName(object.schema, object.name, dialect));
    }
    return "DROP TRIGGER " + qualifiedName(object.schema, edited.trigger, dialect);
}

std::string nameOf(const EditedObject& edited) { return edited.trigger.empty() ? edited.object.name : edited.trigger; }

/// A statement as it is run: CREATE takes the place of what is there where the engine can do that.
DefinitionStep stepOf(const Part& part, const Made& made, bool isToReplace, Dialect dialect) {
    DefinitionStep step{.statement = std::string(part.text), .label = {}, .textStart = part.start};
    step.label = made.name.empty() ? base::oneLine(step.statement, 60) : fmt::format("Make {}", made.name);
    const bool canReplace =
        dialect != Dialect::Sqlite && !made.kind.empty() && !made.isConstraint && !made.isMaterialized;
    if (isToReplace && canReplace && !made.replaces) {
        constexpr std::string_view kReplace = " OR REPLACE";
        step.statement.insert(made.verbEnd, kReplace);
        step.added = kReplace.size();
    }
    return step;
}

/// What a text makes that is not what stood there before.
std::string remarkOn(const EditedObject& edited, const Made& now, const Made& was, bool isDropped) {
    if (edited.isNew() || now.name.empty() || isDropped) return {};
    if (!base::equalsIgnoringCase(now.name, nameOf(edited))) {
        return fmt::format("This makes {} beside {}, which stays as it is.", now.name, nameOf(edited));
    }
    if (isRoutineKind(edited.object.kind) && edited.trigger.empty() && now.parameters != was.parameters) {
        return fmt::format(
            "Other parameters make another routine; the {} that is there stays, unless it is dropped first.",
            nameOf(edited));
    }
    return {};
}

}  // namespace

const std::vector<ObjectKind>& writtenKinds(Dialect dialect) {
    static const std::vector<ObjectKind> kPostgres{ObjectKind::View, ObjectKind::MaterializedView, ObjectKind::Function,
                                                   ObjectKind::Procedure};
    static const std::vector<ObjectKind> kMySql{ObjectKind::View, ObjectKind::Function, ObjectKind::Procedure,
                                                ObjectKind::Event};
    static const std::vector<ObjectKind> kSqlite{ObjectKind::View};
    static const std::vector<ObjectKind> kNone;
    switch (dialect) {
        case Dialect::Postgres: return kPostgres;
        case Dialect::MySql: return kMySql;
        case Dialect::Sqlite: return kSqlite;
        case Dialect::Ansi: break;
    }
    return kNone;
}

std::string textToBegin(const EditedObject& edited, Dialect dialect) {
    const catalog::ObjectName& object = edited.object;
    const bool isPostgres = dialect == Dialect::Postgres;
    if (edited.isNewTrigger) {
        const std::string table = qualifiedName(object.schema, object.name, dialect);
        if (isPostgres) {
            return fmt::format(
                "CREATE TRIGGER new_trigger\n    BEFORE UPDATE ON {}\n    FOR EACH ROW\n"
                "    EXECUTE FUNCTION suppress_redundant_updates_trigger();\n",
                table);
        }
        if (dialect == Dialect::MySql) {
            return fmt::format("CREATE TRIGGER {}\n    BEFORE UPDATE ON {}\n    FOR EACH ROW\n    SET @changed = 1;\n",
                               qualifiedName(object.schema, "new_trigger", dialect), table);
        }
        return fmt::format("CREATE TRIGGER {}\n    AFTER UPDATE ON {}\nBEGIN\n    SELECT NEW.rowid;\nEND;\n",
                           qualifiedName(object.schema, "new_trigger", dialect), quotedName(object.name, dialect));
    }
    const auto named = [&](std::string_view name) { return qualifiedName(object.schema, name, dialect); };
    switch (object.kind) {
        case ObjectKind::MaterializedView:
            return fmt::format("CREATE MATERIALIZED VIEW {} AS\nSELECT 1 AS one;\n", named("new_view"));
        case ObjectKind::Function:
            if (isPostgres) {
                return fmt::format(
                    "CREATE FUNCTION {} (n integer) RETURNS integer\n    LANGUAGE sql\n    IMMUTABLE\nAS $$\n"
                    "    SELECT n * 2\n$$;\n",
                    named("new_function"));
            }
            return fmt::format("CREATE FUNCTION {} (n int) RETURNS int\n    DETERMINISTIC\n    RETURN n * 2;\n",
                               named("new_function"));
        case ObjectKind::Procedure:
            if (isPostgres) {
                return fmt::format(
                    "CREATE PROCEDURE {} (n integer)\n    LANGUAGE plpgsql\nAS $$\nBEGIN\n"
                    "    RAISE NOTICE '%', n;\nEND\n$$;\n",
                    named("new_procedure"));
            }
            return fmt::format("CREATE PROCEDURE {} (IN n int)\nBEGIN\n    SELECT n * 2 AS twice;\nEND;\n",
                               named("new_procedure"));
        case ObjectKind::Event:
            return fmt::format("CREATE EVENT {}\n    ON SCHEDULE EVERY 1 DAY\n    DISABLE\n    DO SELECT 1;\n",
                               named("new_event"));
        default: break;
    }
    return fmt::format("CREATE VIEW {} AS\nSELECT 1 AS one;\n", named("new_view"));
}

bool needsDrop(const EditedObject& edited, std::string_view text, Dialect dialect) {
    if (edited.isNew()) return false;
    if (dialect == Dialect::Sqlite) return true;
    if (edited.trigger.empty()) return edited.object.kind == ObjectKind::MaterializedView;
    return madeBy(text, dialect).isConstraint;
}

bool canDropFirst(const EditedObject& edited, Dialect dialect) {
    return !edited.isNew() && dialect == Dialect::Postgres;
}

Result<TextChange> applyText(const EditedObject& edited, std::string_view text, std::string_view before,
                             bool dropsFirst, Dialect dialect) {
    const std::vector<Part> parts = partsOf(text, dialect);
    const std::vector<Part> old = partsOf(before, dialect);
    const Made first = parts.empty() ? Made{} : madeBy(parts.front().text, dialect);
    if (!first.isCreate) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = "The text does not begin with CREATE.",
                     .hint = "It is to be the statement that makes the object.",
                     .byteOffset = parts.empty() ? 0 : parts.front().start};
    }
    std::set<std::string_view> unchanged;
    for (const Part& part : old) unchanged.insert(part.text);
    const bool isSame = std::ranges::all_of(parts, [&](const Part& part) { return unchanged.contains(part.text); });
    const bool isDropped = dropsFirst || needsDrop(edited, text, dialect);
    TextChange out{.change = {}, .madeName = first.name};
    if (!edited.isNew() && isSame && parts.size() == old.size()) return out;
    if (isDropped && !edited.isNew()) {
        out.change.steps.push_back({dropOf(edited, dialect), "Drop " + nameOf(edited), true});
    }
    for (const Part& part : parts) {
        if (!isDropped && !edited.isNew() && unchanged.contains(part.text)) continue;
        out.change.steps.push_back(stepOf(part, madeBy(part.text, dialect), !isDropped && !edited.isNew(), dialect));
    }
    const Made was = old.empty() ? Made{} : madeBy(old.front().text, dialect);
    out.remark = remarkOn(edited, first, was, isDropped);
    return out;
}

std::string triggerIn(std::string_view script, std::string_view trigger, Dialect dialect) {
    for (const Part& part : partsOf(script, dialect)) {
        const Made made = madeBy(part.text, dialect);
        if (made.kind == "trigger" && base::equalsIgnoringCase(made.name, trigger)) {
            return std::string(part.text) + ";\n";
        }
    }
    return {};
}

}  // namespace pantry::sql
