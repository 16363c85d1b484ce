// Prints rows of the table in docs/benchmarks.md: how long the window's event loop keeps an event waiting while a
// million rows arrive, are ordered, narrowed, searched, added up and exported.
#include <fmt/format.h>
#include <malloc.h>
#include <sqlite3.h>

#include <QAbstractButton>
#include <QApplication>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QThread>
#include <QTimer>
#include <algorithm>
#include <atomic>
#include <ctime>
#include <fstream>
#include <functional>
#include <mutex>
#include <thread>

#include "app/base/object_names.h"
#include "app/shell/main_window.h"
#include "measure.h"
#include "support/temporary_folder.h"

using namespace pantry;
using namespace pantry::app;

namespace {

constexpr int kTimeoutMs = 120'000;

void makeRows(const std::filesystem::path& file) {
    sqlite3* db = nullptr;
    sqlite3_open(file.c_str(), &db);
    sqlite3_exec(db,
                 "CREATE TABLE reading (id INTEGER PRIMARY KEY, probe INTEGER, at TEXT, celsius REAL, note TEXT);"
                 "WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 1000000) "
                 "INSERT INTO reading SELECT i, i * 7919 % 997, '2026-11-' || (1 + i % 28), (i * 31 % 4000) / 100.0, "
                 "'reading ' || (i * 104729 % 1000003) FROM n;",
                 nullptr, nullptr, nullptr);
    sqlite3_close(db);
}

/// Milliseconds that were noted: on one thread, asked for on another.
class Times {
public:
    void note(double milliseconds) {
        const std::lock_guard lock(mutex_);
        times_.push_back(milliseconds);
    }
    /// What was noted since the last time, in words: the 99th percentile and the longest.
    std::string take() {
        const std::lock_guard lock(mutex_);
        std::ranges::sort(times_);
        const std::pair<double, double> out =
            times_.empty() ? std::pair(0.0, 0.0) : std::pair(times_[times_.size() * 99 / 100], times_.back());
        times_.clear();
        return fmt::format("{:.1f}, {:.1f}", out.first, out.second);
    }

private:
    std::mutex mutex_;
    std::vector<double> times_;
};

using SteadyTime = std::chrono::steady_clock::time_point;

double millisecondsSince(SteadyTime then) {
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - then).count();
}

/// What the calling thread has worked, in milliseconds of a processor.
double workOfThread() {
    timespec time{};
    clock_gettime(CLOCK_THREAD_CPUTIME_ID, &time);
    return static_cast<double>(time.tv_sec) * 1e3 + static_cast<double>(time.tv_nsec) / 1e6;
}

/// Hundredths of seconds that the machine kept its processors from us.
std::int64_t stolen() {
    std::ifstream file("/proc/stat");
    std::string word;
    std::int64_t value = 0;
    file >> word;
    for (int i = 0; i < 8; ++i) file >> value;
    return value;
}

/// Sends an event to the window's thread every two milliseconds and notes how long each waits and how much the thread
/// worked since the one before; and one to a thread with an event loop that has nothing else to do. Its waits, and the
/// difference between waiting and work, are the machine's.
class Heartbeat {
public:
    Heartbeat() {
        idler_.moveToThread(&idling_);
        idling_.start();
        thread_ = std::thread([this] { beat(); });
    }
    ~Heartbeat() {
        isOver_ = true;
        thread_.join();
        idling_.quit();
        idling_.wait();
    }
    void forget() {
        (void)window.take();
        (void)work.take();
        (void)idle.take();
    }
    Times window;
    Times work;
    Times idle;

private:
    void beat() {
        while (!isOver_) {
            std::this_thread::sleep_for(std::chrono::milliseconds(2));
            const auto sent = std::chrono::steady_clock::now();
            QMetaObject::invokeMethod(
                qApp,
                [this, sent] {
                    window.note(millisecondsSince(sent));
                    const double worked = workOfThread();
                    work.note(worked - worked_);
                    worked_ = worked;
                },
                Qt::QueuedConnection);
            QMetaObject::invokeMethod(
                &idler_, [this, sent] { idle.note(millisecondsSince(sent)); }, Qt::QueuedConnection);
        }
    }
    std::atomic<bool> isOver_{false};
    double worked_ = 0;  // of the window's thread
    QThread idling_;
    QObject idler_;
    std::thread thread_;
};

/// Lets the event loop run as it does in the program, without the sleeps of a test.
void spin(
    int milliseconds, const std::function<bool()>& isOver = [] { return false; }) {
    QEventLoop loop;
    QTimer look;
    QObject::connect(&look, &QTimer::timeout, &loop, [&] {
        if (isOver()) loop.quit();
    });
    look.start(20);
    QTimer::singleShot(milliseconds, &loop, &QEventLoop::quit);
    loop.exec();
}

