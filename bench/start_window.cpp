// The program's window as bench/start measures it: what src/app/main.cpp does up to the first picture, and its end
// then.
#include "app/base/text.h"
#include "app/desk/desk.h"
#include "app/look/early_fonts.h"
#include "app/look/program_style.h"
#include "app/look/theme.h"
#include "app/shell/application.h"
#include "app/shell/main_window.h"
#include "core/store/log.h"
#include "first_picture.h"

using namespace pantry;

int main(int argc, char** argv) {
    if (argc != 2) return 2;
    app::EarlyFonts fonts;
    const store::Home home = store::findHome(std::filesystem::path(argv[1]));
    app::Application application(argc, argv);
    const auto fontsEndFirst = qScopeGuard([] { app::awaitFonts(); });
    fonts.noteApplication();
    QApplication::setStyle(new app::ProgramStyle);
    if (!home.prepare()) return 1;
    store::startLog(home, false);
    app::Desk desk(home);
    desk.open();
    app::Theme::current().choose(app::toQt(desk.settings().theme));
    app::MainWindow window(desk);
    const bench::FirstPicture firstPicture;
    window.show();
    return QApplication::exec();
}
