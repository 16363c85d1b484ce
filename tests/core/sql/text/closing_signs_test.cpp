#include "core/sql/text/closing_signs.h"

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

namespace pantry::sql {
namespace {

TEST(ClosingSignsTest, WhatOpensIsClosedWhereSomethingEnds) {
    for (const char after : {'\0', ' ', '\n', ')', ',', ';', ']'}) {
        EXPECT_EQ(closingFor('(', {' ', after}), ')') << int(after);
        EXPECT_EQ(closingFor('\'', {' ', after}), '\'') << int(after);
    }
    EXPECT_EQ(closingFor('[', {'a', '\0'}), ']');
    EXPECT_EQ(closingFor('"', {'.', ' '}), '"');
    EXPECT_EQ(closingFor('`', {' ', '\0'}), '`');
}

TEST(ClosingSignsTest, NothingIsSwallowed) {
    EXPECT_EQ(closingFor('(', {' ', 'n'}), '\0') << "a name follows";
    EXPECT_EQ(closingFor('(', {' ', '('}), '\0');
    EXPECT_EQ(closingFor('(', {.before = ' ', .isInText = true}), '\0');
    EXPECT_EQ(closingFor('a', {' ', ' '}), '\0');
    EXPECT_EQ(closingFor(')', {' ', ' '}), '\0');
}

TEST(ClosingSignsTest, AQuoteBehindAWordOrAQuoteOpensNothing) {
    EXPECT_EQ(closingFor('\'', {'n', ' '}), '\0') << "don't";
    EXPECT_EQ(closingFor('\'', {'\'', ' '}), '\0') << "doubled";
    EXPECT_EQ(closingFor('\'', {'\xA9', ' '}), '\0') << "letters beyond ASCII";
    EXPECT_EQ(closingFor('\'', {'(', ')'}), '\'');
}

TEST(ClosingSignsTest, APieceTellsWhetherItEndsWithinSomething) {
    for (const char* piece : {"SELECT 'O''Hara (north", "-- don't ", "SELECT \"a b", "/* a (", "SELECT 1 -- "})
        EXPECT_TRUE(endsWithin(piece, Dialect::Postgres)) << piece;
    for (const char* piece : {"", "SELECT 'O''Hara'", "/* a */ ", "SELECT \"a b\" ", "-- a\n", "x = "})
        EXPECT_FALSE(endsWithin(piece, Dialect::Postgres)) << piece;
    EXPECT_TRUE(endsWithin("SELECT `a ", Dialect::MySql));
    EXPECT_TRUE(endsWithin("SELECT $$ begin (", Dialect::Postgres));
}

RC_GTEST_PROP(ClosingSignsProperty, OnlyWhatOpensIsEverClosed, (char typed, char before, char after, bool isInText)) {
    const char closing = closingFor(typed, {before, after, isInText});
    RC_ASSERT((closing == '\0' || closing == closingOf(typed)));
    if (isInText) RC_ASSERT(closing == '\0');
}

}  // namespace
}  // namespace pantry::sql
