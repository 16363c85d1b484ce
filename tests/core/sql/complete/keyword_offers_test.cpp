// Every keyword that our corpora use is offered at its place, in each dialect, and whatever is offered can stand there.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <map>
#include <set>
#include <sstream>

#include "core/base/text.h"
#include "core/sql/complete/completion.h"
#include "core/sql/syntax/parser.h"
#include "core/sql/syntax/script.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

std::string textOf(const std::filesystem::path& path) {
    std::ifstream in(path, std::ios::binary);
    std::stringstream text;
    text << in.rdbuf();
    return text.str();
}

std::vector<std::filesystem::path> corpusOf(Dialect dialect) {
    const std::filesystem::path own = CORPUS_FOLDER;
    std::vector<std::filesystem::path> files;
    for (const auto& entry : std::filesystem::directory_iterator(own / "layout" / "golden" / dialectName(dialect))) {
        if (entry.path().extension() == ".sql") files.push_back(entry.path());
    }
    const std::map<Dialect, std::string> served{
        {Dialect::Postgres, "postgres.sql"}, {Dialect::MySql, "mariadb.sql"}, {Dialect::Sqlite, "sqlite.sql"}};
    files.push_back(own / "served" / "common.sql");
    if (served.contains(dialect)) files.push_back(own / "served" / served.at(dialect));
    std::ranges::sort(files);
    return files;
}

/// What is offered behind a beginning.
std::vector<std::string> offeredBehind(std::string_view beginning, Dialect dialect) {
    static const catalog::View nothing;
    std::vector<std::string> words;
    for (const CompletionItem& item :
         completeAt(beginning, beginning.size(), dialect, nothing, {.maxItems = 5000, .isAsked = true}).items) {
        words.push_back(item.text);  // a column by the name of a keyword stands for both
    }
    return words;
}

/// Whether words that stand behind a beginning are taken, with something behind them or nothing: FILTER wants its
/// parenthesis, NOT its EXISTS.
bool canStand(const std::string& beginning, const std::string& words, Dialect dialect) {
    std::vector<std::string> behind{"",           " (",        " a",          " 1",       " = 1",
                                    " time zone", " exists a", " key update", " = a view"};
    for (std::size_t i = 1; i < kKeywordCount; ++i)
        behind.push_back(" " + std::string(spellingOf(static_cast<Keyword>(i))));
    const std::size_t end = beginning.size() + 1 + words.size();
    return std::ranges::any_of(behind, [&](const std::string& more) {
        const SyntaxTree tree = parseSingle(beginning + " " + words + more, dialect);
        return std::ranges::none_of(tree.errors, [&](const SyntaxError& error) {
            return error.token < tree.tokens.size() && tree.tokens[error.token].start < end;
        });
    });
}

class KeywordOffersTest : public testing::TestWithParam<Dialect> {};

TEST_P(KeywordOffersTest, EveryKeywordOfTheCorporaIsOfferedAtItsPlace) {
    const Dialect dialect = GetParam();
    std::map<std::string, std::string> missing;
    std::size_t asked = 0;
    for (const auto& file : corpusOf(dialect)) {
        const std::string text = textOf(file);
        Script script(dialect);
        script.setText(text);
        for (const ScriptStatement& statement : script.statements()) {
            if (statement.tree->hasErrors()) continue;
            for (std::size_t i = 0; i < statement.tree->tokens.size(); ++i) {
                const Token& token = statement.tree->tokens[i];
                if (statement.tree->roles[i] != TokenRole::Keyword || token.keyword == Keyword::None) continue;
                ++asked;
                const std::string beginning(text.substr(statement.span.start, token.start));
                const std::string word(spellingOf(token.keyword));
                // While it is being written: its first letter is there.
                const std::vector<std::string> offered = offeredBehind(beginning + word[0], dialect);
                const bool isThere = std::ranges::any_of(offered, [&](const std::string& one) {
                    const std::string capitals = base::toUpper(one);
                    return capitals == word || capitals.starts_with(word + " ");
                });
                if (!isThere) missing.emplace(word, beginning);
                if (asked % 17 != 0) continue;
                for (const std::string& one : offered) {
                    if (keywordOf(one.substr(0, one.find(' '))) == Keyword::None) continue;
                    EXPECT_TRUE(canStand(beginning, one, dialect)) << beginning << " " << one;
                }
            }
        }
    }
    EXPECT_GT(asked, 200U);
    for (const auto& [word, beginning] : missing) ADD_FAILURE() << word << " behind: " << beginning;
}

INSTANTIATE_TEST_SUITE_P(All, KeywordOffersTest,
                         testing::Values(Dialect::Postgres, Dialect::MySql, Dialect::Sqlite, Dialect::Ansi),
                         [](const auto& one) { return std::string(dialectName(one.param)); });

}  // namespace
}  // namespace pantry::sql
