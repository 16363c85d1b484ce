#include "app/result/rule_colours.h"

#include <QPixmap>

#include "app/look/theme.h"

namespace pantry::app {

QIcon colourSpot(const std::string& colour) {
    QPixmap picture(12, 12);
    picture.fill(Theme::current().connectionColour(colour));
    return QIcon(picture);
}

}  // namespace pantry::app
