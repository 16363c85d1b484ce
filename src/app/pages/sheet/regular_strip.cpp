#include "app/pages/sheet/regular_strip.h"

#include <QHBoxLayout>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/elided_label.h"
#include "app/look/widgets.h"
#include "core/base/text.h"

namespace pantry::app {

RegularStrip::RegularStrip(Sheet& sheet, QWidget* parent) : LateStrip(parent), sheet_(sheet) {
    name(this, objectName::kRegularStrip, tr("Running regularly"));
    setProperty("look", "panel");  // nothing to be careful about
    connect(&sheet_.regular(), &RegularRunner::changed, this, &RegularStrip::refresh);
    connect(&sheet_, &Sheet::runningChanged, this, &RegularStrip::refresh);
    refresh();
}

void RegularStrip::makeContent() {
    title_ = new ElidedLabel(this);
    minutes_ = new QSpinBox(this);
    next_ = makeLabel({}, "", this);
    allow_ = makeButton(tr("Run it there"), "", objectName::kRegularAllow, tr("Let it run on live data"), this);
    now_ = makeButton(tr("Run now"), "", objectName::kRegularNow, tr("Run it without waiting"), this);
    end_ = makeButton(tr("End this"), "", objectName::kRegularEnd, tr("Let it not run by itself any more"), this);
    name(title_, objectName::kRegularTitle, tr("What runs regularly"));
    name(minutes_, objectName::kRegularMinutes, tr("Minutes between runs"));
    name(next_, objectName::kRegularNext, tr("When it runs next"));
    title_->setTextFormat(Qt::PlainText);
    next_->setTextFormat(Qt::PlainText);
    minutes_->setRange(work::RegularRun::kFewestMinutes, work::RegularRun::kMostMinutes);
    minutes_->setPrefix(tr("every "));
    minutes_->setSuffix(tr(" min"));
    minutes_->setButtonSymbols(QAbstractSpinBox::NoButtons);
    minutes_->setKeyboardTracking(false);  // while digits are typed nothing begins anew
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(12, 3, 10, 3);
    layout->setSpacing(8);
    layout->addWidget(title_);
    layout->addWidget(minutes_);
    layout->addWidget(next_);
    layout->addWidget(allow_);
    layout->addStretch();
    layout->addWidget(now_);
    layout->addWidget(end_);
    RegularRunner& runner = sheet_.regular();
    connect(minutes_, &QSpinBox::valueChanged, &runner, &RegularRunner::setMinutes);
    connect(allow_, &QPushButton::clicked, &runner, &RegularRunner::allowLive);
    connect(now_, &QPushButton::clicked, &runner, &RegularRunner::runNow);
    connect(end_, &QPushButton::clicked, &runner, &RegularRunner::end);
}

void RegularStrip::refresh() {
    const RegularRunner& runner = sheet_.regular();
    if (!showIf(runner.isChosen())) return;
    title_->setText(tr("“%1” runs by itself").arg(toQt(runner.run()->title())));
    const QSignalBlocker blocker(minutes_);
    minutes_->setValue(runner.plan().minutes());
    const bool isLive = runner.refusal() && sheet_.profile() != nullptr &&
                        sheet_.profile()->environment == db::Environment::Live &&
                        runner.run()->statement().reading().isPlain();
    allow_->setVisible(isLive);
    now_->setEnabled(runner.isOn());  // also while it runs: the focus would go to the button that ends it
    if (runner.refusal()) {
        next_->setText(toQt(*runner.refusal()));
    } else if (sheet_.isRunning()) {
        next_->setText(tr("runs now"));
    } else {
        next_->setText(tr("next at %1").arg(toQt(base::localTime(*runner.plan().next())).left(5)));
    }
    title_->setVisible(!runner.refusal());
    minutes_->setVisible(!runner.refusal());
}

}  // namespace pantry::app

#include "moc_regular_strip.cpp"
