#include "core/work/language_service.h"

#include <gmock/gmock.h>

#include <atomic>
#include <future>

#include "core/base/mutex.h"

namespace pantry::work {
namespace {

/// A text with somebody who listens to what is found in it.
class LanguageServiceTest : public testing::Test {
protected:
    /// Waits for the reading of a version.
    TextReadingPtr readingOf(const base::SharedText& text) {
        base::Lock lock(mutex_);
        lock.wait(told_, [&] { return !readings_.empty() && readings_.back()->text().isCopyOf(text); });
        return readings_.back();
    }
    TextReadingPtr read(std::string_view text) {
        const base::SharedText shared(text);
        service_.setText(shared);
        return readingOf(shared);
    }
    std::vector<std::string> statements(const WantedStatements& wanted) {
        std::promise<std::vector<sql::Statement>> promise;
        service_.findStatements(wanted, [&](const FoundStatements& found) { promise.set_value(found.statements); });
        std::vector<std::string> texts;
        for (const sql::Statement& one : promise.get_future().get()) texts.push_back(one.text());
        return texts;
    }
    FormattedEdit format(const FormatWish& wish) {
        std::promise<FormattedEdit> promise;
        service_.format(wish, [&](const FormattedEdit& edit) { promise.set_value(edit); });
        return promise.get_future().get();
    }

