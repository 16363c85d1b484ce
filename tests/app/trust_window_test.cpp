// What people rely on when they go between connections all day.
#include <gmock/gmock.h>

#include <QAbstractButton>
#include <QLineEdit>

#include "app/theme/theme.h"
#include "app/window_fixture.h"

namespace pantry::app {
namespace {

class TrustWindowTest : public WindowTest {
protected:
    /// Another connection, to a database of the same shape with other rows.
    void addConnection(const QString& id, db::Environment environment, const std::string& colour) {
        ASSERT_TRUE(demo::writeOrchard(folder_ / (fromQt(id) + ".db"), true));
        db::ConnectionProfile p;
        p.id = fromQt(id);
        p.name = fromQt(id);
        p.database = (folder_ / (fromQt(id) + ".db")).string();
        p.environment = environment;
        p.colour = colour;
        desk_->putProfile(p);
    }
    void openAndRun(const QString& text) {
        openSheet(text);
        find(objectName::kEditor)->setFocus();
        key(Qt::Key_Return, Qt::ControlModifier);
        EVENTUALLY(isOver(0));
    }
    Sheet& sheet() { return window_->currentSheet()->sheet(); }
    void listen() {
        QObject::connect(&sheet(), &Sheet::remarked, window_.get(),
                         [this](const QString& words) { remarks_ += words; });
    }
    QStringList remarks_;
};

TEST_F(TrustWindowTest, AResultIsNotRunAgainWhereItDidNotComeFrom) {
    addConnection(QStringLiteral("other"), db::Environment::Trial, "beet");
    openAndRun(QStringLiteral("SELECT count(*) FROM frost_alert"));
    const data::ResultSetPtr before = card(0)->result();
    EXPECT_TRUE(sheet().isFromHere(card(0)));
    sheet().setConnection(QStringLiteral("other"));
    EXPECT_FALSE(sheet().isFromHere(card(0)));
    EXPECT_EQ(sheet().cardOf(0), nullptr) << "its outcome does not stand behind the statement that would run here";
    listen();
    find("card1")->setFocus();
    key(Qt::Key_R);
    EXPECT_EQ(card(0)->result(), before);
    EXPECT_EQ(sheet().cards().size(), 1U);
    ASSERT_EQ(remarks_.size(), 1);
    EXPECT_THAT(fromQt(remarks_.front()), testing::HasSubstr("came from Orchard records"));
    sheet().setConnection(QStringLiteral("orchard"));
    EXPECT_TRUE(sheet().isFromHere(card(0)));
    EXPECT_EQ(sheet().cardOf(0), card(0));
    key(Qt::Key_R);
    EVENTUALLY(card(0)->result() && card(0)->result() != before);
}

TEST_F(TrustWindowTest, OtherRowsOfAResultComeFromWhereItsFirstOnesCame) {
    addConnection(QStringLiteral("other"), db::Environment::Trial, "beet");
    openAndRun(
        QStringLiteral("WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n LIMIT 5000) SELECT i FROM n"));
    ASSERT_TRUE(card(0)->hasMore());
    sheet().runStatement("SELECT 1");  // its line is needed for another
    EVENTUALLY(isOver(1) && card(0)->state() == Card::State::Partial);
    sheet().setConnection(QStringLiteral("other"));
    listen();
    sheet().fetchAll(card(0));
    EXPECT_EQ(sheet().cards().size(), 2U);
    ASSERT_EQ(remarks_.size(), 1);
    EXPECT_THAT(fromQt(remarks_.front()), testing::HasSubstr("came from"));
}

TEST_F(TrustWindowTest, PressingRunTwiceRunsOnce) {
    openSheet(QStringLiteral("WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n) SELECT max(i) FROM n"));
    listen();
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(card(0) != nullptr && card(0)->isGoingOn());
    key(Qt::Key_Return, Qt::ControlModifier);
    key(Qt::Key_Return, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_EQ(sheet().cards().size(), 1U);
    EXPECT_EQ(remarks_.size(), 2);
    EXPECT_THAT(fromQt(remarks_.front()), testing::HasSubstr("running already"));
    click(objectName::kStopButton);
    EVENTUALLY(isOver(0));
    key(Qt::Key_Return, Qt::ControlModifier);
    EXPECT_EQ(sheet().cards().size(), 2U) << "afterwards it is another run";
    sheet().stop();
    EVENTUALLY(isOver(1));
}

TEST_F(TrustWindowTest, WhatRunsShowsForHowLong) {
    openSheet(QStringLiteral("WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n) SELECT max(i) FROM n"));
    find(objectName::kEditor)->setFocus();
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(card(0) != nullptr && card(0)->state() == Card::State::Running);
    auto* button = find<QAbstractButton>("card1");
    ASSERT_NE(button, nullptr);
    const auto shows = [&](const char* words) { return button->accessibleName().contains(QString::fromUtf8(words)); };
    EVENTUALLY(shows(" · 1.0 s") || shows(" · 2.0 s"));
    EVENTUALLY(shows(" · 3.0 s") || shows(" · 4.0 s"));
    sheet().stop();
    EVENTUALLY(isOver(0));
    EVENTUALLY(shows("stopped"));
}

TEST_F(TrustWindowTest, AKeyOfAFindFieldDoesNotRunTheSheet) {
    openSheet(QStringLiteral("DELETE FROM frost_alert"));
    EVENTUALLY(hasCatalog());
    for (const char* field : {objectName::kCatalogFind}) {
        auto* input = find<QLineEdit>(field);
        ASSERT_NE(input, nullptr) << field;
        input->setFocus();
        key(Qt::Key_Return, Qt::ControlModifier);
        key(Qt::Key_Return, Qt::ControlModifier | Qt::ShiftModifier);
    }
    for (const Card* one : sheet().cards()) EXPECT_EQ(one->statement().find("DELETE"), std::string::npos);
}

TEST_F(TrustWindowTest, LiveIsRedWhateverColourWasChosen) {
    addConnection(QStringLiteral("vault"), db::Environment::Live, "sage");
    window_->openSheet(QStringLiteral("vault"), QStringLiteral("SELECT 1"));
    const QString red = Theme::current().connectionColour("tomato").name();
    const auto* band = find(objectName::kContextBand);
    ASSERT_NE(band, nullptr);
    bool isRed = false;
    for (const auto* label : band->findChildren<QLabel*>()) {
        if (label->text() == QStringLiteral("LIVE")) isRed = label->styleSheet().contains(red);
    }
    EXPECT_TRUE(isRed);
}

TEST_F(TrustWindowTest, ChoosingLiveInTheFormChoosesRedAndKeepsAColourOfOnesOwn) {
    for (const auto& [colour, wanted] : {std::pair{"sage", "tomato"}, {"beet", "beet"}}) {
        db::ConnectionProfile p = *desk_->profile(QStringLiteral("orchard"));
        p.id = colour;
        p.name = colour;
        p.environment = db::Environment::Local;
        p.colour = colour;
        desk_->putProfile(p);
        window_->showConnections();
        QWidget* card = nullptr;
        EVENTUALLY([&] {
            for (auto* c : window_->findChildren<QWidget*>(QStringLiteral("connectionCard"))) {
                if (c->isVisible() && c->property("connection").toString() == QLatin1String(colour)) card = c;
            }
            return card != nullptr;
        }());
        QTest::mouseClick(card, Qt::LeftButton);
        for (auto* button : window_->findChildren<QPushButton*>()) {
            if (button->isVisible() && button->text() == QStringLiteral("Live"))
                QTest::mouseClick(button, Qt::LeftButton);
        }
        click(objectName::kFormSave);
        EXPECT_EQ(desk_->profile(QLatin1String(colour))->environment, db::Environment::Live);
        EXPECT_EQ(desk_->profile(QLatin1String(colour))->colour, wanted);
    }
}

TEST_F(TrustWindowTest, TheFirstPartOfALongNameStaysInSightInANarrowWindow) {
    db::ConnectionProfile p = *desk_->profile(QStringLiteral("orchard"));
    p.name = "Larkspur Vale orchard records of all the years since the flood of the lower meadows";
    desk_->putProfile(p);
    openSheet(QStringLiteral("SELECT 1"));
    window_->resize(900, 640);
    QCoreApplication::processEvents();
    auto* button = find<QPushButton>(objectName::kBandConnection);
    ASSERT_NE(button, nullptr);
    EXPECT_TRUE(button->text().startsWith(QStringLiteral("Larkspur"))) << button->text().toStdString();
    EXPECT_GE(button->width(), button->sizeHint().width()) << "nothing of it is cut";
    EXPECT_THAT(fromQt(button->toolTip()), testing::HasSubstr("lower meadows"));
}

}  // namespace
}  // namespace pantry::app