void report(Heartbeat& heart, const char* what) {
    bench::row(fmt::format("event loop, ms (99th percentile, worst): {}", what),
               fmt::format("waits {}; works {}; an idle one waits {}", heart.window.take(), heart.work.take(),
                           heart.idle.take()),
               "16, 50");
}

/// Twelve keys into the middle of a text, and what each held up the window.
void typeInto(MainWindow& window, Heartbeat& heart, const base::SharedText& text, const char* what) {
    spin(300);
    heart.forget();  // making the text is ours
    SheetPage* page = window.openSheetLikeThis(text);
    page->editor()->setCaret(text.size() / 2);
    spin(1500);
    report(heart, fmt::format("{} is opened", what).c_str());
    QWidget* area = page->editor()->focusProxy();
    for (int i = 0; i < 12; ++i) {
        QKeyEvent press(QEvent::KeyPress, Qt::Key_X, Qt::NoModifier, QStringLiteral("x"));
        QApplication::sendEvent(area, &press);
        spin(150);
    }
    spin(500);
    report(heart, fmt::format("twelve keys, and saving, in {}", what).c_str());
    window.closeCurrentPage();
    spin(1000);
    report(heart, fmt::format("{} is closed", what).c_str());
}

void typeIntoLargeTexts(MainWindow& window, Heartbeat& heart) {
    const auto repeated = [](std::size_t bytes, const char* piece) {
        std::string text;
        for (int i = 0; text.size() < bytes; ++i) text += fmt::format(fmt::runtime(piece), i);
        return text;
    };
    typeInto(window, heart, repeated(700'000, "SELECT {0} AS n, 'tree' FROM t;\n"), "a sheet of 20,000 lines");
    typeInto(window, heart, "INSERT INTO t VALUES " + repeated(1'000'000, "({0}, 'tree'), "), "a line of 1 MB");
    typeInto(window, heart, repeated(50'000'000, "INSERT INTO t VALUES ({0}, 'tree');\n"), "a text of 50 MB");
}

/// Databases of ten thousand tables each, on which somebody reaches for a name and filters the catalog.
void exploreCatalogs(MainWindow& window, Desk& desk, Heartbeat& heart, const std::filesystem::path& folder) {
    constexpr int kDatabases = 20;
    constexpr int kTables = 10'000;
    const auto file = folder / "barn.db";
    sqlite3* db = nullptr;
    sqlite3_open(file.c_str(), &db);
    std::string script = "BEGIN;";
    for (int i = 0; i < kTables; ++i) {
        script += fmt::format("CREATE TABLE crate_{}_of_{} (crate_id INTEGER PRIMARY KEY, apples INT);", i,
                              i % 2 == 0 ? "apples" : "pears");
    }
    sqlite3_exec(db, (script + "COMMIT;").c_str(), nullptr, nullptr, nullptr);
    sqlite3_close(db);
    for (int i = 0; i < kDatabases; ++i) {
        db::ConnectionProfile profile;
        profile.id = profile.name = fmt::format("barn {}", i);
        profile.database = file.string();
        desk.connections().put(profile);
        desk.connections().beginWith(profile.id);
        desk.catalogs().load(profile.id);
        spin(kTimeoutMs, [&] { return desk.catalogs().state(profile.id).catalog != nullptr; });
    }
    spin(1000);
    heart.forget();
    window.openReach();
    spin(500);
    report(heart, "the reach opens over 200,000 names");
    auto* input = window.findChild<QLineEdit*>(QLatin1String(objectName::kReachInput));
    for (const char* text : {"c", "cr", "crate 77", "crate 777", "crate 7777"}) {
        input->setText(QLatin1String(text));
        spin(200);
    }
    report(heart, "five letters are typed into it");
    window.setFocus();
    window.openSheet(QStringLiteral("barn 0"), QString());
    spin(1500);
    heart.forget();
    auto* filter = window.findChild<QLineEdit*>(QLatin1String(objectName::kCatalogFind));
    for (const char* text : {"c", "cr", "crate_77", "crate_777", ""}) {
        filter->setText(QLatin1String(text));
        spin(300);
    }
    report(heart, "a catalog of 10,000 tables is filtered, five times");
}

}  // namespace

/// The model is taken away and given back, so that what is counted is the table's alone. The allocator is asked before
/// and after.
void gridMemory(SheetPage& page) {
    const auto used = [] { return static_cast<double>(mallinfo2().uordblks + mallinfo2().hblkhd) / (1U << 20U); };
    GridView table(page.result()->model(), page.result()->model()->look());
    table.setModel(nullptr);
    const double before = used();
    table.setModel(page.result()->model());
    table.resize(1000, 400);
    (void)table.grab();
    bench::row("memory that a grid takes for 1,000,000 rows, its picture included",
               fmt::format("{:.1f} MB", used() - before), "2 MB");
}

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication application(argc, argv);
    const test::TemporaryFolder folder;
    makeRows(folder / "readings.db");
    const std::int64_t stolenBefore = stolen();
    Desk desk(store::findHome(folder / "home"));
    desk.open();
    db::ConnectionProfile profile;
    profile.id = "readings";
    profile.name = "Readings";
    profile.database = (folder / "readings.db").string();
    desk.connections().put(profile);
    MainWindow window(desk);
    window.resize(1280, 800);
    window.show();
    SheetPage* page = window.openSheet(QStringLiteral("readings"), QStringLiteral("SELECT * FROM reading"));
    spin(500);
    Heartbeat heart;
    spin(300);
    heart.forget();
    if (argc > 1 && std::string_view(argv[1]) == "texts") {
        typeIntoLargeTexts(window, heart);
        return 0;
    }
    if (argc > 1 && std::string_view(argv[1]) == "names") {
        exploreCatalogs(window, desk, heart, folder.path());
        return 0;
    }
    const auto asked = std::chrono::steady_clock::now();
    double firstPage = 0;
    const auto noteRows = [&] {
        if (firstPage > 0 || page->result()->model()->rowCount() == 0) return;
        page->result()->grid()->viewport()->repaint();
        firstPage = std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - asked).count();
    };
    QObject::connect(page->result()->model(), &QAbstractItemModel::rowsInserted, &window, noteRows);
    QObject::connect(page->result()->model(), &QAbstractItemModel::modelReset, &window, noteRows);
    page->runAll();
    const auto card = [&] { return page->sheet().cards().empty() ? nullptr : page->sheet().cards()[0]; };
    spin(kTimeoutMs, [&] { return card() != nullptr && card()->hasMore(); });
    bench::row("first page painted after the run was asked for, server included (SQLite)",
               fmt::format("{:.1f} ms", firstPage), "50 ms");
    spin(300);
    report(heart, "the statement starts, its card and first page come");
    card()->fetchAll();
    spin(kTimeoutMs, [&] { return card()->state() == Card::State::Done; });
    spin(500);
    report(heart, "1,000,000 rows arrive");
    const auto arrange = [&](const data::ViewRequest& request, const char* what) {
        bool isOver = false;
        const auto connection = QObject::connect(card(), &Card::viewChanged, [&] { isOver = true; });
        card()->requestView(request);
        spin(kTimeoutMs, [&] { return isOver; });
        spin(300);
        QObject::disconnect(connection);
        report(heart, what);
    };
    arrange({.order = {{3, true}}}, "they are ordered by a number");
    arrange({.order = {{4, false}}}, "they are ordered by a text");
    arrange({.filter = {{{1, data::Test::AtMost, false, {"400"}}}, false}}, "they are narrowed by a condition");
    arrange({.filterText = "reading 77"}, "they are narrowed by a text");
    arrange({}, "all of them are back");
    page->result()->grid()->selectAll();
    spin(3000);
    report(heart, "all cells are chosen and added up");
    page->result()->grid()->clearSelection();
    page->result()->showView(ResultPane::View::Profile);
    spin(6000);
    report(heart, "all columns are profiled");
    page->result()->showView(ResultPane::View::Grid);
    page->result()->grid()->scrollToBottom();
    spin(500);
    report(heart, "the grid goes to the last row");
    const auto part = [&]<class T>(const char* called) { return window.findChild<T*>(QLatin1String(called)); };
    part.operator()<QAbstractButton>(objectName::kExportButton)->click();
    spin(500);
    report(heart, "the panel for exports opens");
    part.operator()<QLineEdit>(objectName::kExportFile)
        ->setText(QString::fromStdString((folder / "readings.csv").string()));
    part.operator()<QAbstractButton>(objectName::kExportStart)->click();
    const auto* state = part.operator()<QLabel>(objectName::kExportState);
    spin(kTimeoutMs, [&] { return state->text().startsWith(QLatin1String("Wrote")); });
    spin(300);
    report(heart, "all rows go to a CSV file");
    gridMemory(*page);  // behind what is timed: its picture takes a while
    bench::row("kept from us by the machine meanwhile",
               fmt::format("{:.1f} s", static_cast<double>(stolen() - stolenBefore) / 100), "");
}
