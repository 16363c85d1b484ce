#include "app/pages/sheet/held_panel.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QVBoxLayout>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/text.h"
#include "core/work/parameter_values.h"

namespace pantry::app {
namespace {

constexpr std::size_t kStatementShown = 400;

}  // namespace

HeldPanel::HeldPanel(Desk& desk, Sheet& sheet, QWidget* parent) : LateStrip(parent), desk_(desk), sheet_(sheet) {
    name(this, objectName::kHeldPanel, tr("Held back"));
    setProperty("look", "held");
    connect(&sheet_, &Sheet::heldChanged, this, &HeldPanel::refresh);
    // Another window may have made the connection more careful, or named it otherwise, meanwhile.
    connect(&sheet_, &Sheet::connectionChanged, this, [this] {
        const db::ConnectionProfile* p = sheet_.profile();
        const bool isOther = p == nullptr || p->name != shownName_ || p->environment != shownEnvironment_;
        if (sheet_.runs().held() && isOther) refresh();
    });
    hide();
}

void HeldPanel::makeContent() {
    title_ = makeLabel({}, "bigHeading", this);
    reason_ = makeLabel({}, "", this);
    statement_ = makeLabel({}, "code", this);
    count_ = makeLabel({}, "heading", this);
    name_ = new QLineEdit(this);
    run_ = makeButton({}, "danger", objectName::kHeldRun, tr("Run the statement that is held back"), this);
    leave_ = makeButton(tr("Cancel  Esc"), "", objectName::kHeldLeave, tr("Do not run it"), this);
    name(name_, objectName::kHeldName, tr("The connection's name, to run the statement"));
    name(count_, objectName::kHeldCount, tr("Rows it would touch"));
    title_->setWordWrap(true);
    reason_->setWordWrap(true);
    statement_->setWordWrap(true);
    Theme::fit(this, [this] { statement_->setMaximumHeight(Theme::px(96)); });
    name_->setMinimumWidth(90);
    name_->setMaximumWidth(250);
    auto* verbs = new QHBoxLayout;
    verbs->setSpacing(8);
    verbs->addWidget(name_);
    verbs->addWidget(run_);
    verbs->addStretch();
    verbs->addWidget(leave_);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(16, 12, 16, 12);
    layout->setSpacing(6);
    layout->addWidget(title_);
    layout->addWidget(statement_);
    layout->addWidget(reason_);
    layout->addWidget(count_);
    layout->addSpacing(4);
    layout->addLayout(verbs);
    connect(run_, &QPushButton::clicked, this, [this] { sheet_.runs().confirm(shownName_); });
    connect(leave_, &QPushButton::clicked, this, [this] { sheet_.runs().dismiss(); });
    connect(name_, &QLineEdit::returnPressed, this, [this] { sheet_.runs().confirm(fromQt(name_->text().trimmed())); });
}

void HeldPanel::refresh() {
    const auto& held = sheet_.runs().held();
    const db::ConnectionProfile* p = sheet_.profile();
    if (!showIf(held.has_value() && p != nullptr) || !isVisibleTo(parentWidget())) {
        ++asked_;
        return;
    }
    shownName_ = p->name;
    shownEnvironment_ = p->environment;
    const QString connection = toQt(p->name);
    const bool isLive = p->environment == db::Environment::Live;
    // Behind an error nothing need be confirmed: one goes on, or one does not.
    const bool isOnlyAsked = held->isOnlyAsked();
    name_->setVisible(!isOnlyAsked);
    setProperty("look", isOnlyAsked ? "asked" : "held");
    setLook(run_, isOnlyAsked ? "main" : "danger");
    run_->setAutoDefault(isOnlyAsked);
    leave_->setText(isOnlyAsked ? tr("Stop  Esc") : tr("Cancel  Esc"));
    style()->polish(this);
    title_->setText(isOnlyAsked ? tr("Continue after the error with the next statement?")
                    : isLive    ? tr("Held back on %1, a live connection").arg(connection)
                                : tr("Held back on %1").arg(connection));
    const std::string shown = base::oneLine(held->statement.text(), kStatementShown);
    statement_->setText(toQt(shown));
    QStringList reasons;
    if (!held->afterWhat.empty()) reasons += toQt(held->afterWhat);
    if (!held->why.reason.empty()) reasons += toQt(held->why.reason);
    QString reason = reasons.join(QLatin1Char('\n'));
    if (held->after > 0) {
        reason += tr(" Behind it wait %1.")
                      .arg(toQt(base::counted(static_cast<std::int64_t>(held->after), "statement", "statements")));
    }
    reason_->setText(reason);
    name_->clear();
    name_->setPlaceholderText(tr("type “%1” to run it").arg(connection));
    constexpr int kWidestName = 120;  // so that there is room beside it in a narrow window
    const QString beginning = run_->fontMetrics().elidedText(connection, Qt::ElideRight, kWidestName);
    run_->setText(isOnlyAsked ? tr("Continue") : tr("Run it on %1").arg(beginning));
    run_->setToolTip(isOnlyAsked ? tr("Run the next statement") : tr("Run it on %1").arg(connection));
    countRows();
    isOnlyAsked ? run_->setFocus() : name_->setFocus();
}

void HeldPanel::countRows() {
    const std::string query = sheet_.runs().held()->why.countQuery;
    count_->setVisible(!query.empty());
    if (query.empty()) return;
    count_->setText(tr("Counting the rows…"));
    const int asked = ++asked_;
    desk_.catalogs().count(
        fromQt(sheet_.connectionId()), sheet_.database(), work::withValuesOf(query, sheet_.runs().held()->statement),
        whileThere(this, [this, asked](const Result<std::int64_t>& rows) {
            if (asked != asked_) return;
            count_->setText(rows ? tr("%1 now.").arg(toQt(base::counted(*rows, "row matches", "rows match")))
                                 : tr("How many rows match is not known: %1").arg(toQt(rows.error().message)));
        }));
}

void HeldPanel::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) return sheet_.runs().dismiss();
    QFrame::keyPressEvent(event);
}

}  // namespace pantry::app

#include "moc_held_panel.cpp"
