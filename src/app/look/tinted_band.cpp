#include "app/look/tinted_band.h"

#include <QPainter>

#include "app/base/text.h"
#include "app/look/connection_colours.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"

namespace pantry::app {
namespace {

constexpr double kTint = 0.16;
constexpr int kChipHeight = 22;

}  // namespace

TintedBand::TintedBand(QWidget* parent) : QFrame(parent), chip_(makeLabel({}, "chip", this)) {
    Theme::fit(this, [this] { chip_->setFixedHeight(Theme::px(kChipHeight)); });
}

void TintedBand::showConnection(const db::ConnectionProfile* profile) {
    const Theme& theme = Theme::current();
    colour_ = profile == nullptr ? theme.colour("quiet") : theme.connectionColour(signalColour(*profile));
    chip_->setVisible(profile != nullptr);
    if (profile != nullptr) {
        chip_->setText(toQt(db::environmentWord(profile->environment)).toUpper());
        chip_->setStyleSheet(QStringLiteral("background: %1").arg(colour_.name()));
    }
    update();
}

void TintedBand::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), Theme::current().tinted(colour_, kTint));
    painter.fillRect(QRect(0, height() - 2, width(), 2), colour_);
}

}  // namespace pantry::app

#include "moc_tinted_band.cpp"
