#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <QProcess>

namespace pantry::app {
namespace {

using testing::HasSubstr;

struct Answer {
    int code = -1;
    std::string said;
    std::string complained;
};

/// What the program answers to words that open no window, where there is no display.
Answer answerTo(const QStringList& words, const char* platform = "xcb") {
    QProcess program;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.remove(QStringLiteral("DISPLAY"));
    environment.remove(QStringLiteral("WAYLAND_DISPLAY"));
    environment.insert(QStringLiteral("QT_QPA_PLATFORM"), QLatin1String(platform));
    program.setProcessEnvironment(environment);
    program.start(QStringLiteral(WINDOW_PROGRAM), words);
    EXPECT_TRUE(program.waitForFinished());
    EXPECT_EQ(program.exitStatus(), QProcess::NormalExit);
    return {program.exitCode(), program.readAllStandardOutput().toStdString(),
            program.readAllStandardError().toStdString()};
}

TEST(ProgramOptionsTest, HelpAndVersionNeedNoDisplay) {
    for (const char* word : {"--help", "-h"}) {
        const Answer help = answerTo({QLatin1String(word)});
        EXPECT_EQ(help.code, 0) << help.complained;
        for (const char* part : {"agile-pantry", "--home <DIR>", "--tour <DIR>", "--demo", "FILE"})
            EXPECT_THAT(help.said, HasSubstr(part));
        EXPECT_EQ(help.complained, "");
    }
    const Answer version = answerTo({QStringLiteral("--version")});
    EXPECT_EQ(version.code, 0);
    EXPECT_THAT(version.said, testing::StartsWith("Agile Pantry "));
}

TEST(ProgramOptionsTest, WordsThatAreWrongAreNamedAndNoWindowOpens) {
    const Answer lacking = answerTo({QStringLiteral("--home")});
    EXPECT_EQ(lacking.code, 2);
    EXPECT_THAT(lacking.complained, HasSubstr("home"));
    // Whether a word is Qt's is known when Qt has taken its own.
    const Answer unknown =
        answerTo({QStringLiteral("-platform"), QStringLiteral("offscreen"), QStringLiteral("--pots")});
    EXPECT_EQ(unknown.code, 2);
    EXPECT_THAT(unknown.complained, testing::AllOf(HasSubstr("pots"), testing::Not(HasSubstr("platform"))));
    EXPECT_EQ(unknown.said, "");
}

}  // namespace
}  // namespace pantry::app
