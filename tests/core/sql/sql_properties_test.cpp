#include <rapidcheck.h>

#include "core/sql/check/findings.h"
#include "core/sql/complete/completion.h"
#include "core/sql/layout/format_choice.h"
#include "core/sql/syntax/parser.h"
#include "core/sql/syntax/script.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

constexpr Dialect kDialects[] = {Dialect::Postgres, Dialect::MySql, Dialect::Sqlite, Dialect::Ansi};

/// Pieces that, thrown together, often make sense and often do not.
const std::vector<std::string> kPieces = {"select",
                                          "from",
                                          "where",
                                          "a",
                                          "b.c",
                                          "plot",
                                          "(",
                                          ")",
                                          ",",
                                          "*",
                                          "+",
                                          "-",
                                          "--",
                                          "/*",
                                          "*/",
                                          "'",
                                          "\"",
                                          "$$",
                                          "$x$",
                                          ";",
                                          "and",
                                          "or",
                                          "not",
                                          "in",
                                          "between",
                                          "case",
                                          "when",
                                          "then",
                                          "else",
                                          "end",
                                          "join",
                                          "left join",
                                          "on",
                                          "using",
                                          "group by",
                                          "order by",
                                          "union all",
                                          "with",
                                          "as",
                                          "insert into",
                                          "values",
                                          "update",
                                          "set",
                                          "=",
                                          "<",
                                          "delete from",
                                          "::",
                                          ":p",
                                          ":",
                                          "[",
                                          "]",
                                          "1",
                                          "2.5",
                                          "'text'",
                                          "\"Name\"",
                                          "-- note\n",
                                          "/* c */",
                                          "\n",
                                          "\\x\n",
                                          "null",
                                          "is",
                                          "like",
                                          "limit",
                                          "over",
                                          "partition by",
                                          "begin",
                                          "create trigger t",
                                          "DELIMITER //\n",
                                          "//",
                                          "COPY t FROM stdin;\n",
                                          "\\.\n",
                                          "E'\\'",
                                          "`q`",
                                          "?",
                                          "@v",
                                          "#",
                                          "exists",
                                          "returning",
                                          "on conflict",
                                          "do",
                                          "lateral",
                                          "x'1F'",
                                          ".",
                                          "interval '1 day'",
                                          "\xC3\xA9",
                                          "\xFF",
                                          "🍎",
                                          "create table t",
                                          "primary key",
                                          "references",
                                          "default",
                                          "alter table t add",
                                          "drop view if exists",
                                          "create procedure p()",
                                          "if",
                                          "loop",
                                          "while",
                                          "end if",
                                          "declare",
                                          "/*! x */",
                                          "grant",
                                          "to",
                                          "merge into",
                                          "when matched",
                                          "explain",
                                          "create schema s",
                                          "GO\n",
                                          "set sql_mode = 'ansi'",
                                          "set standard_conforming_strings = off",
                                          "values (1)",
                                          "U&'x'",
                                          "$1",
                                          "{",
                                          "}",
                                          "&&",
                                          "!"};

rc::Gen<std::string> looseSql() {
    return rc::gen::map(rc::gen::container<std::vector<std::size_t>>(rc::gen::inRange<std::size_t>(0, kPieces.size())),
                        [](const std::vector<std::size_t>& picks) {
                            std::string out;
                            for (const std::size_t i : picks)
                                out += kPieces[i] + ((i * 7 + picks.size()) % 5 == 0 ? "" : " ");
                            return out;
                        });
}