    base::Mutex mutex_;
    base::Condition told_;
    std::vector<TextReadingPtr> readings_;
    LanguageService service_{sql::Dialect::Postgres, [this](const TextReadingPtr& reading) {
                                 const base::Lock lock(mutex_);
                                 readings_.push_back(reading);
                                 told_.notify_all();
                             }};
};

TEST_F(LanguageServiceTest, TellsWhatIsInTheTextThatItWasGivenLast) {
    for (int i = 0; i < 50; ++i) service_.setText("SELECT " + std::to_string(i));
    const TextReadingPtr reading = read("SELECT 1;\nDELETE FROM harvest;");
    ASSERT_EQ(reading->script().statements().size(), 2U);
    EXPECT_EQ(reading->script().textOf(1), "DELETE FROM harvest");
    EXPECT_FALSE(reading->isTooLarge());
    EXPECT_FALSE(reading->json());
    EXPECT_LE(readings_.size(), 51U) << "versions that followed each other faster may be left out, none is made up";
}

TEST_F(LanguageServiceTest, ChecksTheTextAsItIsWithWhatIsKnownOfTheDatabase) {
    const auto check = [this](std::optional<catalog::View> catalog) {
        std::promise<std::pair<TextReadingPtr, std::vector<sql::Finding>>> promise;
        service_.check(std::move(catalog), [&](const TextReadingPtr& reading, const auto& findings) {
            promise.set_value({reading, findings});
        });
        return promise.get_future().get();
    };
    const catalog::View orchard({{.schema = "public", .name = "crate", .columns = {{"apples", "integer"}}}},
                                {"public"});
    const TextReadingPtr reading = read("SELECT pears FROM crate;\nSELECT apples FROM crate WHERE apples = NULL;");
    const auto [about, known] = check(orchard);
    EXPECT_EQ(about, reading);
    ASSERT_EQ(known.size(), 2U);
    EXPECT_EQ(known[0].rule, "unknown-column");
    EXPECT_EQ(known[0].start, 7U);
    EXPECT_EQ(known[1].rule, "null-comparison");
    EXPECT_TRUE(known[1].fix.has_value());
    EXPECT_EQ(check(std::nullopt).second.size(), 1U) << "of a database that nothing is known of, nothing is missing";
    (void)read("CREATE TABLE basket (n integer);\nSELECT n FROM basket;");
    EXPECT_TRUE(check(orchard).second.empty()) << "the script makes it";
    (void)read("{\"apples\": nul}");
    EXPECT_TRUE(check(orchard).second.empty()) << "it means to be JSON";
}

TEST_F(LanguageServiceTest, OfVeryManyFindingsTheMostSevereAreTold) {
    std::string many = "SELECT FROM WHERE;\n";
    for (int i = 0; i < 700; ++i) many = "SELECT 1 FROM t WHERE a = NULL;\n" + many;
    (void)read(many);
    std::promise<std::vector<sql::Finding>> promise;
    service_.check(std::nullopt, [&](const TextReadingPtr&, const auto& findings) { promise.set_value(findings); });
    const auto found = promise.get_future().get();
    ASSERT_EQ(found.size(), LanguageService::kMaxFindings);
    EXPECT_EQ(found.back().severity, sql::Severity::Error) << "the one at the very end is among them";
    EXPECT_TRUE(std::ranges::is_sorted(found, {}, &sql::Finding::start));
}

TEST_F(LanguageServiceTest, AnOlderReadingStaysAsItIsWhileWritingGoesOn) {
    const TextReadingPtr first = read("SELECT apple FROM crate;\nSELECT pear FROM crate;");
    const auto tree = first->script().statements()[1].tree;
    const TextReadingPtr second = read("SELECT apples FROM crate;\nSELECT pear FROM crate;");
    EXPECT_EQ(first->script().textOf(0), "SELECT apple FROM crate");
    EXPECT_EQ(second->script().textOf(0), "SELECT apples FROM crate");
    EXPECT_EQ(second->script().statements()[1].tree, tree) << "what was not touched is not parsed again";
}

TEST_F(LanguageServiceTest, AnotherLanguageReadsTheSameTextAnew) {
    const base::SharedText text("SELECT `name` FROM tree");
    service_.setText(text);
    EXPECT_EQ(readingOf(text)->language(), sql::Dialect::Postgres);
    service_.setLanguage(sql::Dialect::MySql);
    (void)statements({.caret = std::nullopt, .selection = {}, .session = sql::Dialect::MySql});  // comes behind it
    EXPECT_EQ(readingOf(text)->language(), sql::Dialect::MySql);
}

TEST_F(LanguageServiceTest, FindsTheStatementsWithTheBytesOfOne) {
    const TextReadingPtr reading = read("SELECT 1;\nSELECT 2;\nSELECT 1;");
    EXPECT_THAT(reading->statementsLike("SELECT 1"), testing::ElementsAre(0U, 2U));
    EXPECT_THAT(reading->statementsLike("SELECT 2"), testing::ElementsAre(1U));
    EXPECT_THAT(reading->statementsLike("SELECT 3"), testing::IsEmpty());
}

TEST_F(LanguageServiceTest, TooLargeATextIsNotReadAndIsAgainWhenItHasBecomeSmall) {
    const std::string longOne = "SELECT '" + std::string(TextReading::kLongestStatement, 'x') + "'";
    EXPECT_TRUE(read(longOne)->isTooLarge());
    EXPECT_TRUE(read(longOne + ";")->isTooLarge());
    EXPECT_THAT(statements({.caret = 3, .selection = {}, .session = sql::Dialect::Postgres}),
                testing::ElementsAre(longOne))
        << "it runs all the same";
    EXPECT_FALSE(read("SELECT 1")->isTooLarge());
    EXPECT_TRUE(read(std::string(TextReading::kMaxBytes + 1, '\n'))->isTooLarge());
}

TEST_F(LanguageServiceTest, JsonHasItsOwnColoursAndMistakes) {
    const TextReadingPtr reading = read("{\"apples\": [1, 2}");
    ASSERT_TRUE(reading->json());
    EXPECT_TRUE(reading->json()->problem);
    EXPECT_FALSE(read("SELECT 1")->json());
}

TEST_F(LanguageServiceTest, MissingTerminatorsAreFound) {
    const TextReadingPtr reading = read("SELECT 1\nSELECT 2;");
    ASSERT_EQ(reading->findings().size(), 1U);
    EXPECT_TRUE(reading->findings()[0].fix);
}

TEST_F(LanguageServiceTest, CompletesTheTextAsItIsAndNotAsItWas) {
    const catalog::View catalog({{.schema = "public", .name = "harvest"}}, {"public"});
    service_.setText("SELECT * FROM har");
    std::promise<sql::Completion> promise;
    std::atomic<bool> isOldTold = false;
    service_.complete(17, catalog, {}, [&](const auto&) { isOldTold = true; });
    const base::SharedText now("SELECT * FROM harv");
    service_.setText(now);
    service_.complete(18, catalog, {}, [&](const sql::Completion& found) { promise.set_value(found); });
    const sql::Completion found = promise.get_future().get();
    EXPECT_EQ(found.prefix, "harv");
    ASSERT_FALSE(found.items.empty());
    EXPECT_EQ(found.items[0].text, "harvest");
    // The first question was answered only if it was met before the text changed; it never is after.
    const bool wasTold = isOldTold;
    (void)read("SELECT 2");
    EXPECT_EQ(isOldTold, wasTold);
}

TEST_F(LanguageServiceTest, FindsWhatSomebodyWantsToRun) {
    service_.setText("SELECT 1;\n\nSELECT 2;\n");
    const sql::Language session = sql::Dialect::Postgres;
    EXPECT_THAT(statements({.caret = 12, .selection = {}, .session = session}), testing::ElementsAre("SELECT 2"));
    EXPECT_THAT(statements({.caret = 10, .selection = {}, .session = session}), testing::IsEmpty()) << "an empty line";
    EXPECT_THAT(statements({.caret = std::nullopt, .selection = {}, .session = session}),
                testing::ElementsAre("SELECT 1", "SELECT 2"));
    EXPECT_THAT(statements({.caret = 0, .selection = "SELECT 3; SELECT 4", .session = session}),
                testing::ElementsAre("SELECT 3", "SELECT 4"));
}

TEST_F(LanguageServiceTest, WhatRunsIsTheTextAsItWasWhenSomebodyAsked) {
    service_.setText("SELECT 1");
    std::promise<std::string> promise;
    service_.findStatements({.caret = 0, .selection = {}, .session = sql::Dialect::Postgres},
                            [&](const auto& found) { promise.set_value(found.statements.at(0).text()); });
    service_.setText("SELECT 1 + 1");
    EXPECT_EQ(promise.get_future().get(), "SELECT 1");
}

TEST_F(LanguageServiceTest, StatementsAreFoundUpToTheCaretAndFromItOn) {
    service_.setText("SELECT 1; SELECT 2; SELECT 3");
    using enum WantedStatements::Reach;
    const auto at = [](WantedStatements::Reach reach) {
        return WantedStatements{.caret = 12, .selection = {}, .session = sql::Dialect::Postgres, .reach = reach};
    };
    EXPECT_THAT(statements(at(UpToIt)), testing::ElementsAre("SELECT 1", "SELECT 2"));
    EXPECT_THAT(statements(at(FromIt)), testing::ElementsAre("SELECT 2", "SELECT 3"));
    EXPECT_THAT(statements(at(Itself)), testing::ElementsAre("SELECT 2"));
}

TEST_F(LanguageServiceTest, TellsTheParametersOfWhatRunsEachOnce) {
    service_.setText("SELECT :a, :b; SELECT 1 WHERE 2 IN (:b)");
    std::promise<std::vector<std::string>> promise;
    service_.findStatements({.caret = std::nullopt, .selection = {}, .session = sql::Dialect::Postgres},
                            [&](const FoundStatements& found) {
                                std::vector<std::string> keys;
                                for (const auto& one : found.parameters)
                                    keys.push_back(one.key + (one.isList ? "[]" : ""));
                                promise.set_value(keys);
                            });
    EXPECT_THAT(promise.get_future().get(), testing::ElementsAre("a", "b")) << "b is one value in the first of them";
}

TEST_F(LanguageServiceTest, FindsANameItsUsesAndWhatIsKnownOfIt) {
    const catalog::View catalog(
        {{.schema = "main", .name = "plot", .columns = {{"name", "text"}}, .comment = "a piece of ground"}}, {"main"});
    const auto nameAt = [&](std::size_t offset) {
        std::promise<std::optional<NameInText>> promise;
        service_.findName(offset, catalog, [&](const base::SharedText&, const auto& name) { promise.set_value(name); });
        return promise.get_future().get();
    };
    service_.setText("SELECT 1;\nSELECT p.name FROM plot p");
    const auto alias = nameAt(17);
    ASSERT_TRUE(alias && alias->madeAt);
    EXPECT_EQ(alias->at, (sql::TextRange{17, 1}));
    EXPECT_EQ(alias->madeAt, (sql::TextRange{34, 1}));
    EXPECT_EQ(alias->uses.size(), 2U);
    const auto table = nameAt(30);
    ASSERT_TRUE(table && table->facts);
    EXPECT_EQ(table->facts->heading, "plot");
    EXPECT_EQ(table->facts->comment, "a piece of ground");
    EXPECT_FALSE(nameAt(3)) << "a number is no name";
}

TEST_F(LanguageServiceTest, RewritesAStatementOfTheText) {
    service_.setText("SELECT 1; select name n from plot");
    std::promise<Result<sql::Rewritten>> promise;
    service_.rewrite("add-as", {.caret = 15, .columns = {}}, catalog::View(),
                     [&](const base::SharedText&, const auto& change) { promise.set_value(change); });
    const auto change = promise.get_future().get();
    ASSERT_TRUE(change);
    ASSERT_EQ(change->edits.size(), 1U);
    EXPECT_EQ(change->edits[0], (sql::TextEdit{22, 0, "as "}));
}

TEST_F(LanguageServiceTest, LaysOutTheWholeOrAPart) {
    service_.setText("select 1;select 2");
    const FormattedEdit whole = format({.caret = 16});
    EXPECT_EQ(whole.text, "SELECT 1;\nSELECT 2");
    EXPECT_EQ(whole.text.substr(whole.caret), "2");
    EXPECT_FALSE(whole.isSame);
    const FormattedEdit part = format({.start = 9, .end = 17});
    EXPECT_EQ(part.text, "SELECT 2");
    EXPECT_EQ(part.start, 9U);
    service_.setText("SELECT 1;\n");
    EXPECT_TRUE(format({}).isSame);
    service_.setText("SELECT 1;\n\nSELECT FROM WHERE;\n");
    const FormattedEdit unread = format({});
    ASSERT_EQ(unread.unread.size(), 1U);
    EXPECT_EQ(unread.unreadLine, 3U);
}

TEST_F(LanguageServiceTest, OfMarkdownEachBlockOfSqlIsLaidOutByItselfAndTheRestIsCopied) {
    const std::string text = "# One  \n```sql\nselect 1;select 2\n```\n* select 3\n```SQL\nselect FROM where\n```\n";
    service_.setKind(TextKind::Markdown);
    service_.setText(base::SharedText(text));
    const FormattedEdit whole = format({.caret = text.find("* select")});
    EXPECT_EQ(whole.text, "# One  \n```sql\nSELECT 1;\nSELECT 2\n```\n* select 3\n```SQL\nselect FROM where\n```\n");
    EXPECT_EQ(whole.text.substr(whole.caret, 8), "* select");
    ASSERT_EQ(whole.unread.size(), 1U);
    EXPECT_EQ(whole.unreadLine, 8U);
    EXPECT_EQ(whole.text.substr(whole.unread[0].formattedOffset).find("FROM"), 0U);
    const std::size_t start = text.find("select 2");
    const FormattedEdit part = format({.start = start, .end = start + 8});
    EXPECT_EQ(part.text, "SELECT 2");
    EXPECT_EQ(part.start, start);
    EXPECT_TRUE(format({.start = 0, .end = 5}).isSame) << "a heading is nobody's statement";
    EXPECT_THAT(statements({.session = sql::Dialect::Postgres}),
                testing::ElementsAre("select 1", "select 2", "select FROM where"));
}

TEST_F(LanguageServiceTest, NothingIsOfferedInTheTextAroundBlocks) {
    service_.setKind(TextKind::Markdown);
    const std::string text = "sel\n```sql\nsel\n```\n";
    service_.setText(base::SharedText(text));
    std::vector<std::size_t> asked;
    std::promise<void> last;
    const auto ask = [&](std::size_t caret, bool isLast) {
        service_.complete(caret, catalog::View(), {}, [&, caret, isLast](const sql::Completion&) {
            asked.push_back(caret);
            if (isLast) last.set_value();
        });
    };
    ask(3, false);
    ask(text.rfind("sel") + 3, true);
    last.get_future().wait();
    EXPECT_THAT(asked, testing::ElementsAre(text.rfind("sel") + 3));
}

TEST(LanguageServiceEndTest, NothingIsToldToSomebodyWhoIsGone) {
    for (int i = 0; i < 200; ++i) {
        auto heard = std::make_unique<int>(0);
        LanguageService service(sql::Dialect::Sqlite, [&heard](const TextReadingPtr&) { ++*heard; });
        service.setText("SELECT 1");
        service.findStatements({.caret = 0, .selection = {}, .session = sql::Dialect::Sqlite},
                               [&heard](const auto&) { ++*heard; });
    }  // the sanitizers would see what is told afterwards
    base::Executor::of(base::Work::Interactive).drain();
}

}  // namespace
}  // namespace pantry::work
