// The page Connections in the real window, with keys and mouse.
#include <gmock/gmock.h>

#include <QDropEvent>
#include <QMimeData>

#include "app/pages/connections/connection_card.h"
#include "app/window_fixture.h"

namespace pantry::app {
namespace {

using Ids = std::vector<std::string>;

class ConnectionsWindowTest : public WindowTest {
protected:
    void save(const std::string& id, const std::string& name, const std::string& group) {
        db::ConnectionProfile p;
        p.id = id;
        p.name = name;
        p.group = group;
        p.database = (folder_ / (id + ".db")).string();
        desk_->connections().put(p);
    }
    /// The visible cards' connections, in their order on the page.
    std::vector<std::string> cards() {
        std::vector<std::pair<int, std::string>> placed;
        QCoreApplication::processEvents();
        for (auto* c : window_->findChildren<ConnectionCard*>(QStringLiteral("connectionCard"))) {
            const QPoint at = c->mapTo(window_.get(), QPoint());
            if (c->isVisible())
                placed.emplace_back(at.y() * 10'000 + at.x(), fromQt(c->property("connection").toString()));
        }
        std::ranges::sort(placed);
        std::vector<std::string> ids;
        for (auto& [place, id] : placed) ids.push_back(std::move(id));
        return ids;
    }
    ConnectionCard* cardOf(const std::string& id) {
        for (auto* c : window_->findChildren<ConnectionCard*>(QStringLiteral("connectionCard"))) {
            if (c->isVisible() && fromQt(c->property("connection").toString()) == id) return c;
        }
        return nullptr;
    }
    QPushButton* heading(const QString& group) {
        for (auto* button : window_->findChildren<QPushButton*>(QLatin1String(objectName::kGroupHeading))) {
            if (button->isVisible() && button->property("group").toString() == group) return button;
        }
        return nullptr;
    }
    static void drop(QWidget* target, const std::string& id) {
        QMimeData what;
        what.setData(kConnectionMime, QByteArray::fromStdString(id));
        QDragEnterEvent enter(QPoint(5, 5), Qt::MoveAction, &what, Qt::LeftButton, Qt::NoModifier);
        QCoreApplication::sendEvent(target, &enter);
        ASSERT_TRUE(enter.isAccepted());
        QDropEvent dropped(QPointF(5, 5), Qt::MoveAction, &what, Qt::LeftButton, Qt::NoModifier);
        QCoreApplication::sendEvent(target, &dropped);
        QCoreApplication::processEvents();
    }
    store::ConnectionList saved() {
        desk_->flush();
        return store::ConnectionsFile(home().connectionsFile()).load().value();
    }
};

TEST_F(ConnectionsWindowTest, WhatArrivesMeanwhileDoesNotEndTheNamingOfAGroup) {
    (void)QTest::qWaitForWindowActive(window_.get());
    click(objectName::kNewGroup);
    EVENTUALLY(find<QLineEdit>(objectName::kGroupName) != nullptr);
    auto* edit = find<QLineEdit>(objectName::kGroupName);
    EVENTUALLY(edit->hasFocus());
    QTest::keyClicks(edit, QStringLiteral("Wall"));
    db::ConnectionProfile other = *desk_->connections().profile("orchard");
    other.id = "other";
    other.name = "From elsewhere";
    desk_->connections().put(other);
    ASSERT_EQ(find<QLineEdit>(objectName::kGroupName), edit) << "still there, with what was typed";
    QTest::keyClicks(edit, QStringLiteral(" fruit"));
    QTest::keyClick(edit, Qt::Key_Return);
    EVENTUALLY(heading(QStringLiteral("Wall fruit")) != nullptr);
    EVENTUALLY(cards().size() == 2);
}

TEST_F(ConnectionsWindowTest, AGroupIsMadeNamedFilledClosedAndKept) {
    (void)QTest::qWaitForWindowActive(window_.get());  // which takes the focus, and would end the naming
    click(objectName::kNewGroup);
    EVENTUALLY(find<QLineEdit>(objectName::kGroupName) != nullptr);
    auto* edit = find<QLineEdit>(objectName::kGroupName);
    EVENTUALLY(edit->hasFocus());
    QTest::keyClicks(edit, QStringLiteral("Orchard"));
    QTest::keyClick(edit, Qt::Key_Return);
    EVENTUALLY(heading(QStringLiteral("Orchard")) != nullptr);
    drop(heading(QStringLiteral("Orchard"))->parentWidget(), "orchard");
    EXPECT_EQ(desk_->connections().profile("orchard")->group, "Orchard");
    EVENTUALLY((cards() == Ids{"orchard"}));
    QTest::mouseClick(heading(QStringLiteral("Orchard")), Qt::LeftButton);
    EVENTUALLY(cards().empty());
    EXPECT_TRUE(saved().groups.at(0).isCollapsed);
}

TEST_F(ConnectionsWindowTest, EscapeLeavesTheNameOfAGroupAsItWas) {
    (void)QTest::qWaitForWindowActive(window_.get());
    click(objectName::kNewGroup);
    EVENTUALLY(find<QLineEdit>(objectName::kGroupName) != nullptr);
    auto* edit = find<QLineEdit>(objectName::kGroupName);
    EVENTUALLY(edit->hasFocus());
    const QString before = edit->text();
    QTest::keyClicks(edit, QStringLiteral("Wall"));
    QTest::keyClick(edit, Qt::Key_Escape);
    EVENTUALLY(find<QLineEdit>(objectName::kGroupName) == nullptr);
    EXPECT_NE(heading(before), nullptr);
    EXPECT_EQ(saved().groups.at(0).name, fromQt(before));
}

TEST_F(ConnectionsWindowTest, WhatTheReachOpensHasTheFocus) {
    openSheet(QStringLiteral("SELECT 1"));
    key(Qt::Key_J, Qt::ControlModifier);
    QTest::keyClicks(find(objectName::kReachInput), QStringLiteral("export connections"));
    QTest::keyClick(find(objectName::kReachInput), Qt::Key_Return);
    EVENTUALLY(find<QPushButton>(objectName::kTransferGo) != nullptr);
    for (int i = 0; i < 5; ++i) QCoreApplication::processEvents();
    EXPECT_TRUE(find<QPushButton>(objectName::kTransferGo)->hasFocus());
}

TEST_F(ConnectionsWindowTest, CardsAreOrderedByDraggingAndByKeys) {
    save("b", "Kitchen", "");
    save("c", "Probes", "");
    EVENTUALLY(cards().size() == 3);
    EVENTUALLY((cards() == Ids{"orchard", "b", "c"}));
    drop(cardOf("orchard"), "c");
    EVENTUALLY((cards() == Ids{"c", "orchard", "b"}));
    QTest::keyClick(cardOf("b"), Qt::Key_Up, Qt::AltModifier);
    EVENTUALLY((cards() == Ids{"c", "b", "orchard"}));
    EXPECT_EQ(saved().profiles.at(1).id, "b");
}

TEST_F(ConnectionsWindowTest, TheFindFieldLetsThroughWhatFits) {
    save("b", "Kitchen", "");
    auto* field = find<QLineEdit>(objectName::kConnectionsFind);
    QTest::keyClicks(field, QStringLiteral("kitch"));
    EVENTUALLY(cards() == Ids{"b"});
    field->clear();
    EVENTUALLY((cards() == Ids{"orchard", "b"}));
}

TEST_F(ConnectionsWindowTest, WhatWasRemovedComesBackToItsPlace) {
    save("b", "Kitchen", "");
    EVENTUALLY(cardOf("orchard") != nullptr);
    QTest::mouseClick(cardOf("orchard"), Qt::LeftButton);
    click(objectName::kFormRemove);
    click(objectName::kFormRemove);
    EVENTUALLY(cardOf("orchard") == nullptr);
    EXPECT_EQ(saved().profiles.size(), 1U);
    click(objectName::kUndoRemoval);
    EVENTUALLY((cards() == Ids{"orchard", "b"}));
    EXPECT_EQ(saved().profiles.size(), 2U);
}

TEST_F(ConnectionsWindowTest, AConnectionFollowsTheTemplateThatItIsBasedOn) {
    db::ConnectionProfile base;
    base.id = "t";
    base.name = "Trial servers";
    base.isTemplate = true;
    base.engine = db::Engine::Postgres;
    base.host = "trial-db";
    base.user = "inspector";
    base.environment = db::Environment::Trial;
    desk_->connections().put(base);
    click(objectName::kNewConnection);
    auto* based = find<QComboBox>(objectName::kFormTemplate);
    ASSERT_NE(based, nullptr);
    based->setCurrentIndex(based->findText(QStringLiteral("Trial servers")));
    Q_EMIT based->activated(based->currentIndex());
    EXPECT_EQ(find<QLineEdit>(objectName::kFormHost)->text(), QStringLiteral("trial-db"));
    find<QLineEdit>(objectName::kFormName)->setText(QStringLiteral("Orchard on trial"));
    find<QLineEdit>(objectName::kFormDatabase)->setText(QStringLiteral("orchard"));
    click(objectName::kFormSave);
    base.host = "new-trial-db";
    desk_->connections().put(base);
    const auto list = saved();
    const auto found = std::ranges::find(list.profiles, "Orchard on trial", &db::ConnectionProfile::name);
    ASSERT_NE(found, list.profiles.end());
    EXPECT_EQ(found->host, "new-trial-db");
    EXPECT_EQ(found->database, "orchard");
    EXPECT_EQ(found->environment, db::Environment::Trial);
}

TEST_F(ConnectionsWindowTest, AFieldSaysWhatItMeansWhileSomebodyIsInIt) {
    click(objectName::kNewConnection);
    find<QLineEdit>(objectName::kFormName)->setFocus();
    EVENTUALLY(find<QLabel>(objectName::kFormExplanation)->text().contains(QStringLiteral("called everywhere")));
}

TEST_F(ConnectionsWindowTest, AFailedStageSaysWhatToDo) {
    click(objectName::kNewConnection);
    auto* address = find<QLineEdit>(objectName::kFormAddress);
    QTest::keyClicks(address, QStringLiteral("postgresql://ida@127.0.0.1:1/orchard"));
    click(objectName::kFormTest);
    const auto said = [this](const QString& words) {
        for (auto* label : window_->findChildren<QLabel*>()) {
            if (label->isVisible() && label->text().contains(words)) return true;
        }
        return false;
    };
    EVENTUALLY(said(QStringLiteral("Nothing takes connections on port 1")));
    EXPECT_TRUE(said(QStringLiteral("Found the host 127.0.0.1")));
    EXPECT_TRUE(said(QStringLiteral("whether the server runs")));
}

TEST_F(ConnectionsWindowTest, ConnectionsGoToAFileAndComeIntoAnotherHome) {
    click(objectName::kExportConnections);
    auto* panel = find<TransferPanel>(objectName::kTransferPanel);
    ASSERT_NE(panel, nullptr);
    const QString file = toQt((folder_ / "carried.json").string());
    panel->writeTo(file);
    EVENTUALLY(find<QLabel>(objectName::kTransferState)->text().startsWith(QStringLiteral("Wrote 1 connection")));
    window_->openFile(file);
    EVENTUALLY(find<QPushButton>(objectName::kTransferGo)->text() == QStringLiteral("Import"));
    click(objectName::kTransferGo);
    EXPECT_EQ(find<QLabel>(objectName::kTransferState)->text(), QStringLiteral("Added Orchard records (2)."));
    EXPECT_EQ(saved().profiles.size(), 2U);
}

TEST_F(ConnectionsWindowTest, TheFormTakesWhatAnotherWindowSavedButForWhatWasEditedHere) {
    EVENTUALLY(cardOf("orchard") != nullptr);
    QTest::mouseClick(cardOf("orchard"), Qt::LeftButton);
    auto* note = find<QLineEdit>(objectName::kFormNote);
    auto* named = find<QLineEdit>(objectName::kFormName);
    ASSERT_NE(note, nullptr);
    note->setText(QStringLiteral("mine"));
    store::ConnectionsFile elsewhere(home().connectionsFile());
    db::ConnectionProfile theirs = *desk_->connections().profile("orchard");
    theirs.name = "Renamed there";
    ASSERT_TRUE(elsewhere.put(theirs));
    EVENTUALLY(named->text() == QStringLiteral("Renamed there"));
    EXPECT_EQ(note->text(), QStringLiteral("mine"));
    EXPECT_EQ(find<QLabel>(objectName::kFormState)->text(), QStringLiteral("unsaved changes"));
    theirs.note = "theirs";
    ASSERT_TRUE(elsewhere.put(theirs));
    EVENTUALLY(find<QLabel>(objectName::kFormAdvice)->text().contains(QStringLiteral("note")));
    EXPECT_EQ(note->text(), QStringLiteral("mine"));
    click(objectName::kFormSave);
    EXPECT_EQ(saved().profiles.front().note, "mine");
    EXPECT_EQ(saved().profiles.front().name, "Renamed there");
}

TEST_F(ConnectionsWindowTest, ASecretPropertyIsTypedUnseenAndIsInNoFile) {
    click(objectName::kNewConnection);
    QTest::keyClicks(find<QLineEdit>(objectName::kFormAddress),
                     QStringLiteral("postgresql://ida@127.0.0.1:1/orchard?tls-key=/tmp/client.key"));
    click(objectName::kFormProperties);
    QLineEdit* secret = nullptr;
    for (auto* input : window_->findChildren<QLineEdit*>(QStringLiteral("formProperty"))) {
        if (input->accessibleName() == QStringLiteral("tls-key-password") && input->isVisible()) secret = input;
    }
    ASSERT_NE(secret, nullptr);
    EXPECT_EQ(secret->echoMode(), QLineEdit::Password);
    secret->setText(QStringLiteral("quinces"));
    click(objectName::kFormSave);
    ASSERT_EQ(saved().profiles.size(), 2U);
    const std::string id = saved().profiles.back().id;
    EXPECT_EQ(desk_->connections().passwordOf(id + "/tls-key-password"), "quinces");
    closeWindow();
    for (const auto& entry : std::filesystem::recursive_directory_iterator(folder_ / "home")) {
        if (!entry.is_regular_file()) continue;
        EXPECT_EQ(test::contentOf(entry.path()).find("quinces"), std::string::npos) << entry.path();
    }
}

TEST_F(ConnectionsWindowTest, AFilesPathIsNoDatabaseOfAServerAndComesBackWithTheEngine) {
    EVENTUALLY(cardOf("orchard") != nullptr);
    QTest::mouseClick(cardOf("orchard"), Qt::LeftButton);
    auto* file = find<QLineEdit>(objectName::kFormFile);
    const QString path = file->text();
    ASSERT_FALSE(path.isEmpty());
    auto* engine = find<QComboBox>(objectName::kFormEngine);
    const int sqlite = engine->currentIndex();
    engine->setCurrentIndex(engine->findText(QStringLiteral("PostgreSQL")));
    auto* database = find<QLineEdit>(objectName::kFormDatabase);
    ASSERT_NE(database, nullptr);
    EXPECT_EQ(database->text(), QString());
    database->setText(QStringLiteral("orchard"));
    engine->setCurrentIndex(engine->findText(QStringLiteral("MariaDB")));
    EXPECT_EQ(database->text(), QStringLiteral("orchard")) << "of one server as of another";
    engine->setCurrentIndex(sqlite);
    EXPECT_EQ(file->text(), path);
    engine->setCurrentIndex(engine->findText(QStringLiteral("PostgreSQL")));
    click(objectName::kFormSave);
    EXPECT_EQ(saved().profiles.front().database, "orchard");
}

TEST_F(ConnectionsWindowTest, EditsStayWhileAnotherConnectionIsLookedAt) {
    save("other", "Other", "");
    EVENTUALLY(cardOf("orchard") != nullptr && cardOf("other") != nullptr);
    QTest::mouseClick(cardOf("orchard"), Qt::LeftButton);
    find<QLineEdit>(objectName::kFormNote)->setText(QStringLiteral("half a thought"));
    QTest::mouseClick(cardOf("other"), Qt::LeftButton);
    EXPECT_EQ(find<QLineEdit>(objectName::kFormNote)->text(), QString());
    EXPECT_TRUE(cardOf("orchard")->accessibleName().contains(QStringLiteral("unsaved changes")));
    QTest::mouseClick(cardOf("orchard"), Qt::LeftButton);
    EXPECT_EQ(find<QLineEdit>(objectName::kFormNote)->text(), QStringLiteral("half a thought"));
    EXPECT_EQ(find<QLabel>(objectName::kFormState)->text(), QStringLiteral("unsaved changes"));
    click(objectName::kFormSave);
    EVENTUALLY(cardOf("orchard") != nullptr);
    EXPECT_FALSE(cardOf("orchard")->accessibleName().contains(QStringLiteral("unsaved changes")));
}

TEST_F(ConnectionsWindowTest, ANewConnectionThatWasBegunIsThereAgain) {
    click(objectName::kNewConnection);
    find<QLineEdit>(objectName::kFormName)->setText(QStringLiteral("Begun"));
    EVENTUALLY(cardOf("orchard") != nullptr);
    QTest::mouseClick(cardOf("orchard"), Qt::LeftButton);
    EXPECT_NE(find<QLineEdit>(objectName::kFormName)->text(), QStringLiteral("Begun"));
    click(objectName::kNewConnection);
    EXPECT_EQ(find<QLineEdit>(objectName::kFormName)->text(), QStringLiteral("Begun"));
}

TEST_F(ConnectionsWindowTest, AFormOfAConnectionThatWasRemovedElsewhereSaysSo) {
    EVENTUALLY(cardOf("orchard") != nullptr);
    QTest::mouseClick(cardOf("orchard"), Qt::LeftButton);
    ASSERT_NE(find<QLineEdit>(objectName::kFormNote), nullptr);
    ASSERT_TRUE(store::ConnectionsFile(home().connectionsFile()).change([](store::ConnectionList& list) {
        list.profiles.clear();
        return Status();
    }));
    EVENTUALLY(find<QLabel>(objectName::kFormAdvice)->text().contains(QStringLiteral("removed meanwhile")));
}

TEST_F(ConnectionsWindowTest, WhatCameInAFileTellsAllThatItWouldDoBeforeItMay) {
    db::ConnectionProfile p;
    p.id = "arrived";
    p.name = "From a friend";
    p.database = (folder_ / "orchard.db").string();
    p.onConnect = "CREATE TABLE planted (x); SELECT 1";
    p.isUnseen = true;
    desk_->connections().put(p);
    EVENTUALLY(cardOf("arrived") != nullptr);
    QTest::mouseClick(cardOf("arrived"), Qt::LeftButton);
    ASSERT_NE(find(objectName::kFormArrived), nullptr);
    const QString acts = find<QLabel>(objectName::kFormActs)->text();
    EXPECT_TRUE(acts.contains(QStringLiteral("orchard.db")));
    EXPECT_TRUE(acts.contains(QStringLiteral("CREATE TABLE planted (x)")));
    window_->openSheet(QStringLiteral("arrived"), QStringLiteral("SELECT 1"));
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(isOver(0));
    EXPECT_EQ(card(0)->state(), Card::State::Failed) << "nobody has saved it yet";
    EXPECT_TRUE(card(0)->outcomeText().contains(QStringLiteral("imported")));
    window_->showConnections();
    EVENTUALLY(cardOf("arrived") != nullptr);
    QTest::mouseClick(cardOf("arrived"), Qt::LeftButton);
    click(objectName::kFormSave);
    EVENTUALLY(find(objectName::kFormArrived) == nullptr);
}

TEST_F(ConnectionsWindowTest, ADatabaseFileThatIsOpenedLeadsToItsConnectionOrToTheForm) {
    window_->openFile(toQt((folder_ / "orchard.db").string()));
    EVENTUALLY(window_->currentSheet() != nullptr);
    EXPECT_EQ(window_->currentSheet()->sheet().connectionId(), QStringLiteral("orchard"));
    ASSERT_TRUE(test::copyOrchard(folder_ / "other.db"));
    window_->openFile(toQt((folder_ / "other.db").string()));
    EVENTUALLY(find<QLineEdit>(objectName::kFormFile) != nullptr &&
               find<QLineEdit>(objectName::kFormFile)->text().endsWith(QStringLiteral("other.db")));
    EXPECT_EQ(find<QLineEdit>(objectName::kFormName)->text(), QStringLiteral("other"));
}

}  // namespace
}  // namespace pantry::app
