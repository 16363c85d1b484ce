#include "app/inspect/finding_note.h"

#include <QVBoxLayout>

#include "app/base/object_names.h"
#include "app/command/command.h"
#include "app/look/widgets.h"

namespace pantry::app {

FindingNote::FindingNote(QWidget* parent)
    : QFrame(parent),
      severity_(makeLabel({}, "small", this)),
      message_(makeLabel({}, "", this)),
      mend_(makeButton(tr("Mend it"), "link", "findingMend", command("editor.mend").help, this)),
      silence_(
          makeButton(command("editor.silence").text, "link", "findingSilence", command("editor.silence").help, this)) {
    name(this, "findingNote", tr("What is marked at the cursor"));
    message_->setObjectName(QStringLiteral("findingMessage"));
    message_->setWordWrap(true);
    message_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    mend_->setToolTip(commandTip("editor.mend"));
    silence_->setToolTip(commandTip("editor.silence"));
    severity_->setWordWrap(true);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 7, 12, 7);
    layout->setSpacing(3);
    layout->addWidget(severity_);
    layout->addWidget(message_);
    // Below each other: beside, they would make a narrow close-up wider than it is.
    layout->addWidget(mend_, 0, Qt::AlignLeft);
    layout->addWidget(silence_, 0, Qt::AlignLeft);
    connect(mend_, &QPushButton::clicked, this, &FindingNote::mendRequested);
    connect(silence_, &QPushButton::clicked, this, &FindingNote::silenceRequested);
}

void FindingNote::tell(const FindingText& finding) {
    severity_->setText(finding.rule.isEmpty() ? finding.severity : tr("%1 · %2").arg(finding.severity, finding.rule));
    message_->setText(finding.message);
    mend_->setVisible(finding.canMend);
    silence_->setVisible(!finding.rule.isEmpty());
}

}  // namespace pantry::app

#include "moc_finding_note.cpp"
