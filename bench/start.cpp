// Prints a row of the table in docs/benchmarks.md: how long the window takes from the start of its process until it was
// painted (which it says), against an empty window with the same editor component. Both are programs of their own,
// started in turn.
#include <fmt/format.h>

#include <QProcess>
#include <QStringList>
#include <algorithm>
#include <chrono>
#include <vector>

#include "core/store/connections_file.h"
#include "core/store/home.h"
#include "core/store/sheet_store.h"
#include "demo/demo_data.h"
#include "measure.h"
#include "support/temporary_folder.h"

namespace {

namespace store = pantry::store;

double secondsOf(const char* program, const QStringList& arguments) {
    QProcess process;
    process.setStandardErrorFile(QProcess::nullDevice());
    const auto begin = std::chrono::steady_clock::now();
    process.start(QString::fromUtf8(program), arguments);
    process.waitForReadyRead(-1);
    const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
    process.waitForFinished(-1);
    return seconds;
}

double median(std::vector<double> values) {
    std::ranges::sort(values);
    return values[values.size() / 2];
}

/// A sheet that was left open, so that the start brings it back.
void leaveSheet(const QString& home) {
    store::SheetState sheet;
    sheet.id = "sheet-of-the-measurement";
    sheet.connectionId =
        store::ConnectionsFile(store::findHome(home.toStdString()).connectionsFile()).load()->profiles.front().id;
    sheet.title = "Sheet 1";
    sheet.text = std::string("SELECT name, planted_on\n  FROM tree\n ORDER BY planted_on;\n");
    sheet.isCurrent = true;
    (void)store::SheetStore(store::findHome(home.toStdString()).sheetsFolder()).save(sheet);
}

void printRow(const char* what, const QString& home, const char* goal) {
    constexpr int kRounds = 15;
    std::vector<double> ours;
    std::vector<double> empty;
    for (int i = 0; i < kRounds; ++i) {
        empty.push_back(secondsOf(EMPTY_PROGRAM, {}));
        ours.push_back(secondsOf(WINDOW_PROGRAM, {home}));
    }
    pantry::bench::row(what,
                       fmt::format("{:.2f} ({:.0f} ms / {:.0f} ms)", median(ours) / median(empty), median(ours) * 1e3,
                                   median(empty) * 1e3),
                       goal);
}

}  // namespace

int main() {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    const pantry::test::TemporaryFolder folder;
    if (!pantry::demo::writeDemo(folder / "demo")) return 1;
    const QString home = QString::fromStdString((folder / "demo" / "home").string());
    printRow("window painted after the start of its process, against an empty one with the editor component", home,
             "2.0");
    leaveSheet(home);
    printRow("the same where a sheet was left open", home, "");
}