/// Well-formed queries with comments and odd blanks between the tokens.
rc::Gen<std::string> soundSql() {
    const auto gap = rc::gen::element<std::string>(" ", " ", " ", "\n", "  ", " /* c */ ", " -- n\n", "\t");
    const auto expression = rc::gen::element<std::string>(
        "a", "t.b", "count ( * )", "( a + 1 )", "'x'", "- 1", "case when a = 1 then 2 else b end", "a || b || c",
        "cast ( a as integer )", "( select max ( x ) from u where u . a = t . a )",
        "sum ( a ) over ( partition by b order by c )", "a in ( 1 , 2 , 3 )", "b between 1 and 2", "c is not null",
        "not d");
    const auto clause = rc::gen::element<std::string>(
        "", "where a = 1 and b < 2 or c like 'x'", "where exists ( select 1 from v )",
        "group by a , b having count ( * ) > 1", "order by a desc , b limit 5", "union all select 1 from w");
    return rc::gen::exec([=] {
        std::string source =
            "select " + *expression + " as x , " + *expression + " from t join u using ( a ) " + *clause;
        std::string out;
        for (const char c : source) out += c == ' ' ? *gap : std::string(1, c);
        return out;
    });
}

/// Well-formed statements of other kinds, blanks where comments and breaks may stand.
const std::vector<std::string> kDefinitions = {
    "create table if not exists t ( a integer not null default 1 , b varchar ( 10 ) unique , primary key ( a , b ) , "
    "foreign key ( b ) references u ( c ) on delete cascade )",
    "create view v ( a , b ) as select a , b from t where a > 1",
    "create unique index i on t ( a , b desc )",
    "alter table t add column c integer not null , drop column d",
    "drop table if exists a , b cascade",
    "grant select , update on t to anna",
    "insert into t ( a , b ) values ( 1 , 'x' ) , ( 2 , 'y' )",
    "update t set a = a + 1 , b = 'x' where c in ( select d from u )",
    "delete from t where a < 3",
    "begin",
    "savepoint s",
    "with x as ( select 1 as a ) select * from x",
    "merge into t using u on t . a = u . a when matched then update set b = u . b when not matched then insert ( a ) "
    "values ( u . a )",
    "explain select * from t"};

rc::Gen<std::string> soundDefinition() {
    const auto gap = rc::gen::element<std::string>(" ", " ", " ", "\n", "  ", " /* c */ ", " -- n\n", "\t");
    return rc::gen::exec([=] {
        const std::string source = *rc::gen::elementOf(kDefinitions);
        std::string out;
        for (const char c : source) out += c == ' ' ? *gap : std::string(1, c);
        return out;
    });
}

rc::Gen<FormatOptions> anyStyle() {
    return rc::gen::exec([] {
        FormatOptions options;
        options.width = *rc::gen::inRange<std::size_t>(20, 120);
        options.indentWidth = *rc::gen::inRange<std::size_t>(1, 9);
        for (const FormatChoice& choice : formatChoices()) {
            choice.set(options, *rc::gen::inRange<std::size_t>(0, choice.words.size()));
        }
        return options;
    });
}

template <class Property>
void holdsForLooseAndSound(const std::string& name, Property property) {
    EXPECT_TRUE(rc::check(name + " (loose)", [&] {
        property(*looseSql(), *rc::gen::element(Dialect::Postgres, Dialect::MySql, Dialect::Sqlite, Dialect::Ansi));
    }));
    EXPECT_TRUE(rc::check(name + " (definitions)", [&] {
        property(*soundDefinition(),
                 *rc::gen::element(Dialect::Postgres, Dialect::MySql, Dialect::Sqlite, Dialect::Ansi));
    }));
    EXPECT_TRUE(rc::check(name + " (sound)", [&] {
        property(*soundSql(), *rc::gen::element(Dialect::Postgres, Dialect::MySql, Dialect::Sqlite, Dialect::Ansi));
    }));
}

TEST(SqlPropertiesTest, TokensJoinedAreTheText) {
    holdsForLooseAndSound("tokens cover the text", [](const std::string& text, Dialect dialect) {
        std::string joined;
        for (const Token& token : lex(text, dialect)) joined += token.textIn(text);
        RC_ASSERT(joined == text);
    });
}

