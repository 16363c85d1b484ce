// Writing with real keys on each server: a join along a key, values, parameters, what the server says, what ran before.
#include <gmock/gmock.h>

#include <QLabel>
#include <QLineEdit>
#include <QListWidget>

#include "app/window_fixture.h"
#include "core/db/run_and_wait.h"
#include "demo/throwaway_server.h"

namespace pantry::app {
namespace {

using testing::HasSubstr;

class ServedWritingWindowTest : public WindowTest, public testing::WithParamInterface<db::Engine> {
protected:
    void SetUp() override {
        const bool isPostgres = GetParam() == db::Engine::Postgres;
        if (isPostgres) {
            postgres_.emplace();
            ASSERT_EQ(postgres_->startup(), "");
        } else {
            mariaDb_.emplace();
            ASSERT_EQ(mariaDb_->startup(), "");
        }
        WindowTest::SetUp();
        db::ConnectionProfile p{.id = "records", .name = "Trial records", .engine = GetParam()};
        p.host = isPostgres ? postgres_->folder().string() : mariaDb_->socket();
        p.port = isPostgres ? postgres_->port() : p.port;
        p.user = isPostgres ? postgres_->user() : "root";
        p.database = isPostgres ? "postgres" : "mysql";
        db::Session owner(p, std::nullopt);
        if (!isPostgres) {
            ASSERT_TRUE(db::runAndWait(owner, "CREATE DATABASE orchard"));
            ASSERT_TRUE(db::runAndWait(owner, "USE orchard"));
            p.database = "orchard";
        }
        for (const char* statement :
             {"CREATE TABLE plot (plot_id int PRIMARY KEY, name varchar(40) NOT NULL, soil varchar(20))",
              "CREATE TABLE tree (tree_id int PRIMARY KEY, plot_id int NOT NULL, variety varchar(40),"
              " CONSTRAINT of_plot FOREIGN KEY (plot_id) REFERENCES plot (plot_id))",
              "INSERT INTO plot VALUES (1, 'North slope', 'clay'), (2, 'Mill bank', 'loam')",
              "INSERT INTO tree VALUES (1, 1, 'Larkspur Red'), (2, 1, 'Vale Russet'), (3, 2, 'Vale Russet')",
              isPostgres ? "ANALYZE" : "ANALYZE TABLE plot, tree"}) {
            ASSERT_TRUE(db::runAndWait(owner, statement)) << statement;
        }
        desk_->connections().put(p);
        window_->openSheet(QStringLiteral("records"), QString());
        QObject::connect(page(), &SheetPage::remarked, window_.get(),
                         [this](const QString& words) { remarks_ += words; });
        EVENTUALLY(page()->sheet().session().catalogView().find("", "tree") != nullptr);
        find(objectName::kEditor)->setFocus();
    }
    SheetPage* page() { return window_->currentSheet(); }
    QListWidget* offers() {
        auto* popup = window_->findChild<QWidget*>(QLatin1String(objectName::kCompletion));
        return popup == nullptr || !popup->isVisible() ? nullptr : popup->findChild<QListWidget*>();
    }
    bool isOffered(const QString& beginning) {
        return offers() != nullptr && !offers()->findItems(beginning, Qt::MatchStartsWith).isEmpty();
    }
    /// Goes to an offer with the arrows and takes it with Tab.
    void take(const QString& beginning) {
        EVENTUALLY(isOffered(beginning));
        if (!isOffered(beginning)) {
            std::string all;
            for (int i = 0; offers() != nullptr && i < offers()->count(); ++i)
                all += fromQt(offers()->item(i)->text()) + " | ";
            FAIL() << fromQt(beginning) << " is not among: " << all;
        }
        const int row = offers()->row(offers()->findItems(beginning, Qt::MatchStartsWith).front());
        for (int i = offers()->currentRow(); i < row; ++i) key(Qt::Key_Down);
        key(Qt::Key_Tab);
    }
    bool wasRemarked(const char* part) { return remarks_.join(QLatin1Char('\n')).contains(QLatin1String(part)); }

    std::optional<demo::PostgresServer> postgres_;
    std::optional<demo::MariaDbServer> mariaDb_;
    QStringList remarks_;
};

TEST_P(ServedWritingWindowTest, AQueryIsWrittenWithAJoinAValueAndAParameterAndChecked) {
    type(QStringLiteral("SELECT t.variety FROM tree t JOIN "));
    take(QStringLiteral("plot p ON t.plot_id = p.plot_id"));
    type(QStringLiteral(" WHERE p.soil = "));
    take(QStringLiteral("'clay'"));
    type(QStringLiteral(" AND t.tree_id > :"));
    take(QStringLiteral(":tree_id"));
    EXPECT_EQ(editorText(),
              "SELECT t.variety FROM tree t JOIN plot p ON t.plot_id = p.plot_id WHERE p.soil = 'clay' AND "
              "t.tree_id > :tree_id");
    EVENTUALLY(find(objectName::kParameterStrip) != nullptr);
    key(Qt::Key_K, Qt::ControlModifier | Qt::AltModifier);
    EVENTUALLY(wasRemarked("The server has nothing against 1 statement"));
    key(Qt::Key_Return, Qt::ControlModifier);
    EVENTUALLY(wasRemarked(":tree_id has no value yet"));
    EVENTUALLY(QApplication::focusWidget() != nullptr &&
               QApplication::focusWidget()->property("parameter").toString() == QLatin1String("tree_id"));
    type(QStringLiteral("1"));
    key(Qt::Key_Return);
    EVENTUALLY(isOver(0));
    ASSERT_TRUE(card(0)->result());
    ASSERT_EQ(card(0)->run().rowCount(), 1U);
    EXPECT_EQ(data::toText(card(0)->result()->cell(0, 0)), "Vale Russet");
    // What ran comes back where the next statement begins.
    find(objectName::kEditor)->setFocus();
    page()->editor()->setCaret(editorText().size());
    type(QStringLiteral(";"));
    key(Qt::Key_Return);
    type(QStringLiteral("varie"));
    EVENTUALLY((page()->editor()->complete(), QTest::qWait(20),
                isOffered(QStringLiteral("SELECT t.variety FROM tree t JOIN plot"))));
}

TEST_P(ServedWritingWindowTest, TheServerTellsWhatItRefusesAndInsertsAreWrittenWhole) {
    type(QStringLiteral("INSERT INTO plot "));
    page()->editor()->complete();
    take(QStringLiteral("(plot_id, name, soil) VALUES"));
    EXPECT_EQ(editorText(), "INSERT INTO plot (plot_id, name, soil) VALUES (:plot_id, :name, :soil)");
    type(QStringLiteral(";"));
    key(Qt::Key_Return);
    type(QStringLiteral("SELECT nothing_at_all(name) FROM plot"));
    key(Qt::Key_Escape);
    key(Qt::Key_K, Qt::ControlModifier | Qt::AltModifier);
    EVENTUALLY(wasRemarked("Of 2 statements, the server refuses 1."));
    EXPECT_TRUE(std::ranges::any_of(page()->editor()->hints(), [](const TextHint& one) {
        return one.message.contains(QLatin1String("nothing_at_all"), Qt::CaseInsensitive);
    }));
    EXPECT_EQ(card(0), nullptr) << "nothing ran";
}

INSTANTIATE_TEST_SUITE_P(Servers, ServedWritingWindowTest, testing::Values(db::Engine::Postgres, db::Engine::MariaDb),
                         [](const auto& one) { return one.param == db::Engine::Postgres ? "Postgres" : "MariaDb"; });

}  // namespace
}  // namespace pantry::app
