#include "app/result/grid_model.h"

#include <QAbstractItemModelTester>
#include <QSignalSpy>

#include "app/base/text.h"
#include "app/result/value_text.h"
#include "app/window_fixture.h"

namespace pantry::app {
namespace {

data::ChunkPtr rows(int from, int count) {
    data::ChunkBuilder builder(2);
    for (int i = from; i < from + count; ++i) {
        builder.addInteger(i);
        i % 3 == 0 ? builder.addNull() : builder.addText("line\nbreak");
        builder.endRow();
    }
    return builder.take();
}

class GridModelTest : public testing::Test {
protected:
    GridModelTest()
        : result_(std::make_shared<data::ResultSet>(std::vector<data::Column>{
              {"n", "integer", data::ColumnType::Integer}, {"t", "text", data::ColumnType::Text}})) {
        source_.run().noteStarted();
    }
    ResultSource source_{std::make_shared<work::Run>("select"), nullptr};
    std::shared_ptr<data::ResultSet> result_;
    GridModel model_;
    QAbstractItemModelTester tester_{&model_, QAbstractItemModelTester::FailureReportingMode::Fatal};
};

TEST_F(GridModelTest, GrowsAsRowsArrive) {
    model_.setSource(&source_);
    source_.run().noteResult(result_);
    EXPECT_EQ(model_.rowCount(), 0);
    result_->append(rows(0, 10));
    source_.run().noteRows();
    EXPECT_EQ(model_.rowCount(), 10);
    result_->append(rows(10, 5));
    source_.run().noteRows();
    EXPECT_EQ(model_.rowCount(), 15);
    EXPECT_EQ(model_.columnCount(), 2);
}

TEST_F(GridModelTest, TellsOfVeryManyRowsAtOnce) {
    model_.setSource(&source_);
    source_.run().noteResult(result_);
    const QSignalSpy told(&model_, &QAbstractItemModel::rowsInserted);
    result_->append(rows(0, 120'000));
    source_.run().noteRows();
    result_->append(rows(120'000, 10));
    source_.run().noteRows();
    EXPECT_EQ(model_.rowCount(), 120'010);
    EXPECT_EQ(told.count(), 2);
}

TEST_F(GridModelTest, ARowThatSomebodyGoesToIsThereAtOnce) {
    model_.setSource(&source_);
    source_.run().noteResult(result_);
    result_->append(rows(0, 120'000));
    source_.run().noteRows();
    EXPECT_EQ(model_.rowCount(), 120'000);
    result_->append(rows(120'000, 300));
    model_.growTo(120'200);
    EXPECT_TRUE(model_.index(120'200, 0).isValid());
    model_.growTo(500'000);
    EXPECT_EQ(model_.rowCount(), 120'300);
}

TEST_F(GridModelTest, ShowsNumbersAtTheRightAndNullsUnmistakably) {
    result_->append(rows(0, 2));
    source_.run().noteResult(result_);
    model_.setSource(&source_);
    EXPECT_TRUE(model_.index(0, 0).data(Qt::TextAlignmentRole).toInt() & Qt::AlignRight);
    EXPECT_FALSE(model_.index(1, 1).data(Qt::TextAlignmentRole).toInt() & Qt::AlignRight);
    EXPECT_EQ(model_.index(0, 1).data().toString(), QStringLiteral("null"));
    EXPECT_TRUE(model_.index(0, 1).data(GridModel::NullRole).toBool());
    EXPECT_EQ(model_.index(1, 1).data().toString(), QStringLiteral("line⏎break"));
}

TEST_F(GridModelTest, ForgetsACardThatIsGone) {
    auto card = std::make_unique<ResultSource>(std::make_shared<work::Run>("select"), nullptr);
    result_->append(rows(0, 2));
    card->run().noteResult(result_);
    model_.setSource(card.get());
    EXPECT_EQ(model_.rowCount(), 2);
    card.reset();
    EXPECT_EQ(model_.rowCount(), 0);
}

TEST(ValueTextTest, ShowsEveryKindInFull) {
    EXPECT_EQ(valueText({}, data::ColumnType::Text).facts, QStringLiteral("null: no value"));
    EXPECT_TRUE(
        valueText({.kind = data::CellKind::Text}, data::ColumnType::Text).facts.contains(QStringLiteral("not null")));
    EXPECT_EQ(valueText({.kind = data::CellKind::Text, .bytes = R"({"a":[1]})"}, data::ColumnType::Text).text,
              QStringLiteral("{\n  \"a\": [\n    1\n  ]\n}"));
    EXPECT_EQ(
        valueText({.kind = data::CellKind::Text, .bytes = std::string_view("a\0b", 3)}, data::ColumnType::Text).text,
        QStringLiteral("a␀b"));
    EXPECT_TRUE(valueText({.kind = data::CellKind::Binary, .bytes = "GIF"}, data::ColumnType::Binary)
                    .text.startsWith(QStringLiteral("0000  47 49 46")));
}

TEST(ValueTextTest, AValueOfFiftyMegabytesIsCutAndSaysSo) {
    const std::string big(50'000'000, 'x');
    const ValueText v = valueText({.kind = data::CellKind::Text, .bytes = big}, data::ColumnType::Text);
    EXPECT_TRUE(v.isCut);
    EXPECT_EQ(v.text.count(QLatin1Char('x')), 200'000);
    EXPECT_TRUE(v.facts.contains(QStringLiteral("50 MB")));
}

}  // namespace
}  // namespace pantry::app
