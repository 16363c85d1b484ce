#include "app/look/theme.h"

#include <cmath>

#include "app/look/connection_colours.h"

namespace pantry::app {
namespace {

/// Relative luminance and contrast as WCAG 2 define them.
double luminance(const QColor& colour) {
    const auto part = [](double c) { return c <= 0.04045 ? c / 12.92 : std::pow((c + 0.055) / 1.055, 2.4); };
    return 0.2126 * part(colour.redF()) + 0.7152 * part(colour.greenF()) + 0.0722 * part(colour.blueF());
}

double contrast(const QColor& a, const QColor& b) {
    const double light = std::max(luminance(a), luminance(b));
    const double dark = std::min(luminance(a), luminance(b));
    return (light + 0.05) / (dark + 0.05);
}

class ThemeTest : public testing::TestWithParam<const char*> {
protected:
    void SetUp() override { Theme::current().choose(QLatin1String(GetParam())); }
    void TearDown() override { Theme::current().choose(QStringLiteral("daylight")); }
};

TEST_P(ThemeTest, EveryTextCanBeRead) {
    const Theme& theme = Theme::current();
    for (const char* ground : {"paper", "card", "selection"}) {
        for (const char* text : {"ink", "quiet", "juniper", "beet", "sage", "cocoa", "marigold", "tomato"}) {
            EXPECT_GE(contrast(theme.colour(text), theme.colour(ground)), 4.5) << text << " on " << ground;
        }
    }
    EXPECT_GE(contrast(theme.colour("onJuniper"), theme.colour("juniper")), 4.5);
}

TEST_P(ThemeTest, EveryConnectionColourIsThere) {
    for (const char* colour : connectionColours()) {
        EXPECT_NE(Theme::current().connectionColour(colour), QColor(Qt::magenta)) << colour;
    }
}

TEST_P(ThemeTest, TheBandIsTintedButItsWordsCanBeRead) {
    const Theme& theme = Theme::current();
    for (const char* colour : connectionColours()) {
        const QColor band = theme.tinted(theme.connectionColour(colour), 0.16);
        EXPECT_GE(contrast(theme.colour("ink"), band), 4.5) << colour;
    }
}

INSTANTIATE_TEST_SUITE_P(Both, ThemeTest, testing::Values("daylight", "lamplight"));

TEST(ConnectionColoursTest, ALiveConnectionIsRedWhateverWasChosen) {
    for (const char* chosen : {"sage", "marigold", "juniper", "beet", "cocoa", "tomato", ""}) {
        db::ConnectionProfile p;
        p.environment = db::Environment::Live;
        p.colour = chosen;
        EXPECT_EQ(signalColour(p), "tomato");
        EXPECT_EQ(hasMark(p), p.colour != "tomato") << "the chosen one stands beside";
    }
}

TEST(ConnectionColoursTest, OtherConnectionsHaveTheirChosenColour) {
    db::ConnectionProfile p;
    p.environment = db::Environment::Trial;
    p.colour = "beet";
    EXPECT_EQ(signalColour(p), "beet");
    EXPECT_FALSE(hasMark(p));
    EXPECT_NE(db::usualColour(db::Environment::Local), "tomato");
    EXPECT_NE(db::usualColour(db::Environment::Trial), "tomato");
    EXPECT_NE(db::usualColour(db::Environment::Trial), db::usualColour(db::Environment::Local));
}

}  // namespace
}  // namespace pantry::app
