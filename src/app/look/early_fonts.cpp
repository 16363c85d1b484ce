#include "app/look/early_fonts.h"

#include <fontconfig/fontconfig.h>

#include <QCoreApplication>
#include <QFontDatabase>

namespace pantry::app {

EarlyFonts::EarlyFonts()
    : reader_([isThere = isApplicationThere_.get_future()]() mutable {
          FcInit();
          // Of the questions to Qt's list, this one takes the lock before anything else.
          if (isThere.get()) QFontDatabase::families();
      }) {}

EarlyFonts::~EarlyFonts() {
    if (!isTold_) isApplicationThere_.set_value(false);
    finish();
}

void EarlyFonts::noteApplication() {
    isTold_ = true;
    isApplicationThere_.set_value(true);
    QObject::connect(QCoreApplication::instance(), &QCoreApplication::aboutToQuit, [this] { finish(); });
}

void EarlyFonts::finish() {
    if (reader_.joinable()) reader_.join();
}

}  // namespace pantry::app
