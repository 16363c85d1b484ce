#include <gtest/gtest.h>

#include <QApplication>
#include <QTimer>

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

}  // namespace

int main(int argc, char** argv) {
    ::setenv("QT_QPA_PLATFORM", "offscreen", 0);
    testing::InitGoogleTest(&argc, argv);
    QApplication application(argc, argv);
    QApplication::setStyle(QStringLiteral("Fusion"));
    app::Theme::current().choose(QStringLiteral("daylight"));
    if (argc == 3 && std::string_view(argv[1]) == "--long-query") return runLongQuery(argv[2]);
    const int code = RUN_ALL_TESTS();
    base::Executor::drainAll();
    return code;
}
