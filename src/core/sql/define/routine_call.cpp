#include "core/sql/define/routine_call.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.h"
#include "core/data/store/column.h"
#include "core/sql/text/lexer.h"
#include "core/sql/write/names.h"

namespace pantry::sql {
namespace {

using ParameterMode = catalog::RoutineParameter::Mode;

bool isNumber(std::string_view text) {
    const std::vector<Token> tokens = lex(text, Dialect::Postgres);
    std::size_t digits = 0;
    for (const Token& token : tokens) {
        if (token.isTrivia()) continue;
        const std::string_view part = token.textIn(text);
        if (token.kind == TokenKind::Number) {
            ++digits;
        } else if (digits > 0 || (part != "-" && part != "+")) {
            return false;
        }
    }
    return digits == 1;
}

bool isTruth(std::string_view text) {
    return base::equalsIgnoringCase(text, "true") || base::equalsIgnoringCase(text, "false");
}

class Call {
public:
    Call(const catalog::ObjectName& routine, const catalog::ObjectDetails& details, Dialect dialect)
        : routine_(routine), details_(details), dialect_(dialect) {}

    Result<std::vector<std::string>> write(const std::vector<Argument>& arguments) {
        std::size_t next = 0;
        const bool isProcedure = routine_.kind == catalog::ObjectKind::Procedure;
        for (const catalog::RoutineParameter& one : details_.parameters) {
            if (one.mode == ParameterMode::Out) {
                if (isProcedure) addOut(one);
                continue;
            }
            const Argument argument = next < arguments.size() ? arguments[next] : Argument{Argument::Kind::Null, {}};
            ++next;
            if (Status status = add(one, argument); !status) return status.error();
        }
        const std::string name = qualifiedName(routine_.schema, routine_.name, dialect_);
        std::string list;
        for (const std::string& one : list_) list += (list.empty() ? "" : ", ") + one;
        if (isProcedure) {
            statements_.push_back(fmt::format("CALL {}({})", name, list));
            if (!outs_.empty()) statements_.push_back("SELECT " + outs_);
        } else {
            statements_.push_back(fmt::format("SELECT {}{}({})", details_.returnsRows ? "* FROM " : "", name, list));
        }
        return std::move(statements_);
    }

private:
    /// PostgreSQL hands such values back as a row; MariaDB writes them into variables.
    void addOut(const catalog::RoutineParameter& one) {
        if (dialect_ == Dialect::MySql) {
            list_.push_back(variableFor(one));
        } else {
            list_.emplace_back("NULL");
        }
    }

    std::string variableFor(const catalog::RoutineParameter& one) {
        std::string name =
            "@" + quotedName(one.name.empty() ? fmt::format("p{}", list_.size() + 1) : one.name, dialect_);
        outs_ += fmt::format("{}{} AS {}", outs_.empty() ? "" : ", ", name, quotedName(one.name, dialect_));
        return name;
    }

    Status add(const catalog::RoutineParameter& one, const Argument& argument) {
        if (argument.kind == Argument::Kind::Default) {
            isLeftOut_ = true;
            return {};
        }
        auto value = valueOf(one, argument);
        if (!value) return value.error();
        if (one.mode == ParameterMode::InOut && dialect_ == Dialect::MySql) {
            const std::string variable = variableFor(one);
            statements_.push_back(fmt::format("SET {} = {}", variable, *value));
            list_.push_back(variable);
            return {};
        }
        // What comes behind one that is left out must be named.
        const bool isNamed = isLeftOut_ && dialect_ == Dialect::Postgres && !one.name.empty();
        const std::string variadic = one.mode == ParameterMode::Variadic ? "VARIADIC " : "";
        list_.push_back(variadic + (isNamed ? quotedName(one.name, dialect_) + " => " : "") + *value);
        return {};
    }

