#include "core/db/connection_colours.h"

#include <gtest/gtest.h>

namespace pantry::db {
namespace {

TEST(ConnectionColoursTest, ALiveConnectionIsRedWhateverWasChosen) {
    for (const char* chosen : {"sage", "marigold", "juniper", "beet", "cocoa", "tomato", ""}) {
        ConnectionProfile p;
        p.environment = Environment::Live;
        p.colour = chosen;
        EXPECT_EQ(signalColour(p), "tomato");
        EXPECT_EQ(hasMark(p), p.colour != "tomato") << "the chosen one stands beside";
    }
}

TEST(ConnectionColoursTest, OtherConnectionsHaveTheirChosenColour) {
    ConnectionProfile p;
    p.environment = Environment::Trial;
    p.colour = "beet";
    EXPECT_EQ(signalColour(p), "beet");
    EXPECT_FALSE(hasMark(p));
}

TEST(ConnectionColoursTest, NothingBecomesRedByItselfButLive) {
    EXPECT_EQ(usualColour(Environment::Live), "tomato");
    EXPECT_NE(usualColour(Environment::Local), "tomato");
    EXPECT_NE(usualColour(Environment::Trial), "tomato");
    EXPECT_NE(usualColour(Environment::Trial), usualColour(Environment::Local));
}

}  // namespace
}  // namespace pantry::db
