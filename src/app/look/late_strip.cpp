#include "app/look/late_strip.h"

#include "app/look/widgets.h"

namespace pantry::app {

bool LateStrip::showIf(bool isWanted) {
    if (isWanted && !isMade_) {
        isMade_ = true;
        makeContent();
        for (QWidget* part : findChildren<QWidget*>(Qt::FindDirectChildrenOnly)) putBehindInTabOrder(this, part);
    }
    setVisible(isWanted);
    return isWanted;
}

}  // namespace pantry::app