    Result<std::string> valueOf(const catalog::RoutineParameter& one, const Argument& argument) const {
        const std::string text(base::trimmed(argument.text));
        switch (argument.kind) {
            case Argument::Kind::Null:
            case Argument::Kind::Default: return std::string("NULL");
            case Argument::Kind::Expression:
                if (text.empty()) return missing(one, "an expression");
                return text;
            case Argument::Kind::Text: break;
        }
        const data::ColumnType type = data::typeFromName(one.typeName);
        if (data::isNumeric(type)) {
            if (!isNumber(text)) return missing(one, "a number");
            return text;
        }
        if (type == data::ColumnType::Boolean && !text.empty()) {
            if (!isTruth(text)) return missing(one, "true or false");
            return text;
        }
        return quotedString(argument.text, dialect_);
    }

    static Error missing(const catalog::RoutineParameter& one, std::string_view what) {
        return {.kind = ErrorKind::InvalidInput,
                .message = fmt::format("{} takes {}.", one.name.empty() ? "The parameter" : one.name, what),
                .hint = "NULL and expressions have ticks of their own."};
    }

    const catalog::ObjectName& routine_;
    const catalog::ObjectDetails& details_;
    Dialect dialect_;
    std::vector<std::string> statements_;
    std::vector<std::string> list_;
    std::string outs_;
    bool isLeftOut_ = false;
};

/// MariaDB: enum('hard','ripe').
std::vector<std::string> valuesInBrackets(std::string_view typeName, Dialect dialect) {
    std::vector<std::string> values;
    for (const Token& token : lex(typeName, dialect)) {
        if (token.kind != TokenKind::String || token.length < 2) continue;
        std::string value;
        const std::string_view inside = token.textIn(typeName).substr(1, token.length - 2);
        for (std::size_t i = 0; i < inside.size(); ++i) {
            value += inside[i];
            if (inside.substr(i, 2) == "''") ++i;
        }
        values.push_back(std::move(value));
    }
    return values;
}

/// PostgreSQL: a type of the catalog, which tells its values behind a word.
std::vector<std::string> valuesOfType(std::string_view typeName, const catalog::Catalog& catalog) {
    constexpr std::string_view kEnum = "enum: ";
    const std::size_t dot = typeName.rfind('.');
    const std::string name = unquotedName(dot == std::string_view::npos ? typeName : typeName.substr(dot + 1));
    for (const catalog::SchemaPtr& schema : catalog.schemas()) {
        for (const catalog::Object& one : schema->objects) {
            if (one.kind != catalog::ObjectKind::Type || one.name != name || !one.detail.starts_with(kEnum)) continue;
            std::vector<std::string> values;
            const std::string list = one.detail.substr(kEnum.size());
            for (const std::string_view value : base::splitAt(list, ',')) values.emplace_back(base::trimmed(value));
            return values;
        }
    }
    return {};
}

}  // namespace

std::vector<const catalog::RoutineParameter*> parametersToFill(const catalog::ObjectDetails& details) {
    std::vector<const catalog::RoutineParameter*> out;
    for (const catalog::RoutineParameter& one : details.parameters) {
        if (one.mode != ParameterMode::Out) out.push_back(&one);
    }
    return out;
}

Result<std::vector<std::string>> callOf(const catalog::ObjectName& routine, const catalog::ObjectDetails& details,
                                        const std::vector<Argument>& arguments, Dialect dialect) {
    return Call(routine, details, dialect).write(arguments);
}

std::vector<std::string> choicesFor(const catalog::RoutineParameter& parameter, const catalog::Catalog* catalog,
                                    Dialect dialect) {
    if (data::typeFromName(parameter.typeName) == data::ColumnType::Boolean) return {"true", "false"};
    if (dialect == Dialect::MySql && base::startsWithIgnoringCase(parameter.typeName, "enum")) {
        return valuesInBrackets(parameter.typeName, dialect);
    }
    return catalog != nullptr ? valuesOfType(parameter.typeName, *catalog) : std::vector<std::string>{};
}

}  // namespace pantry::sql
