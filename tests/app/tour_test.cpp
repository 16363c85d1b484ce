#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <QDir>
#include <QImage>
#include <QProcess>

#include "app/base/text.h"
#include "support/temporary_folder.h"

namespace pantry::app {
namespace {

/// The program itself goes its whole round, as the README's first command has it, on demo data of its own.
TEST(TourTest, TheWholeRoundComesToItsEndAndLeavesItsPictures) {
    const test::TemporaryFolder folder;
    QProcess program;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    for (const char* variable : {"XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME", "PANTRY_HOME"})
        environment.remove(QLatin1String(variable));
    environment.insert(QStringLiteral("HOME"), toQt(folder.path().string()));
    program.setProcessEnvironment(environment);
    program.setProcessChannelMode(QProcess::MergedChannels);
    const QString pictures = toQt((folder / "pictures").string());
    program.start(QStringLiteral(WINDOW_PROGRAM), {QStringLiteral("--tour"), pictures});
    constexpr int kAtMostMs = 220'000;
    ASSERT_TRUE(program.waitForFinished(kAtMostMs)) << program.readAll().toStdString();
    const std::string said = program.readAll().toStdString();
    EXPECT_EQ(program.exitStatus(), QProcess::NormalExit) << said;
    EXPECT_EQ(program.exitCode(), 0) << said;
    EXPECT_THAT(said, testing::HasSubstr("The pictures are in "));
    const QStringList names = QDir(pictures).entryList({QStringLiteral("*.png")});
    EXPECT_GE(names.size(), 19);
    for (const QString& name : names) {
        const QImage picture(QDir(pictures).filePath(name));
        EXPECT_EQ(picture.size(), QSize(1280, 800)) << fromQt(name);
    }
}

}  // namespace
}  // namespace pantry::app
