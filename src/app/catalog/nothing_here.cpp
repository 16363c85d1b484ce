#include "app/catalog/nothing_here.h"

#include "app/base/object_names.h"
#include "app/look/widgets.h"

namespace pantry::app {

NothingHere::NothingHere(QWidget* parent)
    : QFrame(parent), text_(makeLabel({}, "small", this)), ways_(new QVBoxLayout) {
    name(this, "nothingHere", tr("Why the list is empty"));
    text_->setWordWrap(true);
    text_->setObjectName(QLatin1String(objectName::kCatalogRemark));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 6, 12, 6);
    layout->setSpacing(6);
    layout->addWidget(text_);
    ways_->setSpacing(2);
    layout->addLayout(ways_);
    layout->addStretch();
}

void NothingHere::say(const QString& text, const std::vector<Way>& ways) {
    text_->setText(text);
    clearLayout(ways_);
    for (const Way& way : ways) {
        auto* button = makeButton(way.label, "plainLeft", objectName::kCatalogElsewhere, way.label, this);
        connect(button, &QPushButton::clicked, this, way.go);
        ways_->addWidget(button);
    }
}

}  // namespace pantry::app

#include "moc_nothing_here.cpp"
