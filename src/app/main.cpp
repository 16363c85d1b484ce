#include <QFontDatabase>
#include <QTimer>

#include <fmt/format.h>

#include "app/base/end_signals.h"
#include "app/base/text.h"
#include "app/desk/desk.h"
#include "app/look/early_fonts.h"
#include "app/look/program_style.h"
#include "app/look/theme.h"
#include "app/program_options.h"
#include "app/shell/application.h"
#include "app/shell/main_window.h"
#include "app/tour/tour.h"
#include "core/base/executor.h"
#include "core/base/output_file.h"
#include "core/base/process_privacy.h"
#include "core/base/uncaught.h"
#include "core/store/log.h"
#include "demo/demo_data.h"

namespace {

namespace fs = std::filesystem;
using namespace pantry;

/// Where the demo lives when the window is asked for it: beside the user's data, never in it.
fs::path demoFolder() { return store::findHome(std::nullopt).data / "demo"; }

int run(app::Application& application, const app::ProgramOptions& options) {
    std::optional<fs::path> homeFolder;
    if (!options.home.empty()) homeFolder = options.home;
    if (options.isDemo || (!options.tourFolder.empty() && !homeFolder)) {
        const fs::path folder = demoFolder();
        if (!demo::hasDemo(folder)) {
            std::printf("Making the demo data in %s …\n", folder.c_str());
            if (Status status = demo::writeDemo(folder); !status) {
                std::fprintf(stderr, "agile-pantry: %s\n", status.error().text().c_str());
                return 1;
            }
        }
        homeFolder = folder / "home";
    }
    const store::Home home = store::findHome(homeFolder);
    if (const Status status = home.prepare(); !status && status.error().kind == ErrorKind::NotFound) {
        std::fprintf(stderr, "agile-pantry: %s\n", status.error().text().c_str());
        return 1;  // the desk tells other failures
    }
    store::startLog(home, options.isVerbose);
    store::log(store::LogLevel::Note,
               fmt::format("Agile Pantry {} starts on {}", PANTRY_VERSION, home.config.string()));
    app::Desk desk(home);
    // Whatever reaches the end of a task unexpectedly is told and stands in the log; the window lives.
    base::onUncaught([&desk](const Error& error) { desk.raise(error); });
    desk.open();
    app::Theme::current().choose(app::toQt(desk.settings().theme));
    int code = 0;
    {
        app::MainWindow window(desk);
        window.show();
        const app::EndSignals endSignals([&] { window.keepEverything(); });
        for (const std::string& file : options.files) window.openFile(app::toQt(file));
        std::unique_ptr<app::Tour> tour;
        if (!options.tourFolder.empty()) {
            tour = std::make_unique<app::Tour>(window, desk, app::toQt(options.tourFolder));
            QTimer::singleShot(0, tour.get(), &app::Tour::start);
        }
        code = application.exec();
    }
    desk.flush();
    base::Executor::drainAll();
    base::onUncaught({});
    return code;
}

}  // namespace

int main(int argc, char** argv) try {
    base::keepMemoryPrivate();
    base::takePasswordVariables();
    base::keepFilesPrivate();
    // The words are kept here, and what others see of them loses its secrets before anything else reads it.
    std::vector<std::string> given = base::takeArguments(argc, argv);
    std::vector<char*> words;
    for (std::string& word : given) words.push_back(word.data());
    words.push_back(nullptr);
    // Once before there is a window, for --help where there is no display; Qt takes its own options then; once more,
    // to tell what nobody knows.
    app::ProgramOptions options;
    if (const auto code = app::readOptions(options, given, app::Unknown::MayBeQts)) return *code;
    app::EarlyFonts fonts;
    app::Application application(argc, words.data());
    const auto fontsEndFirst = qScopeGuard([] { app::awaitFonts(); });  // Qt's list goes with the application
    fonts.noteApplication();
    options = {};
    const std::vector<std::string> left(words.data(), words.data() + argc);
    if (const auto code = app::readOptions(options, left, app::Unknown::AreMistakes)) return *code;
    QApplication::setApplicationName(QStringLiteral("agile-pantry"));
    QApplication::setApplicationDisplayName(QStringLiteral("Agile Pantry"));
    QApplication::setStyle(new app::ProgramStyle);
    return run(application, options);
} catch (const std::exception& error) {
    std::fprintf(stderr, "agile-pantry: %s\n", error.what());
    return 1;
}
