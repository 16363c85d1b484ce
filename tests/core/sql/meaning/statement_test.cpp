#include "core/sql/meaning/statement.h"

#include <gtest/gtest.h>

#include <thread>
#include <vector>

namespace pantry::sql {
namespace {

TEST(StatementTest, TellsWhatFollowsFromItsText) {
    const Statement drop("DROP TABLE basket", Dialect::Postgres);
    EXPECT_EQ(drop.kind(), StatementKind::Drop);
    EXPECT_TRUE(drop.defines());
    EXPECT_TRUE(drop.risk().isReckless);
    EXPECT_FALSE(drop.reading().isPlain());
    EXPECT_EQ(drop.title(), "DROP TABLE basket");
    const Statement query("SELECT name FROM plot -- of the orchard", Dialect::Sqlite);
    EXPECT_FALSE(query.defines());
    EXPECT_TRUE(query.reading().isPlain());
    EXPECT_EQ(query.title(), "plot");
    EXPECT_NE(query.tree().childOf(0, NodeKind::Query), Node::kNone);
}

TEST(StatementTest, CopiesShareWhatWasWorkedOut) {
    const Statement one("SELECT 1", Dialect::Sqlite);
    const Statement copy = one;
    EXPECT_EQ(&one.tree(), &copy.tree());
    EXPECT_EQ(&one.reading(), &copy.reading());
    EXPECT_EQ(&one.readAs(Dialect::Sqlite).tree(), &one.tree()) << "it is in that language already";
}

TEST(StatementTest, IsReadAnewInAnotherLanguage) {
    const Statement unread(R"(SELECT "name" FROM plot)");
    const Statement names = unread.readAs({Dialect::MySql, true});
    const Statement texts = unread.readAs(Dialect::MySql);
    EXPECT_EQ(names.tokens()[2].kind, TokenKind::QuotedName);
    EXPECT_EQ(texts.tokens()[2].kind, TokenKind::String);
    EXPECT_EQ(names, texts) << "the text is the same";
    EXPECT_EQ(names.language(), Language(Dialect::MySql, true));
}

TEST(StatementTest, AnEmptyOneIsNothing) {
    EXPECT_EQ(Statement().text(), "");
    EXPECT_EQ(Statement().kind(), StatementKind::Other);
    EXPECT_FALSE(Statement("  -- only a remark", Dialect::Sqlite).defines());
}

TEST(StatementTest, ManyThreadsMayAskAtOnce) {
    const Statement statement("UPDATE plot SET name = 'x'", Dialect::Postgres);
    std::vector<std::thread> threads;
    std::vector<const StatementRisk*> seen(8, nullptr);
    for (std::size_t i = 0; i < seen.size(); ++i) {
        threads.emplace_back([&, i] { seen[i] = &statement.risk(); });
    }
    for (std::thread& thread : threads) thread.join();
    for (const StatementRisk* risk : seen) EXPECT_EQ(risk, seen.front());
    EXPECT_TRUE(seen.front()->isReckless);
}

}  // namespace
}  // namespace pantry::sql
