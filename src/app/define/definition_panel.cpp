#include "app/define/definition_panel.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/text.h"
#include "core/db/engine_traits.h"
#include "core/sql/meaning/secrets.h"

namespace pantry::app {

DefinitionPanel::DefinitionPanel(Desk& desk, const QString& connectionId, const std::string& database, QWidget* parent)
    : QFrame(parent),
      desk_(desk),
      connectionId_(connectionId),
      database_(database),
      code_(new CodeText(0, this)),
      message_(makeLabel({}, "small", this)),
      run_verb_(makeButton({}, "main", objectName::kDefinitionRun, tr("Run these statements"), this)),
      sheet_verb_(makeButton(tr("Into a sheet"), "", objectName::kDefinitionSheet,
                             tr("Open these statements in a new sheet"), this)),
      stop_(makeButton(tr("Stop"), "", objectName::kDefinitionStop, tr("Stop what runs"), this)),
      cancel_(makeButton(tr("Cancel"), "", objectName::kDefinitionCancel, tr("Leave it as it is"), this)),
      passwordRow_(makePasswordRow()) {
    name(this, objectName::kDefinitionPanel, tr("The statements of this change"));
    name(code_, objectName::kDefinitionText, tr("Statements that are going to run"));
    name(message_, objectName::kDefinitionMessage, tr("What goes with them"));
    code_->setMinimumHeight(Theme::px(56));
    message_->setWordWrap(true);
    message_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    auto* verbs = new QHBoxLayout;
    verbs->setSpacing(8);
    verbs->addWidget(run_verb_);
    verbs->addWidget(stop_);
    verbs->addWidget(sheet_verb_);
    verbs->addStretch();
    verbs->addWidget(cancel_);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    layout->addWidget(code_, 1);
    layout->addWidget(message_);
    layout->addWidget(passwordRow_);
    layout->addLayout(verbs);
    connect(run_verb_, &QPushButton::clicked, this, [this] { asksFirst_ ? Q_EMIT runRequested() : run(); });
    connect(sheet_verb_, &QPushButton::clicked, this, [this] { Q_EMIT sheetRequested(title_, text()); });
    connect(stop_, &QPushButton::clicked, this, [this] {
        if (!run_) return;
        run_->stop();
        if (passwordRow_->isHidden()) return;
        passwordRow_->hide();
        run_.reset();
        showVerbs();
    });
    connect(cancel_, &QPushButton::clicked, this, &DefinitionPanel::cancelled);
    showVerbs();
}

void DefinitionPanel::wait(const QString& reason) {
    show({}, reason);
    problemLook_ = "small";
    showVerbs();
}

sql::Dialect DefinitionPanel::dialect() const {
    const db::ConnectionProfile* profile = desk_.connections().profile(fromQt(connectionId_));
    return profile != nullptr ? db::dialectOf(profile->engine) : sql::Dialect::Ansi;
}

QString DefinitionPanel::text() const { return toQt(code_->text().str()); }

void DefinitionPanel::show(const sql::DefinitionChange& change, const QString& problem, const QString& warning) {
    if (change != change_ || problem != problem_) told_.clear();
    change_ = change;
    problem_ = problem;
    problemLook_ = "bad";
    warning_ = warning;
    const db::ConnectionProfile* profile = desk_.connections().profile(fromQt(connectionId_));
    if (profile == nullptr) return;
    std::string script;
    for (const sql::DefinitionStep& step : work::stepsToRun(change, profile->engine)) script += step.statement + ";\n";
    const std::string shown = sql::withoutSecrets(script, dialect());
    hasSecret_ = shown != script;
    code_->show(base::SharedText(shown), dialect());
    showVerbs();
}

QWidget* DefinitionPanel::makePasswordRow() {
    auto* row = new QWidget(this);
    passwordLabel_ = makeLabel({}, "", row);
    password_ = new QLineEdit(row);
    name(password_, objectName::kDefinitionPassword, tr("Password"));
    password_->setEchoMode(QLineEdit::Password);
    password_->setPlaceholderText(tr("kept until the program ends"));
    password_->setFixedWidth(230);
    auto* verb = makeButton(tr("Connect"), "main", "definitionConnect", tr("Connect with this password"), row);
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    layout->addWidget(passwordLabel_);
    layout->addWidget(password_);
    layout->addWidget(verb);
    layout->addStretch();
    row->hide();
    connect(password_, &QLineEdit::returnPressed, this, &DefinitionPanel::takePassword);
    connect(verb, &QPushButton::clicked, this, &DefinitionPanel::takePassword);
    return row;
}

void DefinitionPanel::askPassword() {
    const db::ConnectionProfile* profile = desk_.connections().profile(fromQt(connectionId_));
    if (profile == nullptr) return;
    passwordLabel_->setText(profile->user.empty()
                                ? tr("Password for %1").arg(toQt(db::placeOf(*profile)))
                                : tr("Password of %1 for %2").arg(toQt(profile->user), toQt(db::placeOf(*profile))));
    passwordRow_->show();
    password_->setFocus();
}

void DefinitionPanel::takePassword() {
    const std::string password = fromQt(password_->text());
    password_->clear();
    if (password.empty() || !run_) return;
    passwordRow_->hide();
    run_->connectWith(password);
}

void DefinitionPanel::ensureRun() {
    if (run_) return;
    run_ = std::make_unique<work::DefinitionRun>(
        work::DefinitionRun::Needs{.owner = desk_.owner(),
                                   .connections = desk_.connections(),
                                   .catalogs = desk_.catalogs(),
                                   .preferences = desk_.preferences(),
                                   .ledger = desk_.ledger()},
        work::RunPlace{.connection = fromQt(connectionId_), .database = database_}, fromQt(title_),
        work::DefinitionRun::Told{
            .progressed =
                [this](std::size_t done, std::size_t all, const std::string& label) {
                    say(tr("%1 of %2: %3").arg(done + 1).arg(all).arg(toQt(label)), "small");
                },
            .finished = [this](const work::DefinitionRun::Outcome& outcome) { noteFinished(outcome); },
            .passwordWanted = [this] { askPassword(); }});
}

void DefinitionPanel::run() {
    const db::ConnectionProfile* profile = desk_.connections().profile(fromQt(connectionId_));
    if (profile == nullptr || change_.isEmpty() || !problem_.isEmpty() || isRunning()) return;
    ensureRun();
    told_.clear();
    run_->run(change_, profile->name);
    showVerbs();
}

void DefinitionPanel::say(const QString& text, const char* look) {
    message_->setText(text);
    setLook(message_, look);
    message_->setVisible(!text.isEmpty());
}

void DefinitionPanel::tell(const QString& text, const char* look) {
    told_ = text;
    toldLook_ = look;
    say(text, look);
}

/// The button names the connection: pressing it is the confirmation that the guard asks for.
void DefinitionPanel::showVerbs() {
    const db::ConnectionProfile* profile = desk_.connections().profile(fromQt(connectionId_));
    const bool isGoing = isRunning();
    stop_->setVisible(isGoing);
    run_verb_->setVisible(!isGoing);
    if (profile == nullptr || isGoing) return;
    constexpr int kWidestName = 180;
    const QString connection = run_verb_->fontMetrics().elidedText(toQt(profile->name), Qt::ElideRight, kWidestName);
    const auto count = static_cast<std::int64_t>(change_.steps.size());
    if (!verb_.isEmpty()) {
        run_verb_->setText(tr("%1 on %2").arg(verb_, connection));
    } else {
        run_verb_->setText(
            count > 1 ? tr("Run %1 on %2").arg(toQt(base::counted(count, "statement", "statements")), connection)
                      : tr("Run it on %1").arg(connection));
    }
    run_verb_->setToolTip(tr("Run what stands here on %1 (Ctrl+Return)").arg(toQt(profile->name)));
    run_verb_->setEnabled(problem_.isEmpty() && !change_.isEmpty());
    sheet_verb_->setEnabled(!change_.isEmpty() && !hasSecret_);
    sheet_verb_->setToolTip(hasSecret_ ? tr("A password does not go into a sheet, which is kept")
                                       : tr("Open these statements in a new sheet"));
    if (!problem_.isEmpty()) return say(problem_, problemLook_);
    if (change_.isEmpty()) return told_.isEmpty() ? say(tr("Nothing is changed yet."), "small") : say(told_, toldLook_);
    ensureRun();
    const QString held = toQt(run_->whyHeld(change_));
    const bool isDangerous = !held.isEmpty() || change_.isDestructive();
    setLook(run_verb_, isDangerous ? "danger" : "main");
    if (!told_.isEmpty()) return say(told_, toldLook_);
    QStringList parts;
    if (!held.isEmpty()) {
        parts += profile->environment == db::Environment::Live
                     ? tr("%1 is a live connection. %2").arg(toQt(profile->name), held)
                     : held;
    }
    if (!warning_.isEmpty()) parts += warning_;
    say(parts.join(QLatin1Char('\n')), isDangerous ? "bad" : "small");
}

void DefinitionPanel::noteFinished(const work::DefinitionRun::Outcome& outcome) {
    // Who is told may delete this, and with it the run that tells.
    const work::DefinitionRun::Outcome told = outcome;
    if (!told.error) {
        showVerbs();
        Q_EMIT done();
        return;
    }
    showVerbs();
    QString text = toQt(told.error->text());
    if (told.isRolledBack) {
        text += QLatin1Char('\n') + tr("Everything was rolled back; nothing is changed.");
    } else if (told.labels.empty()) {
        text += QLatin1Char('\n') + tr("Nothing is changed.");
    } else {
        QStringList labels;
        for (const std::string& label : told.labels) labels += toQt(label);
        text += QLatin1Char('\n') + tr("Done before it: %1. These hold.").arg(labels.join(QStringLiteral(", ")));
    }
    text += QLatin1Char('\n') +
            tr("It failed at: %1").arg(toQt(base::oneLine(sql::withoutSecrets(told.failed, dialect()), 160)));
    tell(text, "bad");
    Q_EMIT failed(told.place ? static_cast<qint64>(*told.place) : -1);
}

}  // namespace pantry::app

#include "moc_definition_panel.cpp"
