#include "app/pages/sheet/large_text_strip.h"

#include <QHBoxLayout>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/widgets.h"
#include "core/base/text.h"

namespace pantry::app {

LargeTextStrip::LargeTextStrip(Sheet& sheet, SqlEditor& editor, QWidget* parent)
    : LateStrip(parent), sheet_(sheet), editor_(editor) {
    name(this, objectName::kLargeText, tr("Large text"));
    setProperty("look", "panel");
    connect(&sheet_, &Sheet::helpersChanged, this, &LargeTextStrip::refresh);
    connect(&editor_, &SqlEditor::partChanged, this, &LargeTextStrip::refresh);
    refresh();
}

void LargeTextStrip::makeContent() {
    label_ = makeLabel({}, "quiet", this);
    earlier_ = makeButton(tr("Earlier"), "", objectName::kEarlierPart, tr("Show the lines before these"), this);
    later_ = makeButton(tr("Later"), "", objectName::kLaterPart, tr("Show the lines behind these"), this);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(12, 3, 10, 3);
    layout->setSpacing(8);
    layout->addWidget(label_, 1);
    layout->addWidget(earlier_);
    layout->addWidget(later_);
    for (QPushButton* button : {earlier_, later_}) button->setFocusPolicy(Qt::TabFocus);
    connect(earlier_, &QPushButton::clicked, this, [this] { editor_.showPart(false); });
    connect(later_, &QPushButton::clicked, this, [this] { editor_.showPart(true); });
}

void LargeTextStrip::refresh() {
    if (!showIf(!sheet_.hasHelpers())) return;
    const SqlEditor::Part part = editor_.part();
    const bool isPart = !part.isFirst || !part.isLast;
    earlier_->setVisible(isPart);
    later_->setVisible(isPart);
    earlier_->setEnabled(!part.isFirst);
    later_->setEnabled(!part.isLast);
    if (!isPart) {
        return label_->setText(
            tr("A large text: it is shown without colours, marks and completion. It runs and is kept as always."));
    }
    label_->setText(tr("Lines %1 to %2 of %3, without colours and completion. Run, Run all and saving mean all of it.")
                        .arg(toQt(base::grouped(part.firstLine)), toQt(base::grouped(part.lastLine)),
                             toQt(base::readableBytes(sheet_.text().size()))));
}

}  // namespace pantry::app

#include "moc_large_text_strip.cpp"