TEST(SqlPropertiesTest, TheTreeHoldsEveryTokenOnce) {
    holdsForLooseAndSound("nodes nest", [](const std::string& text, Dialect dialect) {
        const SyntaxTree tree = parseSingle(text, dialect);
        for (std::size_t i = 1; i < tree.nodes.size(); ++i) {
            const Node& node = tree.nodes[i];
            RC_ASSERT(node.parent != Node::kNone);
            const Node& parent = tree.nodes[node.parent];
            RC_ASSERT(parent.firstToken <= node.firstToken && node.endToken <= parent.endToken);
            if (node.nextSibling != Node::kNone) RC_ASSERT(node.endToken <= tree.nodes[node.nextSibling].firstToken);
        }
    });
}

TEST(SqlPropertiesTest, FormattingChangesNoTokenAndLosesNoComment) {
    holdsForLooseAndSound("same tokens", [](const std::string& text, Dialect dialect) {
        RC_ASSERT(haveSameTokens(text, formatScript(text, dialect, *anyStyle()), dialect));
    });
}

TEST(SqlPropertiesTest, FormattingTwiceChangesNothing) {
    holdsForLooseAndSound("idempotent", [](const std::string& text, Dialect dialect) {
        const FormatOptions style = *anyStyle();
        const std::string once = formatScript(text, dialect, style);
        RC_ASSERT(formatScript(once, dialect, style) == once);
    });
}

TEST(SqlPropertiesTest, EditedScriptsAreReadAsIfTheyWereNew) {
    EXPECT_TRUE(rc::check("incremental", [] {
        const Dialect dialect = *rc::gen::element(Dialect::Postgres, Dialect::MySql, Dialect::Sqlite, Dialect::Ansi);
        std::string text = *looseSql() + ";\n" + *looseSql() + ";\nselect 1;\n" + *looseSql();
        Script script(dialect);
        script.setText(text);
        for (int i = 0; i < 5; ++i) {
            const auto at = *rc::gen::inRange<std::size_t>(0, text.size() + 1);
            const auto gone = *rc::gen::inRange<std::size_t>(0, std::min<std::size_t>(text.size() - at, 9) + 1);
            text.replace(at, gone, *rc::gen::elementOf(kPieces));
            script.setText(text);
            Script fresh(dialect);
            fresh.setText(text);
            RC_ASSERT(script.tokens() == fresh.tokens());
            RC_ASSERT(script.statements().size() == fresh.statements().size());
            for (std::size_t s = 0; s < fresh.statements().size(); ++s) {
                RC_ASSERT(script.statements()[s].span == fresh.statements()[s].span);
                RC_ASSERT(script.statements()[s].tree->tokens == fresh.statements()[s].tree->tokens);
            }
        }
    }));
}

TEST(SqlPropertiesTest, SoundQueriesAreUnderstood) {
    EXPECT_TRUE(rc::check("no errors", [] {
        const std::string text = *soundSql();
        for (const Dialect dialect : kDialects) RC_ASSERT(!parseSingle(text, dialect).hasErrors());
    }));
    EXPECT_TRUE(rc::check("no errors in definitions", [] {
        const std::string text = *soundDefinition();
        for (const Dialect dialect : kDialects) RC_ASSERT(!parseSingle(text, dialect).hasErrors());
    }));
}

TEST(SqlPropertiesTest, CompletionAndFindingsTakeAnything) {
    const catalog::View catalog({{.schema = "main", .name = "plot", .columns = {{"a", "integer"}}}}, {"main"});
    EXPECT_TRUE(rc::check("no crash", [&] {
        const std::string text = *rc::gen::oneOf(looseSql(), soundSql(), soundDefinition());
        const Dialect dialect = *rc::gen::element(Dialect::Postgres, Dialect::MySql, Dialect::Sqlite, Dialect::Ansi);
        const auto caret = *rc::gen::inRange<std::size_t>(0, text.size() + 1);
        const Completion completion = completeAt(text, caret, dialect, catalog);
        RC_ASSERT(completion.start + completion.length <= text.size());
        for (const Finding& f : checkScript(text, dialect, {.catalog = &catalog})) {
            RC_ASSERT(f.start + f.length <= text.size());
            if (f.fix) RC_ASSERT(f.fix->start + f.fix->length <= text.size());
        }
    }));
}

}  // namespace
}  // namespace pantry::sql
