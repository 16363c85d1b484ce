#include "core/work/document_session.h"

#include "core/db/run_and_wait.h"
#include "core/work/document_fixture.h"
#include "support/run_recorder.h"

namespace pantry::work {
namespace {

using testing::HasSubstr;

class DocumentSessionTest : public DocumentTest {
protected:
    /// Runs a statement as a document does, and tells the session how it ended.
    db::RunSummary run(const sql::Statement& statement, Consent consent = Consent::None) {
        auto observer = std::make_shared<test::RunRecorder>();
        session_->session()->execute(session_->request(statement, consent, std::make_shared<db::RunBatch>()), observer);
        observer->waitForEnd();
        const db::RunSummary summary = observer->summary();
        if (observer->error()) {
            error_ = *observer->error();
            (void)session_->noteFailed(error_, summary, statement, session_->attempts());
        } else {
            session_->note(summary.session);
            session_->noteFinished(statement);
        }
        return summary;
    }

    Error error_;
};

TEST_F(DocumentSessionTest, ConnectsWhenTheFirstStatementRuns) {
    EXPECT_FALSE(session_->state().isConnected);
    EXPECT_FALSE(connections_.hasBegunWith("orchard"));
    run("SELECT 1");
    EXPECT_TRUE(session_->state().isConnected);
    EXPECT_TRUE(connections_.hasBegunWith("orchard"));
    EXPECT_EQ(session_->origin().connectionId, "orchard");
}

TEST_F(DocumentSessionTest, OpenChangesKeepItWhereItIs) {
    session_->setCommitsByHand(true);
    run("UPDATE plot SET name = 'Heath' WHERE plot_id = 1");
    ASSERT_TRUE(session_->hasOpenChanges());
    EXPECT_FALSE(session_->goTo("kitchen"));
    EXPECT_FALSE(session_->goToDatabase("another"));
    ASSERT_EQ(remarks_.size(), 2U);
    EXPECT_THAT(remarks_[0], HasSubstr("Commit them or roll them back"));
    EXPECT_EQ(session_->place().connection, "orchard");
    run("ROLLBACK");
    EXPECT_TRUE(session_->goTo("kitchen"));
    EXPECT_EQ(placed_, 1);
    EXPECT_EQ(left_, 1);
    EXPECT_FALSE(session_->state().isConnected);
    EXPECT_FALSE(session_->goTo("kitchen")) << "it is there already";
}

TEST_F(DocumentSessionTest, AConnectionThatLeadsElsewhereIsLeftWhenItsChangesHaveEnded) {
    session_->setCommitsByHand(true);
    run("UPDATE plot SET name = 'Heath' WHERE plot_id = 1");
    put("orchard", (folder_ / "kitchen.db").string());
    EXPECT_EQ(left_, 0);
    ASSERT_EQ(remarks_.size(), 1U);
    EXPECT_THAT(remarks_[0], HasSubstr("keeps its old connection"));
    run("ROLLBACK");
    EXPECT_EQ(left_, 1);
    EXPECT_FALSE(session_->state().isConnected);
    put("orchard", (folder_ / "orchard.db").string());
    EXPECT_EQ(left_, 2) << "without open changes at once";
}

TEST_F(DocumentSessionTest, WhoHasToBeMoreCarefulConnectsAnewAndGoesNowhere) {
    run("SELECT 1");
    put("orchard", (folder_ / "orchard.db").string(), db::Environment::Live);
    EXPECT_EQ(left_, 0);
    EXPECT_FALSE(session_->state().isConnected) << "the session was opened for a careless one";
    EXPECT_EQ(placed_, 1);
    EXPECT_TRUE(session_->whyHeld(sql::Statement("UPDATE plot SET name = 'Heath' WHERE plot_id = 1")));
    put("orchard", (folder_ / "kitchen.db").string(), db::Environment::Live);
    EXPECT_EQ(left_, 1);
}

TEST_F(DocumentSessionTest, OpenChangesKeepTheSessionOfACarelessConnectionToo) {
    session_->setCommitsByHand(true);
    run("UPDATE plot SET name = 'Heath' WHERE plot_id = 1");
    put("orchard", (folder_ / "orchard.db").string(), db::Environment::Live);
    EXPECT_TRUE(session_->hasOpenChanges());
    run("ROLLBACK");
    EXPECT_FALSE(session_->state().isConnected);
    EXPECT_EQ(left_, 0) << "it leads where it did";
}

TEST_F(DocumentSessionTest, AnotherNameOfItsConnectionChangesNothingButTheName) {
    run("SELECT 1");
    db::ConnectionProfile p = *connections_.profile("orchard");
    p.name = "Orchard of the vale";
    connections_.put(p);
    EXPECT_EQ(left_, 0);
    EXPECT_EQ(placed_, 1);
    EXPECT_EQ(session_->profile()->name, "Orchard of the vale");
    EXPECT_TRUE(session_->state().isConnected);
}

TEST_F(DocumentSessionTest, HoldsBackByTheConnectionsOwnRules) {
    const sql::Statement all("DELETE FROM plot", sql::Dialect::Sqlite);
    EXPECT_TRUE(session_->whyHeld(all));
    EXPECT_FALSE(session_->whyHeld(sql::Statement("SELECT 1", sql::Dialect::Sqlite)));
    EXPECT_FALSE(session_->request(all, Consent::None, {}).guard.isConfirmed);
    EXPECT_TRUE(session_->request(all, Consent::Confirmed, {}).guard.isConfirmed);
    run(all);
    EXPECT_EQ(error_.kind, ErrorKind::HeldBack) << "also by the session, which looks again";
    error_ = {};
    run(all, Consent::OnlyIfItReads);
    EXPECT_NE(error_.message, "") << "what may only read deletes nothing";
}

TEST_F(DocumentSessionTest, WhatAStatementDefinesIsReadAnew) {
    connections_.beginWith("orchard");
    catalogs_.want("orchard");
    EVENTUALLY(catalogs_.state("orchard").catalog != nullptr);
    run(sql::Statement("CREATE TABLE jar (jar_id INTEGER)", sql::Dialect::Sqlite));
    EVENTUALLY(catalogs_.state("orchard").catalog->find("main", "jar") != nullptr);
    EXPECT_NE(session_->catalogView().find("", "jar"), nullptr);
}

TEST_F(DocumentSessionTest, TheLedgerIsToldWhoAndWhere) {
    const store::RunStart record = session_->record("SELECT 1", "Plots");
    EXPECT_EQ(record.connectionId, "orchard");
    EXPECT_EQ(record.sheet, "Plots");
    EXPECT_FALSE(session_->ranOnConnect(run("SELECT 1")));
    db::ConnectionProfile p = *connections_.profile("orchard");
    p.onConnect = "PRAGMA foreign_keys = ON";
    connections_.put(p);
    session_->leave();
    EXPECT_EQ(session_->ranOnConnect(run("SELECT 1")), "PRAGMA foreign_keys = ON");
}

TEST_F(DocumentSessionTest, ADocumentLikeItBeginsAtItsPlace) {
    EXPECT_EQ(session_->placeForAnother(), (RunPlace{.connection = "orchard"}));
    const auto another = session_->another();
    ASSERT_NE(another, nullptr);
    EXPECT_TRUE(db::runAndWait(*another, "SELECT count(*) FROM plot"));
    connections_.remove("orchard");
    EXPECT_EQ(session_->session(), nullptr) << "its connection is gone";
    EXPECT_EQ(session_->another(), nullptr);
}

}  // namespace
}  // namespace pantry::work
