#include "app/pages/connections/transfer_panel.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QScrollArea>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/widgets.h"
#include "core/base/file.h"
#include "core/base/output_file.h"
#include "core/base/text.h"
#include "core/store/connection_transfer.h"

namespace pantry::app {
namespace {

QString namesOf(const std::vector<std::string>& names) {
    QStringList list;
    for (const std::string& n : names) list += toQt(n);
    return list.join(QStringLiteral(", "));
}

}  // namespace

TransferPanel::TransferPanel(Desk& desk, QWidget* parent)
    : QFrame(parent),
      desk_(desk),
      heading_(makeLabel({}, "bigHeading")),
      explanation_(makeLabel({}, "quiet")),
      ticks_(new QVBoxLayout),
      clash_(new QComboBox),
      go_(makeButton({}, "main", objectName::kTransferGo, tr("Do it"))),
      state_(makeLabel({}, "small")) {
    setProperty("look", "side");
    name(this, objectName::kTransferPanel, tr("Connections to and from other machines"));
    name(clash_, objectName::kTransferClash, tr("What becomes of names that are taken"));
    name(state_, objectName::kTransferState, tr("What came of it"));
    clash_->addItem(tr("Names that are taken: come in under a free name"), int(store::NameClash::Rename));
    clash_->addItem(tr("Names that are taken: replace mine"), int(store::NameClash::Replace));
    clash_->addItem(tr("Names that are taken: leave them out"), int(store::NameClash::Skip));
    explanation_->setWordWrap(true);
    state_->setWordWrap(true);
    auto* list = new QWidget;
    list->setObjectName(QStringLiteral("plainBox"));
    list->setLayout(ticks_);
    ticks_->setContentsMargins(0, 0, 0, 0);
    auto* scroll = new QScrollArea;
    scroll->setWidget(list);
    scroll->setWidgetResizable(true);
    auto* close = makeButton(tr("Close"), "", objectName::kTransferClose, tr("Back to the form"));
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(go_);
    buttons->addWidget(close);
    buttons->addStretch();
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(22, 14, 22, 16);
    layout->setSpacing(9);
    layout->addWidget(heading_);
    layout->addWidget(explanation_);
    layout->addWidget(scroll, 1);
    layout->addWidget(clash_);
    layout->addWidget(state_);
    layout->addLayout(buttons);
    connect(close, &QPushButton::clicked, this, &TransferPanel::closed);
    connect(go_, &QPushButton::clicked, this, [this] { isImport_ ? bringIn() : chooseFile(); });
}

void TransferPanel::show(const store::ConnectionList& list, bool isImport) {
    isImport_ = isImport;
    clearLayout(ticks_);
    for (const db::ConnectionProfile& p : list.profiles) {
        const QString text = toQt(p.name) + QStringLiteral("   ") + toQt(db::placeOf(p)) +
                             (p.isTemplate ? tr("   template") : QString());
        auto* tick = new QCheckBox(text);
        name(tick, "transferTick", toQt(p.name));
        tick->setProperty("connection", toQt(p.id));
        tick->setChecked(true);
        ticks_->addWidget(tick);
    }
    ticks_->addStretch();
    clash_->setVisible(isImport);
    go_->setText(isImport ? tr("Import") : tr("Write a file…"));
    go_->setEnabled(!list.profiles.empty());
    setLook(state_, "small");
    state_->clear();
}

void TransferPanel::beginExport() {
    heading_->setText(tr("Export connections"));
    explanation_->setText(tr("The file holds addresses, users, properties and notes. It holds no password."));
    show(desk_.connections().list(), false);
    go_->setFocus();
}

void TransferPanel::beginImport(const QString& path) {
    heading_->setText(tr("Bring connections in"));
    explanation_->setText(tr("From %1").arg(path));
    incoming_ = {};
    inBackground(
        base::Work::Long, this,
        [path = fromQt(path)]() -> Result<store::ConnectionList> {
            const auto text = base::readFile(path);
            if (!text) return text.error();
            return store::readExport(*text);
        },
        [this](const Result<store::ConnectionList>& list) {
            incoming_ = list.value_or(store::ConnectionList{});
            show(incoming_, true);
            if (!list) say(list.error(), {});
            go_->setFocus();
        });
}

std::set<std::string> TransferPanel::ticked() const {
    std::set<std::string> ids;
    for (int i = 0; i < ticks_->count(); ++i) {
        const auto* tick = qobject_cast<QCheckBox*>(ticks_->itemAt(i)->widget());
        if (tick != nullptr && tick->isChecked()) ids.insert(fromQt(tick->property("connection").toString()));
    }
    return ids;
}

void TransferPanel::chooseFile() {
    auto* dialog = new QFileDialog(this, tr("Export connections"), QStringLiteral("connections.json"));
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &QFileDialog::fileSelected, this, &TransferPanel::writeTo);
    dialog->open();
}

void TransferPanel::writeTo(const QString& path) {
    const std::set<std::string> ids = ticked();
    if (ids.empty()) return say(Error{.message = "No connection is ticked."}, {});
    const std::string text = store::exportConnections(desk_.connections().list(), ids);
    inBackground(
        base::Work::Long, this, [path = fromQt(path), text] { return base::writeOutputFile(path, text); },
        [this, path, count = ids.size()](const Status& status) {
            say(status,
                tr("Wrote %1 to %2. No password is in it.")
                    .arg(toQt(base::counted(static_cast<std::int64_t>(count), "connection", "connections")), path));
        });
}

void TransferPanel::bringIn() {
    const std::set<std::string> ids = ticked();
    if (ids.empty()) return say(Error{.message = "No connection is ticked."}, {});
    const auto clash = static_cast<store::NameClash>(clash_->currentData().toInt());
    // Once, so that the window and the file get the same new ids.
    store::ConnectionList merged = desk_.connections().list();
    const store::ImportReport report = store::importConnections(merged, incoming_, ids, clash);
    desk_.connections().change([merged](store::ConnectionList& list) {
        for (const db::ConnectionProfile& p : merged.profiles) store::putProfile(list, p);
        for (const store::ConnectionGroup& g : merged.groups) {
            if (store::findGroup(list, g.name) == nullptr) list.groups.push_back(g);
        }
    });
    QStringList parts;
    if (!report.added.empty()) parts += tr("Added %1.").arg(namesOf(report.added));
    if (!report.replaced.empty()) parts += tr("Replaced %1.").arg(namesOf(report.replaced));
    if (!report.skipped.empty()) parts += tr("Left out %1.").arg(namesOf(report.skipped));
    say({}, parts.join(QLatin1Char(' ')));
}

void TransferPanel::say(const Status& status, const QString& text) {
    setLook(state_, status ? "good" : "bad");
    state_->setText(status ? text : toQt(status.error()));
}

}  // namespace pantry::app

#include "moc_transfer_panel.cpp"
