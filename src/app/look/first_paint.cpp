#include "app/look/first_paint.h"

#include <QEvent>
#include <QTimer>
#include <utility>

namespace pantry::app {
namespace {

class PaintWatch : public QObject {
public:
    PaintWatch(QWidget* widget, std::function<void()> act) : QObject(widget), act_(std::move(act)) {
        widget->installEventFilter(this);
    }

    bool eventFilter(QObject* watched, QEvent* event) override {
        if (event->type() != QEvent::Paint) return false;
        watched->removeEventFilter(this);
        QTimer::singleShot(0, this, [this] {  // when all of the picture is there
            deleteLater();
            act_();
        });
        return false;
    }

private:
    std::function<void()> act_;
};

}  // namespace

void afterFirstPaint(QWidget* widget, std::function<void()> act) {
    if (widget->window()->isVisible() && widget->window()->testAttribute(Qt::WA_Mapped)) return act();
    afterPaintOf(widget, std::move(act));
}

void afterPaintOf(QWidget* widget, std::function<void()> act) {
    new PaintWatch(widget, std::move(act));  // the widget's child
}

}  // namespace pantry::app
