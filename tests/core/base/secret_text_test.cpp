#include "core/base/secret_text.h"

#include <set>

#include "support/corpus.h"

namespace pantry::base {
namespace {

std::set<std::string> linesOf(const std::string& name) {
    const auto lines = test::corpusLines(std::string(TEXTS_FOLDER) + "/" + name);
    return {lines.begin(), lines.end()};
}

TEST(SecretTextTest, NoSecretStaysInAnyOfTheseForms) {
    const auto texts = linesOf("secret_texts.txt");
    ASSERT_GE(texts.size(), 60U);
    for (const std::string& text : texts) {
        const std::string shown = withoutSecretText(text);
        EXPECT_EQ(shown.find("hunter2"), std::string::npos) << text << "\n  became " << shown;
        EXPECT_NE(shown.find(kHidden), std::string::npos) << text;
        EXPECT_EQ(withoutSecretText(shown), shown) << "hiding again changes nothing";
    }
}

TEST(SecretTextTest, OtherTextsStayAsTheyAre) {
    for (const std::string& text : linesOf("plain_texts.txt")) EXPECT_EQ(withoutSecretText(text), text);
}

TEST(SecretTextTest, NamesAreToldWhateverTheirForm) {
    for (const char* name : {"password", "PASSWORD", "sslpassword", "ssl-passphrase", "SSL_PASSPHRASE", "pass%77ord",
                             "user_password", "pwd", "api_key", "apiKey", "access-token", "my.secret",
                             "MASTER_PASSWORD", "hexkey", "client_secret", "primary_conninfo"}) {
        EXPECT_TRUE(isSecretName(name)) << name;
    }
    for (const char* name : {"user", "host", "tls-key", "passfile", "key", "monkey", "compass", "password_encryption",
                             "tokenizer", "port"}) {
        EXPECT_FALSE(isSecretName(name)) << name;
    }
}

TEST(SecretTextTest, WipedTextsAreGoneFromTheirMemory) {
    std::string text = "a secret that is long enough to be on the heap";
    const char* bytes = text.data();
    wipe(text);
    EXPECT_TRUE(text.empty());
    EXPECT_EQ(bytes[0], '\0');
    EXPECT_EQ(bytes[20], '\0');
}

}  // namespace
}  // namespace pantry::base
