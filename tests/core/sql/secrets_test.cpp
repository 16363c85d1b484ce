#include "core/sql/secrets.h"

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

TEST(SecretsTest, LeavesOtherTextsAlone) {
    const std::string_view text = "select 'a', key from t where name = 'b'";
    EXPECT_EQ(withoutSecrets(text, Dialect::Sqlite), text);
}

}  // namespace
}  // namespace pantry::sql
