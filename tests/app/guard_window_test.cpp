// The guard in the window, on a real server: what only the server can tell is asked about as well.
#include <gmock/gmock.h>

#include <QPlainTextEdit>
#include <algorithm>

#include "app/result/result_names.h"
#include "app/window_fixture.h"
#include "core/db/run_and_wait.h"
#include "demo/throwaway_server.h"

namespace pantry::app {
namespace {

demo::PostgresServer& server() {
    static demo::PostgresServer instance;
    return instance;
}

class GuardWindowTest : public WindowTest {
protected:
    void SetUp() override {
        ASSERT_EQ(server().startup(), "");
        WindowTest::SetUp();
        db::Session owner(profile(db::Environment::Local), std::nullopt);
        for (const char* sql :
             {"DROP TABLE IF EXISTS jar CASCADE", "CREATE TABLE jar (id int)", "INSERT INTO jar VALUES (1), (2), (3)",
              "CREATE OR REPLACE FUNCTION cull() RETURNS int LANGUAGE sql AS 'DELETE FROM jar; SELECT 7'",
              "CREATE OR REPLACE FUNCTION hidden_cull() RETURNS int STABLE LANGUAGE plpgsql AS "
              "'BEGIN RETURN cull(); END'"}) {
            const auto made = db::runAndWait(owner, sql);
            ASSERT_TRUE(made) << sql << ": " << made.error().text();
        }
        desk_->connections().put(profile(db::Environment::Live));
    }
    static db::ConnectionProfile profile(db::Environment environment) {
        db::ConnectionProfile p{.id = "records", .name = "Records", .environment = environment};
        p.engine = db::Engine::Postgres;
        p.host = server().folder();
        p.user = server().user();
        p.database = "postgres";
        return p;
    }
    static std::string jars() {
        db::Session owner(profile(db::Environment::Local), std::nullopt);
        const auto rows = db::runAndWait(owner, "SELECT count(*) FROM jar");
        return rows ? data::toText((*rows)->cell(0, 0)) : rows.error().text();
    }
    QString reason() {
        for (QLabel* label : find(objectName::kHeldPanel)->findChildren<QLabel*>()) {
            if (label->text().contains(QLatin1String("Behind it")) || label->text().contains(QLatin1String("calls")))
                return label->text();
        }
        return {};
    }
    void confirmByName() {
        EVENTUALLY(QApplication::focusWidget() == find(objectName::kHeldName));
        type(QStringLiteral("Records"));
        key(Qt::Key_Return);
    }
};

TEST_F(GuardWindowTest, AFunctionThatMayChangeSomethingWaitsAndWhatStandsBehindItToo) {
    window_->openSheet(QStringLiteral("records"), QStringLiteral("select cull();\nselect 2;\nselect 3"));
    key(Qt::Key_Return, Qt::ControlModifier | Qt::ShiftModifier);
    EVENTUALLY(find(objectName::kHeldPanel) != nullptr && reason().contains(QLatin1String("2 statements")));
    EXPECT_TRUE(reason().contains(QLatin1String("cull()"))) << fromQt(reason());
    EVENTUALLY(window_->currentSheet()->sheet().cards().empty()) << "nothing was sent, so nothing has a card";
    EXPECT_EQ(jars(), "3");
    confirmByName();
    EVENTUALLY(isOver(2));
    EXPECT_EQ(data::toText(card(0)->result()->cell(0, 0)), "7");
    EXPECT_EQ(data::toText(card(2)->result()->cell(0, 0)), "3");
    EXPECT_EQ(find(objectName::kHeldPanel), nullptr);
    EXPECT_EQ(jars(), "0");
}

TEST_F(GuardWindowTest, WhatTheServerItselfRefusesIsOfferedWithItsReason) {
    window_->openSheet(QStringLiteral("records"), QStringLiteral("select hidden_cull()"));
    EVENTUALLY(find(objectName::kBandLock) != nullptr) << "the band says that changes are locked";
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(find(objectName::kHeldPanel) != nullptr);
    EXPECT_EQ(jars(), "3");
    EVENTUALLY(isOver(0));
    EXPECT_EQ(card(0)->state(), Card::State::Failed);
    confirmByName();
    EVENTUALLY(isOver(1));
    EXPECT_EQ(card(1)->state(), Card::State::Done) << fromQt(card(1)->outcome());
    EXPECT_EQ(jars(), "0");
    // The confirmation was for that run alone.
    key(Qt::Key_F6);
    window_->currentSheet()->sheet().runStatement("select hidden_cull() + 1");
    EVENTUALLY(find(objectName::kHeldPanel) != nullptr);
}

TEST_F(GuardWindowTest, AfterAnErrorTheNextStatementIsHeldBackByItsOwnGuard) {
    window_->openSheet(QStringLiteral("records"), QStringLiteral("select nonsense;\ndelete from jar where id < 3"));
    Sheet& sheet = window_->currentSheet()->sheet();
    sheet.runs().setOnError(work::OnError::Ask);
    sheet.runAll();
    EVENTUALLY(find(objectName::kHeldPanel) != nullptr && isOver(0));
    ASSERT_TRUE(sheet.runs().held());
    EXPECT_THAT(sheet.runs().held()->afterWhat, testing::HasSubstr("failed"));
    EXPECT_THAT(sheet.runs().held()->why.reason, testing::HasSubstr("DELETE"));
    EVENTUALLY(find<QLabel>(objectName::kHeldCount)->text() == QLatin1String("2 rows match now."));
    EVENTUALLY(QApplication::focusWidget() == find(objectName::kHeldName));
    key(Qt::Key_Return);
    EXPECT_EQ(jars(), "3") << "Return alone confirms nothing";
    confirmByName();
    EVENTUALLY(isOver(1));
    EXPECT_EQ(jars(), "1");
}

TEST_F(GuardWindowTest, CountingTheRowsRunsNoFunction) {
    window_->openSheet(QStringLiteral("records"), QStringLiteral("delete from jar where cull() > 0"));
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(find(objectName::kHeldPanel) != nullptr);
    EVENTUALLY(find<QLabel>(objectName::kHeldCount)->text().contains(QLatin1String("cull()")));
    EXPECT_EQ(jars(), "3");
}

TEST_F(GuardWindowTest, AConnectionThatAnotherProgramMadeLiveIsGuardedFromThenOn) {
    desk_->connections().put(profile(db::Environment::Local));
    window_->openSheet(QStringLiteral("records"), QStringLiteral("delete from jar where id = 1"));
    desk_->flush();
    EXPECT_EQ(find(objectName::kBandLock), nullptr);
    // Somebody else, between two looks of this window.
    ASSERT_TRUE(store::ConnectionsFile(home().connectionsFile()).put(profile(db::Environment::Live)));
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(find(objectName::kHeldPanel) != nullptr);
    EXPECT_EQ(jars(), "3");
    EVENTUALLY(find(objectName::kBandLock) != nullptr) << "and the window shows it";
}

TEST_F(GuardWindowTest, WhatIsHeldBackStaysWhenTheConnectionBecomesLiveAndGoesWhenItLeadsElsewhere) {
    desk_->connections().put(profile(db::Environment::Local));
    window_->openSheet(QStringLiteral("records"), QStringLiteral("delete from jar"));
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(find(objectName::kHeldPanel) != nullptr);
    const auto says = [this](const char* words) {
        for (const QLabel* label : find(objectName::kHeldPanel)->findChildren<QLabel*>()) {
            if (label->text().contains(QLatin1String(words))) return true;
        }
        return false;
    };
    EXPECT_FALSE(says("live"));
    desk_->connections().put(profile(db::Environment::Live));
    EVENTUALLY(find(objectName::kHeldPanel) != nullptr && says("a live connection"));
    EXPECT_EQ(jars(), "3");
    db::ConnectionProfile elsewhere = profile(db::Environment::Live);
    elsewhere.database = "template1";
    std::string remark;
    QObject::connect(window_->currentSheet(), &SheetPage::remarked, window_.get(),
                     [&remark](const QString& text) { remark = fromQt(text); });
    desk_->connections().put(elsewhere);
    EVENTUALLY(find(objectName::kHeldPanel) == nullptr);
    EXPECT_NE(remark.find("was not run"), std::string::npos) << remark;
}

TEST_F(GuardWindowTest, FieldsThatAnotherWindowSavedAreNotErased) {
    db::ConnectionProfile original = profile(db::Environment::Trial);
    desk_->connections().put(original);
    desk_->flush();
    db::ConnectionProfile theirs = original;
    theirs.note = "kept by the other window";
    theirs.environment = db::Environment::Live;
    ASSERT_TRUE(store::ConnectionsFile(home().connectionsFile()).put(theirs));
    db::ConnectionProfile ours = original;
    ours.group = "Orchard";
    desk_->connections().put(ours, original);
    desk_->flush();
    const auto list = store::ConnectionsFile(home().connectionsFile()).load();
    const auto found = std::ranges::find(list->profiles, "records", &db::ConnectionProfile::id);
    ASSERT_NE(found, list->profiles.end());
    EXPECT_EQ(found->note, "kept by the other window");
    EXPECT_EQ(found->environment, db::Environment::Live);
    EXPECT_EQ(found->group, "Orchard");
}

TEST_F(GuardWindowTest, AServerThatSaysVeryMuchDoesNotHoldTheWindow) {
    desk_->connections().put(profile(db::Environment::Local));
    window_->openSheet(
        QStringLiteral("records"),
        QStringLiteral("do $$ begin raise notice '%', repeat('x', 1000000); for i in 1..20000 loop raise "
                       "notice 'n %', i; end loop; end $$"));
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(0));
    EXPECT_EQ(card(0)->messages().size(), db::kMaxNotices);
    EXPECT_EQ(card(0)->summary().noticesLeftOut, 20'001 - db::kMaxNotices);
    EXPECT_EQ(card(0)->messages().front().notice.message.size(), 1'000'000U) << "kept whole";
    window_->currentSheet()->sheet().runStatement("select * from " + std::string(300'000, 'y') + ".z");
    EVENTUALLY(isOver(1));
    EXPECT_LE(card(1)->error()->message.size(), work::Run::kShownBytes + 8);
}

TEST_F(GuardWindowTest, ALongNameSqueezesNothingAndItsBeginningIsReadable) {
    db::ConnectionProfile p = profile(db::Environment::Live);
    p.name = "Records of the whole valley with a name that is very long indeed and goes on and on and on";
    desk_->connections().put(p);
    window_->resize(900, 700);
    window_->openSheet(QStringLiteral("records"), QStringLiteral("select cull()"));
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(find(objectName::kHeldPanel) != nullptr);
    auto* run = find<QPushButton>(objectName::kHeldRun);
    auto* field = find(objectName::kHeldName);
    EXPECT_TRUE(run->text().startsWith(QStringLiteral("Run it on Records of")));
    EXPECT_TRUE(run->toolTip().contains(toQt(p.name)));
    EVENTUALLY(!run->geometry().intersects(field->geometry()));
    EVENTUALLY(run->width() >= run->fontMetrics().horizontalAdvance(run->text()));
    EXPECT_TRUE(find<QPushButton>(objectName::kBandConnection)->text().startsWith(QStringLiteral("Records of")));
    type(toQt(p.name));
    key(Qt::Key_Return);
    EVENTUALLY(isOver(0));
    EXPECT_EQ(jars(), "0") << "the whole name confirms";
}

TEST_F(GuardWindowTest, LongMessagesAreShownWholeWhenSomebodyWants) {
    desk_->connections().put(profile(db::Environment::Local));
    window_->openSheet(QStringLiteral("records"),
                       QStringLiteral("do $$ begin raise notice '%', repeat('plum ', 4000) || 'END'; end $$"));
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(0));
    click(resultName::kViewMessages);
    EVENTUALLY(find(resultName::kMessagesAll) != nullptr);
    auto* list = find<QPlainTextEdit>(resultName::kMessagesList);
    EXPECT_FALSE(list->toPlainText().contains(QStringLiteral("END")));
    click(resultName::kMessagesAll);
    EVENTUALLY(list->toPlainText().contains(QStringLiteral("END")));
    EXPECT_EQ(find(resultName::kMessagesAll), nullptr);
}

}  // namespace
}  // namespace pantry::app
