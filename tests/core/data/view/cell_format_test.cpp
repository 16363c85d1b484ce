#include "core/data/view/cell_format.h"

#include <rapidcheck/gtest.h>

#include "core/data/view/decimal.h"

namespace pantry::data {
namespace {

std::string shown(const std::string& text, CellFormat format) {
    return formatted({.kind = CellKind::Text, .bytes = text}, format).value_or("as sent");
}

TEST(CellFormatTest, NumbersAreRoundedByTheirDigits) {
    EXPECT_EQ(roundedDecimal("2.675", 2), "2.68") << "a double would say 2.67";
    EXPECT_EQ(roundedDecimal("-0.004", 2), "0.00");
    EXPECT_EQ(roundedDecimal("99.995", 2), "100.00");
    EXPECT_EQ(roundedDecimal("0.5", 0), "1");
    EXPECT_EQ(roundedDecimal("12345678901234567890.15", 1), "12345678901234567890.2");
    EXPECT_EQ(roundedDecimal("7", 3), "7.000");
}

RC_GTEST_PROP(CellFormatProperty, RoundingGoesNoFartherThanHalfAUnit, (std::int32_t units)) {
    const std::string text =
        std::to_string(units / 1000) + "." + std::to_string(1000 + std::abs(units % 1000)).substr(1);
    const double rounded = *doubleIn(roundedDecimal(text, 1));
    RC_ASSERT(std::abs(rounded - *doubleIn(text)) <= 0.0500001);
}

TEST(CellFormatTest, EveryFormKeepsToItsValue) {
    EXPECT_EQ(shown("1234567.5", {CellForm::Thousands}), "1\u2009234\u2009567.5");
    EXPECT_EQ(shown("-1234", {CellForm::Thousands}), "-1\u2009234");
    EXPECT_EQ(shown("0.256", {CellForm::Percent}), "25.6 %");
    EXPECT_EQ(shown("0.0625", {CellForm::Percent, 1}), "6.3 %");
    EXPECT_EQ(shown("3725", {CellForm::Duration}), "1:02:05");
    EXPECT_EQ(shown("1100000", {CellForm::Bytes}), "1.1 MB");
    EXPECT_EQ(shown("2026-11-17 08:30:05+02", {CellForm::Minutes}), "2026-11-17 08:30");
    EXPECT_EQ(shown("2026-11-17 23:30:05+02", {CellForm::DayInWords}), "17 November 2026");
    EXPECT_EQ(shown("2026-11-17T08:30", {CellForm::Day}), "2026-11-17");
    EXPECT_EQ(shown("{ \"a b\" : [ 1, \"x \\\" y\" ] }", {CellForm::CompactJson}), "{\"a b\":[1,\"x \\\" y\"]}");
}

TEST(CellFormatTest, WhatAFormCannotBeHadOfStaysAsItWasSent) {
    for (const CellForm form : {CellForm::Thousands, CellForm::Percent, CellForm::Day, CellForm::Bytes}) {
        EXPECT_EQ(shown("Saltmarsh", {form}), "as sent");
        EXPECT_FALSE(formatted({}, {form})) << "NULL has no form";
    }
    EXPECT_EQ(shown("infinity", {CellForm::Day}), "as sent");
    EXPECT_EQ(shown("-5", {CellForm::Bytes}), "as sent");
}

TEST(CellFormatTest, FormsHaveWordsForFiles) {
    for (const ColumnType type : {ColumnType::Decimal, ColumnType::Timestamp, ColumnType::Json, ColumnType::Unknown}) {
        for (const CellForm form : formsFor(type)) EXPECT_EQ(formFromWord(formWord(form)), form);
    }
    EXPECT_FALSE(formFromWord("fancy"));
}

}  // namespace
}  // namespace pantry::data
