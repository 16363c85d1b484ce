#include "app/result/origin_band.h"

#include <QHBoxLayout>

#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"

namespace pantry::app {
namespace {

constexpr int kBandHeight = 32;

}  // namespace

OriginBand::OriginBand(Desk& desk, const QString& connectionId, const QString& place, QWidget* parent)
    : TintedBand(parent) {
    name(this, "originBand", tr("Where this result came from"));
    Theme::fit(this, [this] { setFixedHeight(Theme::px(kBandHeight)); });
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(12, 0, 10, 2);
    layout->setSpacing(8);
    layout->addWidget(chip());
    layout->addWidget(makeLabel(place, "", this));
    layout->addStretch();
    const auto refresh = [this, &desk, connectionId] {
        showConnection(desk.connections().profile(fromQt(connectionId)));
    };
    connect(&Theme::current(), &Theme::changed, this, refresh);
    connect(&desk, &Desk::profilesChanged, this, refresh);
    refresh();
}

}  // namespace pantry::app

#include "moc_origin_band.cpp"
