#include "app/result/grid_model.h"

#include <QAbstractItemModelTester>
#include <QBuffer>
#include <QImage>
#include <QSignalSpy>
#include <thread>

#include "app/base/text.h"
#include "app/inspect/value_tree.h"
#include "app/result/record_view.h"
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

TEST_F(GridModelTest, RowsTurnedOnTheirSideHaveALineForEachColumn) {
    RecordModel record(&model_);
    const QAbstractItemModelTester tester(&record, QAbstractItemModelTester::FailureReportingMode::Fatal);
    model_.setSource(&source_);
    source_.run().noteResult(result_);
    result_->append(rows(0, 10));
    source_.run().noteRows();
    record.setRows({4, 7}, {1, 0});
    ASSERT_EQ(record.rowCount(), 2);
    EXPECT_EQ(record.columnCount(), 2);
    EXPECT_EQ(record.gridColumn(0), 1);
    EXPECT_EQ(record.index(1, 1).data().toString(), QStringLiteral("7"));
    EXPECT_EQ(record.headerData(0, Qt::Vertical, Qt::DisplayRole).toString(), QStringLiteral("t  text"));
    record.setRows({}, {0});
    EXPECT_EQ(record.columnCount(), 0);
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

TEST(ValueTextTest, APictureIsShownSmallAndADamagedOneAsBytes) {
    QImage wide(2000, 500, QImage::Format_RGB32);
    wide.fill(Qt::darkGreen);
    QByteArray png;
    QBuffer buffer(&png);
    buffer.open(QIODevice::WriteOnly);
    ASSERT_TRUE(wide.save(&buffer, "PNG"));
    const auto valueOf = [](const QByteArray& bytes) {
        return valueText(
            {.kind = data::CellKind::Binary, .bytes = {bytes.constData(), static_cast<std::size_t>(bytes.size())}},
            data::ColumnType::Binary);
    };
    const ValueText whole = valueOf(png);
    EXPECT_EQ(whole.picture.size(), QSize(96, 24));
    EXPECT_EQ(whole.picture.pixelColor(40, 10), QColor(Qt::darkGreen));
    EXPECT_TRUE(whole.facts.contains(QStringLiteral("picture")));
    const ValueText damaged = valueOf(png.left(40));
    EXPECT_TRUE(damaged.picture.isNull());
    EXPECT_FALSE(damaged.facts.contains(QStringLiteral("picture")));
    EXPECT_TRUE(damaged.text.startsWith(QStringLiteral("0000  89 50 4e 47")));
}

TEST(ValueTreeTest, PartsOfJsonAndXmlAreReadOnAnyThread) {
    const auto partsOf = [](const QString& text) {
        ValueTree::Parts parts;
        std::thread([&] { parts = ValueTree::partsOf(text); }).join();
        return parts;
    };
    EXPECT_EQ(partsOf(QStringLiteral("plain")), nullptr);
    EXPECT_EQ(partsOf(QStringLiteral("{\"a\": ")), nullptr);
    EXPECT_EQ(partsOf(QStringLiteral("<a><b></a>")), nullptr);
    EXPECT_EQ(partsOf(QStringLiteral("[]")), nullptr) << "nothing to fold";
    const ValueTree::Parts json = partsOf(QStringLiteral("{\"rows\": [1, 2.50], \"note\": null}"));
    ASSERT_NE(json, nullptr);
    ValueTree tree;
    tree.show(json);
    ASSERT_EQ(tree.topLevelItemCount(), 2);
    EXPECT_EQ(tree.topLevelItem(0)->text(1), QStringLiteral("2 elements"));
    EXPECT_EQ(tree.topLevelItem(0)->child(1)->text(1), QStringLiteral("2.50")) << "as it is written";
    tree.show(partsOf(
        QStringLiteral(R"({"a \"b\"": "\u00fcbrig\n\ud83c\udf4e", "n": 123456789012345678901234567890, "t": true})")));
    EXPECT_EQ(tree.topLevelItem(0)->text(0), QStringLiteral("a \"b\""));
    EXPECT_EQ(tree.topLevelItem(0)->text(1), QStringLiteral("übrig\n🍎"));
    EXPECT_EQ(tree.topLevelItem(1)->text(1), QStringLiteral("123456789012345678901234567890"));
    EXPECT_EQ(tree.topLevelItem(2)->text(1), QStringLiteral("true"));
    tree.show(partsOf(QStringLiteral(R"([{"a": {}}, [[1]], "one"])")));
    EXPECT_EQ(tree.topLevelItem(0)->text(1), QStringLiteral("1 member"));
    EXPECT_EQ(tree.topLevelItem(1)->child(0)->child(0)->text(1), QStringLiteral("1"));
    EXPECT_EQ(tree.topLevelItem(2)->text(0), QStringLiteral("2"));
    EXPECT_EQ(partsOf(QStringLiteral("{\"a\": 1}\n{\"a\": 2}")), nullptr) << "several values are no value";
    tree.show(partsOf(QStringLiteral("<tree id=\"7\"><crop>apple</crop></tree>")));
    ASSERT_EQ(tree.topLevelItemCount(), 1);
    EXPECT_EQ(tree.topLevelItem(0)->child(0)->text(0), QStringLiteral("@id"));
    EXPECT_EQ(tree.topLevelItem(0)->child(1)->text(1), QStringLiteral("apple"));
    tree.show(nullptr);
    EXPECT_EQ(tree.topLevelItemCount(), 0);
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
