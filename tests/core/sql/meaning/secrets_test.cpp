#include "core/sql/meaning/secrets.h"

#include "support/corpus.h"

namespace pantry::sql {
namespace {

TEST(SecretsTest, HidesPasswordsInStatements) {
    EXPECT_EQ(withoutSecrets("CREATE USER a PASSWORD 'x1'", Dialect::Postgres), "CREATE USER a PASSWORD '•••'");
    EXPECT_EQ(withoutSecrets("alter role a with encrypted password 'x1'; select 'y'", Dialect::Postgres),
              "alter role a with encrypted password '•••'; select 'y'");
    EXPECT_EQ(withoutSecrets("create user a identified by \"x1\"", Dialect::MySql),
              "create user a identified by '•••'");
    EXPECT_EQ(withoutSecrets("PRAGMA key = 'x1'", Dialect::Sqlite), "PRAGMA key = '•••'");
}

TEST(SecretsTest, NoSecretStaysInAnyOfTheseStatements) {
    std::size_t count = 0;
    for (const std::string& line : test::corpusLines(std::string(CORPUS_FOLDER) + "/meaning/secret_statements.txt")) {
        const std::size_t tab = line.find('\t');
        const auto dialect = dialectFromName(line.substr(0, tab));
        ASSERT_TRUE(dialect) << line;
        const std::string statement = line.substr(tab + 1);
        const std::string shown = withoutSecrets(statement, *dialect);
        EXPECT_EQ(shown.find("hunter2"), std::string::npos) << statement << "\n  became " << shown;
        EXPECT_EQ(shown.find("68756e74657232"), std::string::npos) << statement << "\n  became " << shown;
        EXPECT_NE(shown, statement);
        ++count;
    }
    EXPECT_GE(count, 90U);
}

TEST(SecretsTest, ErrorsThatQuoteAStatementLoseItsSecrets) {
    const std::string statement = "CREATE USER ann PASSWORD 'hunter2' VALID UNTILL 'x'";
    const Error error{.message = "Syntax error near 'hunter2' VALID UNTILL.",
                      .hint = "Look at PASSWORD 'hunter2'",
                      .detail = "The text begins: PASSWORD 'hunt"};
    const Error shown = withoutSecrets(error, statement, Dialect::Postgres);
    for (const std::string& part : {shown.message, shown.hint, shown.detail}) {
        EXPECT_EQ(part.find("hunt"), std::string::npos) << part;
    }
    const Error other{.message = "Column password is not known."};
    EXPECT_EQ(withoutSecrets(other, "SELECT password FROM t", Dialect::Postgres), other);
}

TEST(SecretsTest, LeavesOtherTextsAlone) {
    const std::string_view text = "select 'a', key from t where name = 'b'";
    EXPECT_EQ(withoutSecrets(text, Dialect::Sqlite), text);
}

}  // namespace
}  // namespace pantry::sql
