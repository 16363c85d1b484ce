#include "app/look/early_fonts.h"

#include <fontconfig/fontconfig.h>

#include <QFontDatabase>

namespace pantry::app {

EarlyFonts* EarlyFonts::current = nullptr;

EarlyFonts::EarlyFonts()
    : reader_([isThere = isApplicationThere_.get_future()]() mutable {
          FcInit();
          // Of the questions to Qt's list, this one takes its lock before anything else.
          if (isThere.get()) QFontDatabase::families();
      }) {
    current = this;
}

EarlyFonts::~EarlyFonts() {
    if (!isTold_) isApplicationThere_.set_value(false);
    finish();
    current = nullptr;
}

void EarlyFonts::noteApplication() {
    isTold_ = true;
    isApplicationThere_.set_value(true);
}

void EarlyFonts::finish() {
    if (reader_.joinable()) reader_.join();
}

void awaitFonts() {
    if (EarlyFonts::current != nullptr && EarlyFonts::current->isTold_) EarlyFonts::current->finish();
}

}  // namespace pantry::app
