#include "core/sql/syntax/next_words.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <algorithm>

#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

using testing::Contains;
using testing::ElementsAre;
using testing::IsEmpty;

NextWords behind(std::string_view beginning, Dialect dialect = Dialect::Postgres) {
    NextWords words(beginning, lex(beginning, dialect), dialect);
    words.afford(1'000'000);
    return words;
}

std::vector<NodeKind> nodesOf(std::string_view beginning) {
    const auto name = behind(beginning).name();
    return name ? name->around : std::vector<NodeKind>();
}

TEST(NextWordsTest, AWordBringsAlongWhatMustFollowIt) {
    EXPECT_THAT(behind("select a from b").phraseOf(Keyword::Order), ElementsAre(Keyword::Order, Keyword::By));
    EXPECT_THAT(behind("select a from b").phraseOf(Keyword::Where), ElementsAre(Keyword::Where));
    EXPECT_THAT(behind("create table a (b int").phraseOf(Keyword::Primary),
                ElementsAre(Keyword::Primary, Keyword::Key));
    EXPECT_THAT(behind("create table a (b int, ").phraseOf(Keyword::Primary),
                ElementsAre(Keyword::Primary, Keyword::Key))
        << "a name for a column until KEY follows";
    EXPECT_THAT(behind("select count(*)").phraseOf(Keyword::Filter), ElementsAre(Keyword::Filter));
    EXPECT_THAT(behind("select a").phraseOf(Keyword::When), IsEmpty());
    EXPECT_THAT(behind("select case").phraseOf(Keyword::When), ElementsAre(Keyword::When));
}

TEST(NextWordsTest, PhrasesAreTakenWordByWord) {
    EXPECT_TRUE(behind("select a from b").takes("LEFT JOIN"));
    EXPECT_TRUE(behind("create table").takes("IF NOT EXISTS"));
    EXPECT_TRUE(behind("create table if").takes("NOT")) << "the phrase is being written";
    EXPECT_FALSE(behind("select a from b where").takes("GROUP BY"));
    EXPECT_FALSE(behind("select a from b").takes("pantry")) << "that would be a name";
}

TEST(NextWordsTest, ANameIsWhatTheGrammarTakesItFor) {
    EXPECT_THAT(nodesOf("create index i on "), Contains(NodeKind::CreateIndex));
    EXPECT_EQ(behind("create table a (b int references ").name()->role, TokenRole::Relation);
    EXPECT_EQ(behind("alter table a add column b ").name()->role, TokenRole::Type);
    EXPECT_EQ(behind("call ").name()->role, TokenRole::Function);
    EXPECT_FALSE(behind("create ").name());
    EXPECT_FALSE(behind("select a from b group ").name());
}

TEST(NextWordsTest, WhatIsWrongBeforeDoesNotCountAgainstWhatFollows) {
    EXPECT_TRUE(behind("select a from b left").isUnderstood()) << "its last word waits for JOIN";
    EXPECT_THAT(behind("select a from b left").phraseOf(Keyword::Join), ElementsAre(Keyword::Join));
    EXPECT_FALSE(behind("select , from where x = 1 and y = 2 and z").isUnderstood());
    EXPECT_TRUE(behind("").isUnderstood());
    EXPECT_THAT(behind("").phraseOf(Keyword::Vacuum), ElementsAre(Keyword::Vacuum));
}

TEST(NextWordsTest, NoMoreIsTriedThanIsAfforded) {
    NextWords words("select a from b", lex("select a from b", Dialect::Sqlite), Dialect::Sqlite);
    EXPECT_FALSE(words.canAfford());
    words.afford(30);
    EXPECT_TRUE(words.canAfford());
    EXPECT_TRUE(words.takes("WHERE"));
    EXPECT_TRUE(words.canAfford()) << "a little is left of it";
    EXPECT_TRUE(words.takes("LIMIT"));
    EXPECT_FALSE(words.canAfford());
}

}  // namespace
}  // namespace pantry::sql
