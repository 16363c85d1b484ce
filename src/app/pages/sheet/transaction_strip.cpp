#include "app/pages/sheet/transaction_strip.h"

#include <QHBoxLayout>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/widgets.h"
#include "core/base/text.h"

namespace pantry::app {

TransactionStrip::TransactionStrip(Sheet& sheet, QWidget* parent) : LateStrip(parent), sheet_(sheet) {
    name(this, objectName::kTransactionStrip, tr("Transaction"));
    setProperty("look", "strip");
    connect(&sheet_, &Sheet::sessionChanged, this, &TransactionStrip::refresh);
    connect(&sheet_, &Sheet::runningChanged, this, &TransactionStrip::refresh);
    refresh();
}

void TransactionStrip::makeContent() {
    label_ = makeLabel({}, "", this);
    commit_ = makeButton(tr("Commit"), "", objectName::kCommitButton, tr("Commit the open changes"), this);
    undo_ = makeButton(tr("Roll back"), "", objectName::kUndoButton, tr("Roll the open changes back"), this);
    name(label_, objectName::kTransactionWords, tr("State of the transaction"));
    commit_->setToolTip(tr("Runs COMMIT"));
    undo_->setToolTip(tr("Runs ROLLBACK: takes the open changes back"));
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(12, 3, 10, 3);
    layout->setSpacing(8);
    layout->addWidget(label_);
    layout->addSpacing(12);
    layout->addWidget(commit_);
    layout->addStretch();  // what takes changes back does not stand beside what keeps them
    layout->addWidget(undo_);
    for (QPushButton* button : {commit_, undo_}) button->setFocusPolicy(Qt::TabFocus);
    connect(commit_, &QPushButton::clicked, this, [this] { sheet_.runStatement("COMMIT"); });
    connect(undo_, &QPushButton::clicked, this, [this] { sheet_.runStatement("ROLLBACK"); });
}

void TransactionStrip::refresh() {
    const db::SessionState& state = sheet_.session().state();
    const bool isOpen = state.connection.transaction != db::TransactionState::None;
    if (!showIf(isOpen || sheet_.session().commitsByHand())) return;
    commit_->setVisible(isOpen);
    undo_->setVisible(isOpen);
    commit_->setEnabled(!sheet_.isRunning() && state.connection.transaction == db::TransactionState::Open);
    undo_->setEnabled(!sheet_.isRunning());
    if (!isOpen) return label_->setText(tr("Manual commit: the next change opens a transaction."));
    const QString since = toQt(base::localTime(state.openSince)).left(5);
    if (state.connection.transaction == db::TransactionState::Failed) {
        return label_->setText(tr("The transaction failed: nothing runs in it until it is rolled back."));
    }
    label_->setText(
        state.openChanges == 0
            ? tr("A transaction is open since %1, without changes so far.").arg(since)
            : tr("%1 open since %2").arg(toQt(base::counted(state.openChanges, "change", "changes")), since));
}

}  // namespace pantry::app

#include "moc_transaction_strip.cpp"
