#include "app/result/change_strip.h"

#include <QHBoxLayout>

#include "app/base/text.h"
#include "app/look/widgets.h"
#include "app/result/result_names.h"
#include "core/base/text.h"

namespace pantry::app {

ChangeStrip::ChangeStrip(QWidget* parent)
    : QFrame(parent),
      label_(makeLabel({}, "", this)),
      differences_(makeButton(tr("Show the differences"), "link", resultName::kShowDifferences,
                              tr("Show the differences as a result of their own"), this)) {
    name(this, resultName::kChangeStrip, tr("Changes since the last time"));
    name(label_, resultName::kChangeText, tr("Changes since the last time"));
    label_->setTextFormat(Qt::PlainText);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(14, 2, 10, 2);
    layout->setSpacing(8);
    layout->addWidget(label_);
    layout->addWidget(differences_);
    layout->addStretch();
    connect(differences_, &QPushButton::clicked, this, [this] {
        if (!source_ || !source_->change()) return;
        const work::ResultChange& change = *source_->change();
        Q_EMIT differencesWanted(tr("%1 since %2").arg(source_->title(), toQt(base::localTime(change.since)).left(5)),
                                 change.differences, toQt(change.text));
    });
    hide();
}

void ChangeStrip::show(ResultSource* source) {
    source_ = source;
    const work::ResultChangePtr change = source != nullptr ? source->change() : nullptr;
    setVisible(change != nullptr);
    if (!change) return;
    const QString since = toQt(base::spoken(change->since, base::now()));
    label_->setText(tr("Since %1: %2.").arg(since, toQt(change->text)));
    differences_->setVisible(!change->isNone());
    setLook(this, change->isNone() ? "plain" : "notice");
    setLook(label_, change->isNone() ? "small" : "");
}

}  // namespace pantry::app

#include "moc_change_strip.cpp"
