#include "app/look/plain_scroll.h"

namespace pantry::app {

PlainScroll::PlainScroll(QWidget* inner, QWidget* parent) : QScrollArea(parent) {
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setWidgetResizable(true);
    setWidget(inner);
}

}  // namespace pantry::app

#include "moc_plain_scroll.cpp"
