// Prints rows of the table in docs/benchmarks.md: how long the window's event loop keeps an event waiting while a
// million rows arrive, are ordered, narrowed, searched, added up and exported.
#include <fmt/format.h>
#include <sqlite3.h>

#include <QApplication>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QHeaderView>
#include <QTimer>
#include <algorithm>
#include <atomic>
#include <functional>
#include <thread>

#include "app/window/main_window.h"
#include "measure.h"
#include "support/temporary_folder.h"

using namespace pantry;
using namespace pantry::app;

namespace {

constexpr int kPatienceMs = 120'000;

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

/// Sends an event to the window's thread every two milliseconds and notes how long each waits.
class Heartbeat {
public:
    Heartbeat() : thread_([this] { beat(); }) {}
    ~Heartbeat() {
        isOver_ = true;
        thread_.join();
    }
    /// What was noted since the last time: the 99th percentile and the longest, in milliseconds.
    std::pair<double, double> take() {
        std::ranges::sort(waits_);
        const std::pair<double, double> out =
            waits_.empty() ? std::pair(0.0, 0.0) : std::pair(waits_[waits_.size() * 99 / 100], waits_.back());
        waits_.clear();
        return out;
    }

private:
    void beat() {
        while (!isOver_) {
            std::this_thread::sleep_for(std::chrono::milliseconds(2));
            const auto sent = std::chrono::steady_clock::now();
            QMetaObject::invokeMethod(
                qApp,
                [this, sent] {
                    const std::chrono::duration<double, std::milli> waited = std::chrono::steady_clock::now() - sent;
                    waits_.push_back(waited.count());
                },
                Qt::QueuedConnection);
        }
    }
    std::vector<double> waits_;  // of the window's thread
    std::atomic<bool> isOver_{false};
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
    const auto [usual, worst] = heart.take();
    bench::row(fmt::format("longest wait of the event loop: {}", what),
               fmt::format("{:.1f} ms (99th percentile), {:.1f} ms at worst", usual, worst), "16 ms, 50 ms");
}

}  // namespace

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication application(argc, argv);
    const test::TemporaryFolder folder;
    makeRows(folder / "readings.db");
    Desk desk(workspace::findHome(folder / "home"));
    desk.open();
    db::ConnectionProfile profile;
    profile.id = "readings";
    profile.name = "Readings";
    profile.database = (folder / "readings.db").string();
    desk.putProfile(profile);
    MainWindow window(desk);
    window.resize(1280, 800);
    window.show();
    SheetPage* page = window.openSheet(QStringLiteral("readings"), QStringLiteral("SELECT * FROM reading"));
    spin(500);
    Heartbeat heart;
    spin(300);
    (void)heart.take();
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
    spin(kPatienceMs, [&] { return card() != nullptr && card()->hasMore(); });
    bench::row("first page painted after the run was asked for, server included (SQLite)",
               fmt::format("{:.1f} ms", firstPage), "50 ms");
    page->sheet().fetchAll(card());
    spin(kPatienceMs, [&] { return card()->state() == Card::State::Done; });
    spin(500);
    report(heart, "1,000,000 rows arrive");
    const auto arrange = [&](const data::ViewRequest& request, const char* what) {
        bool isOver = false;
        const auto connection = QObject::connect(card(), &Card::viewChanged, [&] { isOver = true; });
        card()->requestView(request);
        spin(kPatienceMs, [&] { return isOver; });
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
}
