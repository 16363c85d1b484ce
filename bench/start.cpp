// Prints a row of the table in docs/benchmarks.md: how long the window takes from the start of its process until it was
// painted (which it says), against an empty window with the same editor component. Both are programs of their own,
// started in turn.
#include <fmt/format.h>

#include <QProcess>
#include <QStringList>
#include <algorithm>
#include <chrono>
#include <vector>

#include "demo/demo_data.h"
#include "measure.h"
#include "support/temporary_folder.h"

namespace {

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

}  // namespace

int main() {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    const pantry::test::TemporaryFolder folder;
    if (!pantry::demo::writeDemo(folder / "demo")) return 1;
    const QString home = QString::fromStdString((folder / "demo" / "home").string());
    constexpr int kRounds = 15;
    std::vector<double> ours;
    std::vector<double> empty;
    for (int i = 0; i < kRounds; ++i) {
        empty.push_back(secondsOf(EMPTY_PROGRAM, {}));
        ours.push_back(secondsOf(WINDOW_PROGRAM, {home}));
    }
    pantry::bench::row("window painted after the start of its process, against an empty one with the editor component",
                       fmt::format("{:.2f} ({:.0f} ms / {:.0f} ms)", median(ours) / median(empty), median(ours) * 1e3,
                                   median(empty) * 1e3),
                       "2.0");
}
