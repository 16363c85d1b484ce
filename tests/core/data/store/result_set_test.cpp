#include "core/data/store/result_set.h"

#include <rapidcheck/gtest.h>

#include <thread>

namespace pantry::data {
namespace {

TEST(ResultSetTest, HoldsValuesExactlyAsSent) {
    ChunkBuilder builder(5);
    builder.addInteger(9'007'199'254'740'993);
    builder.addReal(0.1);
    builder.addText("O'Dair\n🍎");
    builder.addBinary(std::string_view("\0\xFF", 2));
    builder.addNull();
    builder.endRow();
    ResultSet result({{"a", ""}, {"b", ""}, {"c", ""}, {"d", ""}, {"e", ""}});
    result.append(builder.take());

    EXPECT_EQ(result.cell(0, 0).integer, 9'007'199'254'740'993);
    EXPECT_EQ(toText(result.cell(0, 1)), "0.1");
    EXPECT_EQ(result.cell(0, 2).bytes, "O'Dair\n🍎");
    EXPECT_EQ(result.cell(0, 3).bytes, std::string_view("\0\xFF", 2));
    EXPECT_TRUE(result.cell(0, 4).isNull());
}

using Values = std::vector<std::pair<int, std::string>>;  // kind of cell, and bytes

ChunkPtr chunkOf(ChunkBuilder& builder, const Values& values) {
    for (const auto& [kind, bytes] : values) {
        switch (kind % 5) {
            case 0: builder.addNull(); break;
            case 1: builder.addInteger(static_cast<std::int64_t>(bytes.size()) - 3); break;
            case 2: builder.addReal(static_cast<double>(bytes.size()) / 3); break;
            case 3: builder.addText(bytes); break;
            default: builder.addBinary(bytes); break;
        }
        builder.endRow();
    }
    return builder.take();
}

RC_GTEST_PROP(ChunkBuilderTest, MemoryThatIsUsedAgainHoldsTheSameAsFreshOne, ()) {
    ChunkBuilder passing(1);
    for (const auto& values : *rc::gen::arbitrary<std::vector<Values>>()) {
        ChunkBuilder fresh(1);
        const ChunkPtr expected = chunkOf(fresh, values);
        ChunkPtr chunk = chunkOf(passing, values);
        RC_ASSERT(chunk->rowCount() == values.size());
        for (std::size_t row = 0; row < values.size(); ++row) {
            RC_ASSERT(chunk->cell(row, 0).kind == expected->cell(row, 0).kind);
            RC_ASSERT(toText(chunk->cell(row, 0)) == toText(expected->cell(row, 0)));
        }
        passing.reuse(std::move(chunk));
    }
}

TEST(ChunkBuilderTest, AChunkThatSomebodyHoldsIsNotTakenBack) {
    ChunkBuilder builder(1);
    const ChunkPtr held = chunkOf(builder, {{3, "apple"}});
    builder.reuse(held);
    (void)chunkOf(builder, {{3, "plums"}});
    EXPECT_EQ(held->cell(0, 0).bytes, "apple");
}

TEST(ResultSetTest, AnEmptyTextIsNotNull) {
    ChunkBuilder builder(1);
    builder.addText("");
    builder.endRow();
    ResultSet result(std::vector<Column>{{"a", ""}});
    result.append(builder.take());

    EXPECT_FALSE(result.cell(0, 0).isNull());
}

TEST(ResultSetTest, TellsRealsFromIntegers) {
    EXPECT_EQ(toText({.kind = CellKind::Integer, .integer = 3}), "3");
    EXPECT_EQ(toText({.kind = CellKind::Real, .real = 3}), "3.0");
    EXPECT_EQ(toText({.kind = CellKind::Real, .real = 1e300}), "1e+300");
}

/// A cell as a property needs it: kind and value.
using Value = std::pair<int, int>;

void addValue(ChunkBuilder& builder, const Value& value) {
    switch (value.first) {
        case 0: return builder.addNull();
        case 1: return builder.addInteger(value.second);
        case 2: return builder.addReal(value.second + 0.5);
        case 3: return builder.addText(std::to_string(value.second));
        default: return builder.addBinary(std::string(static_cast<std::size_t>(value.second % 5), 'b'));
    }
}

bool isValue(const Cell& cell, const Value& value) {
    switch (value.first) {
        case 0: return cell.isNull();
        case 1: return cell.kind == CellKind::Integer && cell.integer == value.second;
        case 2: return cell.kind == CellKind::Real && cell.real == value.second + 0.5;
        case 3: return cell.kind == CellKind::Text && cell.bytes == std::to_string(value.second);
        default:
            return cell.kind == CellKind::Binary && cell.bytes.size() == static_cast<std::size_t>(value.second % 5);
    }
}

TEST(ResultSetTest, AnyMixtureOfKindsComesBack) {
    EXPECT_TRUE(rc::check("what went in comes out", [] {
        const auto values =
            *rc::gen::container<std::vector<Value>>(rc::gen::pair(rc::gen::inRange(0, 5), rc::gen::inRange(0, 1000)));
        ChunkBuilder builder(1);
        ResultSet result(std::vector<Column>{{"a", ""}});
        for (std::size_t i = 0; i < values.size(); ++i) {
            addValue(builder, values[i]);
            builder.endRow();
            if (i % 7 == 3) result.append(builder.take());
        }
        result.append(builder.take());
        RC_ASSERT(result.rowCount() == values.size());
        for (std::size_t i = 0; i < values.size(); ++i) RC_ASSERT(isValue(result.cell(i, 0), values[i]));
    }));
}

TEST(ResultSetTest, ReadersSeeWholeRowsWhileTheWriterAppends) {
    ResultSet result({{"a", ""}, {"b", ""}});
    std::thread writer([&] {
        ChunkBuilder builder(2);
        for (int i = 0; i < 20'000; ++i) {
            builder.addInteger(i);
            builder.addText(std::to_string(i));
            builder.endRow();
            if (i % 13 == 0) result.append(builder.take());
        }
        result.append(builder.take());
    });
    std::size_t seen = 0;
    while (seen < 20'000) {
        seen = result.rowCount();
        if (seen == 0) continue;
        const std::size_t row = seen - 1;
        ASSERT_EQ(result.cell(row, 0).integer, static_cast<std::int64_t>(row));
        ASSERT_EQ(result.cell(row, 1).bytes, std::to_string(row));
    }
    writer.join();
}

}  // namespace
}  // namespace pantry::data
