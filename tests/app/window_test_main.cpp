#include <fcntl.h>
#include <fmt/format.h>
#include <gtest/gtest.h>
#include <unistd.h>

#include <QApplication>
#include <QTimer>
#include <chrono>

#include "app/desk/desk.h"
#include "app/look/theme.h"
#include "app/shell/main_window.h"
#include "core/base/executor.h"

namespace {

using namespace pantry;

/// The other process of a test that kills one: types into a sheet, runs a query that takes long, and stays.
int runLongQuery(const char* home) {
    app::Desk desk(store::findHome(std::filesystem::path(home)));
    desk.open();
    app::MainWindow window(desk);
    window.show();
    app::SheetPage* page = window.openSheet(QStringLiteral("orchard"));
    page->editor()->insertText(
        "-- not saved by anyone\nWITH RECURSIVE s(n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM s) SELECT count(*) FROM "
        "s;");
    page->runAtCaret();
    return QApplication::exec();
}

/// What somebody could know: it stands in a file before anything else happens.
class Diary {
public:
    explicit Diary(const char* path) : descriptor_(::open(path, O_WRONLY | O_CREAT | O_APPEND, 0600)) {}
    void write(const std::string& line) const {
        const std::string whole = line + "\n";
        (void)!::write(descriptor_, whole.data(), whole.size());
    }

private:
    int descriptor_;
};

/// The other process of a test that kills one again and again: types, runs, saves to the shelf and moves there without
/// a pause, and notes what was told to be done.
int workForEver(const char* home, const char* diaryPath) {
    const Diary diary(diaryPath);
    app::Desk desk(store::findHome(std::filesystem::path(home)));
    desk.open();
    app::MainWindow window(desk);
    window.show();
    app::SheetPage* page = window.currentSheet();
    if (page == nullptr) page = window.openSheet(QStringLiteral("orchard"));
    std::int64_t number = std::chrono::system_clock::now().time_since_epoch().count();
    QObject::connect(&page->sheet(), &app::Sheet::cardChanged, [&](app::Card* card) {
        if (card->run().isKept()) diary.write("ran " + card->statement().text());
    });
    const auto save = [&](std::int64_t n) {
        const std::string path = fmt::format("busy/q{}.sql", n % 5);
        const std::string content = fmt::format("-- title: Q {0}\n\nSELECT {0};\n-- end {0}\n", n);
        desk.shelf().change<shelf::Saved>(
            [path, content](work::Shelves& shelves) { return (*shelves.shelf(""))->save(path, content); },
            [&diary, path, n](const Result<shelf::Saved>& saved) {
                if (saved && !saved->version.empty()) diary.write(fmt::format("saved {} {}", path, n));
            });
    };
    const auto move = [&](std::int64_t n) {
        desk.shelf().change<shelf::Saved>(
            [n](work::Shelves& shelves) {
                return n % 2 == 0 ? shelves.move({"", "here/moving.sql"}, "there/moving.sql")
                                  : shelves.move({"", "there/moving.sql"}, "here/moving.sql");
            },
            [](const Result<shelf::Saved>&) {});
    };
    QTimer steps;
    QObject::connect(&steps, &QTimer::timeout, [&] {
        ++number;
        page->editor()->insertText(fmt::format("-- typed {}\n", number));
        if (number % 3 == 0) save(number);
        if (number % 5 == 0) move(number);
        if (number % 4 == 0) page->sheet().runStatement(fmt::format("SELECT {}", number));
    });
    steps.start(15);
    return QApplication::exec();
}

}  // namespace

int main(int argc, char** argv) {
    ::setenv("QT_QPA_PLATFORM", "offscreen", 0);
    testing::InitGoogleTest(&argc, argv);
    QApplication application(argc, argv);
    QApplication::setStyle(QStringLiteral("Fusion"));
    app::Theme::current().choose(QStringLiteral("daylight"));
    if (argc == 3 && std::string_view(argv[1]) == "--long-query") return runLongQuery(argv[2]);
    if (argc == 4 && std::string_view(argv[1]) == "--work") return workForEver(argv[2], argv[3]);
    const int code = RUN_ALL_TESTS();
    base::Executor::drainAll();
    return code;
}
