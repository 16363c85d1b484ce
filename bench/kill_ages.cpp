// Prints a row of the table in docs/benchmarks.md: a window in which somebody types without a pause is killed at some
// moment, and the last text that the disk has is compared with the moment of the kill. 54 times.
#include <fmt/format.h>
#include <signal.h>

#include <QApplication>
#include <QProcess>
#include <QThread>
#include <QTimer>
#include <algorithm>
#include <chrono>
#include <random>

#include "app/shell/main_window.h"
#include "core/base/file.h"
#include "core/store/home.h"
#include "measure.h"
#include "support/temporary_folder.h"

using namespace pantry;
using namespace pantry::app;

namespace {

constexpr int kKills = 54;

std::int64_t now() {
    using namespace std::chrono;
    return duration_cast<milliseconds>(system_clock::now().time_since_epoch()).count();
}

/// The window that is killed: every ten milliseconds a line with the time is typed.
int typeForEver(const char* home) {
    Desk desk(store::findHome(home));
    desk.open();
    MainWindow window(desk);
    window.show();
    SheetPage* page = window.openSheet({}, {});
    QTimer keys;
    QObject::connect(&keys, &QTimer::timeout, [&] {
        const QString line = QStringLiteral("\n-- %1").arg(now());
        page->editor()->insertText(line.toStdString());
    });
    keys.start(10);
    return QApplication::exec();
}

/// The time of the last line that the disk has; 0 when there is none.
std::int64_t lastKept(const std::filesystem::path& home) {
    std::int64_t last = 0;
    std::error_code code;
    for (const auto& entry : std::filesystem::directory_iterator(store::findHome(home).sheetsFolder(), code)) {
        if (entry.path().extension() != ".json") continue;
        const std::string text = base::readFile(entry.path().string()).value_or("");
        const std::size_t line = text.rfind("-- ");
        if (line != std::string::npos) last = std::max<std::int64_t>(last, std::atoll(text.c_str() + line + 3));
    }
    return last;
}

}  // namespace

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication application(argc, argv);
    if (argc > 2) return typeForEver(argv[2]);
    std::mt19937 random(54);
    std::vector<std::int64_t> ages;
    for (int i = 0; i < kKills; ++i) {
        const test::TemporaryFolder folder;
        QProcess child;
        child.start(QApplication::applicationFilePath(),
                    {QStringLiteral("--type"), QString::fromStdString(folder.path().string())});
        child.waitForStarted();
        while (lastKept(folder.path()) == 0) QThread::msleep(50);
        QThread::msleep(200 + random() % 2500);
        const std::int64_t killed = now();
        ::kill(static_cast<pid_t>(child.processId()), SIGKILL);
        child.waitForFinished();
        ages.push_back(killed - lastKept(folder.path()));
    }
    std::ranges::sort(ages);
    bench::row(fmt::format("age of the last text kept, {} kills while somebody types: median, oldest", kKills),
               fmt::format("{} ms, {} ms", ages[ages.size() / 2], ages.back()), "1000 ms");
}
