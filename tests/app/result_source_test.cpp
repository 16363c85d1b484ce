// A result without any sheet: whoever shows results takes a source and knows no more.
#include "app/source/result_source.h"

#include "app/base/text.h"
#include "app/result/result_window.h"
#include "app/window_fixture.h"
#include "core/data/table_of.h"
#include "support/temporary_folder.h"

namespace pantry::app {
namespace {

/// Rows that somebody worked out, and a second page of them on demand.
class Harvest : public ResultSource {
public:
    Harvest()
        : ResultSource(std::make_shared<work::Run>(sql::Statement("SELECT * FROM harvest", sql::Dialect::Postgres)),
                       nullptr) {
        run().setTitle("harvest");
        run().setPlace({.connectionId = "none"}, "a basket");
        run().noteStarted();
        run().noteResult(result_);
        add("apples", "12");
        add("pears", "7");
        run().notePaused();
    }
    void fetchMore() override {
        add("plums", "30");
        run().noteFinished({});
    }
    void fetchAll() override { fetchMore(); }

private:
    void add(const char* fruit, const char* crates) {
        data::ChunkBuilder builder(2);
        builder.addText(fruit);
        builder.addText(crates);
        builder.endRow();
        result_->append(builder.take());
    }
    std::shared_ptr<data::ResultSet> result_ = std::make_shared<data::ResultSet>(std::vector<data::Column>{
        {"fruit", "text", data::ColumnType::Text}, {"crates", "text", data::ColumnType::Text}});
};

class ResultSourceTest : public testing::Test {
protected:
    ResultSourceTest() : desk_(store::findHome(folder_ / "home")) { desk_.open(); }

    template <class W = QWidget>
    W* find(QWidget* in, const char* name) {
        return in->findChild<W*>(QLatin1String(name));
    }

    test::TemporaryFolder folder_;
    Desk desk_;
};

TEST_F(ResultSourceTest, IsShownInAWindowOfItsOwn) {
    Harvest harvest;
    auto window = std::make_unique<ResultWindow>(desk_, &harvest);
    window->show();
    EXPECT_EQ(window->windowTitle(), QStringLiteral("harvest — a basket"));
    auto* pane = window->findChild<ResultPane*>();
    ASSERT_NE(pane, nullptr);
    EXPECT_EQ(pane->model()->rowCount(), 2);
    EXPECT_TRUE(harvest.isPinned()) << "as long as its window is there";
    window.reset();
    EXPECT_FALSE(harvest.isPinned());
}

TEST_F(ResultSourceTest, GivesMoreRowsOnDemand) {
    Harvest harvest;
    ResultPane pane(desk_);
    pane.setSource(&harvest);
    pane.show();
    auto* all = find<QPushButton>(&pane, objectName::kAllRowsButton);
    ASSERT_NE(all, nullptr);
    QTest::mouseClick(all, Qt::LeftButton);
    EVENTUALLY(pane.model()->rowCount() == 3);
    EXPECT_EQ(data::toText(pane.model()->cell(2, 0)), "plums");
    EXPECT_EQ(harvest.state(), ResultSource::State::Done);
}

TEST_F(ResultSourceTest, OneThatIsOnlyHereSaysWhyItCannotRunAgain) {
    Harvest harvest;
    ASSERT_TRUE(harvest.whyNotAgain());
    EXPECT_THAT(harvest.whyNotAgain()->message, testing::HasSubstr("no statement"));
    EXPECT_FALSE(harvest.runAgain({}, nullptr, true));
}

TEST_F(ResultSourceTest, NamesAreQuotedInItsOwnLanguage) {
    Harvest harvest;
    EXPECT_EQ(harvest.language(), sql::Dialect::Postgres);
    ResultSource nothing(std::make_shared<work::Run>(sql::Statement()), nullptr);
    EXPECT_EQ(nothing.result(), nullptr);
    EXPECT_FALSE(nothing.hasMore());
}

}  // namespace
}  // namespace pantry::app
