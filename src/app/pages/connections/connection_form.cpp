#include "app/pages/connections/connection_form.h"

#include <QApplication>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QPainter>
#include <QVBoxLayout>
#include <algorithm>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/plain_scroll.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/pages/connections/explained_field.h"
#include "core/base/text.h"
#include "core/db/address.h"
#include "core/db/driver_properties.h"
#include "core/db/engine_traits.h"
#include "core/db/profile_acts.h"
#include "core/db/templates.h"

namespace pantry::app {
namespace {

constexpr int kWidth = 452;

/// A square of a connection's colour to choose.
class ColourButton : public QAbstractButton {
public:
    ColourButton(const char* colour, QWidget* parent) : QAbstractButton(parent), colour_(colour) {
        setCheckable(true);
        setFixedSize(26, 26);
        setFocusPolicy(Qt::StrongFocus);
        name(this, colour, QObject::tr("Colour %1").arg(QLatin1String(colour)));
        setToolTip(QLatin1String(colour));
    }

protected:
    void paintEvent(QPaintEvent*) override {
        const Theme& theme = Theme::current();
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme.connectionColour(colour_));
        painter.drawRoundedRect(QRectF(4, 4, 18, 18), 4, 4);
        if (!isChecked() && !hasFocus()) return;
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(theme.colour(isChecked() ? "ink" : "juniper"), 1.8));
        painter.drawRoundedRect(QRectF(1.2, 1.2, 23.6, 23.6), 6, 6);
    }

private:
    const char* colour_;
};

/// A widget that only holds others and lets the card show through.
QWidget* plainBox() {
    auto* box = new QWidget;
    box->setObjectName(QStringLiteral("plainBox"));
    return box;
}

}  // namespace

ConnectionForm::ConnectionForm(Desk& desk, QWidget* parent)
    : QFrame(parent),
      desk_(desk),
      edit_(desk.connections()),
      body_(new QWidget),
      heading_(makeLabel({}, "bigHeading")),
      state_(makeLabel({}, "small")),
      arrived_(makeFrame("card")),
      acts_(makeLabel({}, "")),
      address_(new QLineEdit),
      nameField_(new QLineEdit),
      group_(new QComboBox),
      template_(new TemplateChoice(desk)),
      engine_(new QComboBox),
      fileFields_(plainBox()),
      file_(new QLineEdit),
      server_([this] { return makeServer(); }, [this](ServerFields& fields) { fields.show(profile_, keptPassword()); }),
      guard_(new QComboBox),
      environment_(new QButtonGroup(this)),
      colour_(new QButtonGroup(this)),
      onConnect_(new QPlainTextEdit),
      readOnly_(new QCheckBox(tr("Read-only"))),
      note_(new QLineEdit),
      properties_(new PropertyFields),
      footer_(plainBox()),
      stagesBox_(makeFrame("card")),
      stages_(new QVBoxLayout(stagesBox_)),
      advice_(makeLabel({}, "small")),
      explanation_(makeLabel({}, "small")) {
    setProperty("look", "side");
    name(this, objectName::kConnectionForm, tr("Form of the connection"));
    Theme::fit(this, [this] { setFixedWidth(usualWidth()); });
    body_->setObjectName(QStringLiteral("formBody"));
    auto* scroll = new PlainScroll(body_, this);
    auto* layout = new QVBoxLayout(body_);
    layout->setContentsMargins(22, 14, 22, 16);
    layout->setSpacing(9);
    auto* top = new QHBoxLayout;
    top->addWidget(heading_);
    top->addStretch();
    top->addWidget(state_);
    layout->addLayout(top);
    auto* arrived = new QVBoxLayout(arrived_);
    arrived->setContentsMargins(10, 8, 10, 8);
    arrived->setSpacing(3);
    arrived->addWidget(makeLabel(tr("Imported from a file. Once saved, this connection"), "strong"));
    arrived->addWidget(acts_);
    acts_->setWordWrap(true);
    acts_->setTextFormat(Qt::PlainText);
    name(arrived_, objectName::kFormArrived, tr("What this connection does"));
    name(acts_, objectName::kFormActs, tr("What this connection does"));
    layout->addWidget(arrived_);
    layout->addWidget(makeFields());
    layout->addWidget(makeChoices());
    layout->addStretch();
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(1, 0, 0, 0);  // the line at its left
    outer->addWidget(scroll, 1);
    outer->addWidget(makeFooter());
    connect(&desk_, &Desk::profilesChanged, this, &ConnectionForm::takeFromElsewhere);
    connect(qApp, &QApplication::focusChanged, this, [this](QWidget*, QWidget* now) { explain(now); });
    showNothing();
}

int ConnectionForm::usualWidth() { return Theme::px(kWidth); }

void ConnectionForm::explain(const QWidget* focus) {
    const ExplainedField* field = focus != nullptr && isAncestorOf(focus) ? ExplainedField::around(focus) : nullptr;
    explanation_->setText(field != nullptr ? field->explanation() : QString());
}

/// What is always in sight: how the test went, what to do, and the buttons.
QWidget* ConnectionForm::makeFooter() {
    auto* layout = new QVBoxLayout(footer_);
    layout->setContentsMargins(22, 6, 22, 12);
    layout->setSpacing(7);
    stages_->setContentsMargins(10, 7, 10, 7);
    stages_->setSpacing(3);
    explanation_->setWordWrap(true);
    explanation_->setMinimumHeight(explanation_->fontMetrics().lineSpacing() * 2);  // so that nothing jumps
    explanation_->setAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    name(explanation_, objectName::kFormExplanation, tr("What this field means"));
    layout->addWidget(makeFrame("rule"));
    layout->addWidget(explanation_);
    layout->addWidget(stagesBox_);
    advice_->setWordWrap(true);
    name(advice_, objectName::kFormAdvice, tr("What to do"));
    layout->addWidget(advice_);
    layout->addWidget(makeButtons());
    return footer_;
}

QWidget* ConnectionForm::makeFields() {
    fields_ = plainBox();
    dressFields();
    auto* layout = new QVBoxLayout(fields_);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(9);
    layout->addWidget(new ExplainedField(tr("Paste an address to fill the form"),
                                         tr("A URI, or pairs such as host=… dbname=…; a password in it is not kept."),
                                         address_));
    auto* names = new QHBoxLayout;
    names->addWidget(new ExplainedField(tr("Name (your own)"), tr("What it is called everywhere here."), nameField_), 1,
                     Qt::AlignTop);
    names->addWidget(new ExplainedField(tr("Group"), tr("The heading that it stands under."), group_), 1, Qt::AlignTop);
    layout->addLayout(names);
    group_->setEditable(true);  // after it has its place, since it is dressed for it
    layout->addWidget(template_);
    layout->addWidget(
        new ExplainedField(tr("Engine"), tr("Which kind of database it is; it decides on the dialect."), engine_));
    makeFileFields();
    layout->addWidget(fileFields_);
    connectFields();
    return fields_;
}

void ConnectionForm::dressFields() {
    name(address_, objectName::kFormAddress, tr("Paste an address to fill the form"));
    name(nameField_, objectName::kFormName, tr("Name, your own"));
    name(group_, objectName::kFormGroup, tr("Group"));
    name(file_, objectName::kFormFile, tr("Database file"));
    name(onConnect_, objectName::kFormOnConnect, tr("Statements to run on connecting"));
    name(readOnly_, objectName::kFormReadOnly, tr("Read-only"));
    name(state_, objectName::kFormState, tr("State of the form"));
    name(note_, objectName::kFormNote, tr("Note"));
    address_->setProperty("look", "code");
    address_->setPlaceholderText(QStringLiteral("postgresql://inspector@trial-db/orchard"));
    name(engine_, objectName::kFormEngine, tr("Engine"));
    for (const db::Engine engine : db::availableEngines()) {
        engine_->addItem(toQt(db::engineName(engine)), static_cast<int>(engine));
    }
    name(guard_, objectName::kFormGuard, tr("What is held back until it is confirmed"));
    guard_->addItem(tr("as the environment says"), QString());
    guard_->addItem(tr("every change"), QStringLiteral("changes"));
    guard_->addItem(tr("only the reckless"), QStringLiteral("reckless"));
    guard_->addItem(tr("nothing"), QStringLiteral("off"));
    file_->setProperty("look", "code");
    file_->setPlaceholderText(QStringLiteral("/srv/kitchen.db"));
    onConnect_->setProperty("look", "code");
    Theme::fit(this, [this] { onConnect_->setFixedHeight(Theme::px(54)); });
    onConnect_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    onConnect_->setTabChangesFocus(true);
    onConnect_->setPlaceholderText(QStringLiteral("PRAGMA foreign_keys = ON;"));
    note_->setPlaceholderText(tr("What should others know before using it?"));
}

void ConnectionForm::makeFileFields() {
    auto* choose = makeButton(tr("Choose…"), "", objectName::kFormChooseFile, tr("Choose the database file"));
    connect(choose, &QPushButton::clicked, this, &ConnectionForm::chooseFile);
    auto* fileRow = plainBox();
    auto* fileLayout = new QHBoxLayout(fileRow);
    fileLayout->setContentsMargins(0, 0, 0, 0);
    fileLayout->addWidget(file_, 1);
    fileLayout->addWidget(choose);
    auto* fileBox = new QVBoxLayout(fileFields_);
    fileBox->setContentsMargins(0, 0, 0, 0);
    fileBox->addWidget(new ExplainedField(
        tr("Database file"), tr("Where it is on this machine; :memory: is one that vanishes again."), file_, fileRow));
}

void ConnectionForm::connectFields() {
    connect(properties_, &PropertyFields::changed, this, &ConnectionForm::refreshChanged);
    connect(template_, &TemplateChoice::taken, this, &ConnectionForm::takeTemplate);
    connect(engine_, &QComboBox::currentIndexChanged, this, &ConnectionForm::showEngine);
    connect(guard_, &QComboBox::currentIndexChanged, this, &ConnectionForm::refreshChanged);
    connect(address_, &QLineEdit::textEdited, this, qOverload<>(&ConnectionForm::takeAddress));
    for (QLineEdit* edit : {nameField_, file_, note_})
        connect(edit, &QLineEdit::textChanged, this, &ConnectionForm::refreshChanged);
    for (QLineEdit* edit : {address_, nameField_, file_, note_}) {
        connect(edit, &QLineEdit::returnPressed, this,
                [this] { (saveOpen_->isHidden() ? saveOnly_ : saveOpen_)->click(); });
    }
    connect(group_, &QComboBox::currentTextChanged, this, &ConnectionForm::refreshChanged);
    connect(onConnect_, &QPlainTextEdit::textChanged, this, &ConnectionForm::refreshChanged);
    connect(readOnly_, &QCheckBox::toggled, this, &ConnectionForm::refreshChanged);
}

ServerFields* ConnectionForm::makeServer() {
    auto* server = new ServerFields(fields_);
    auto* layout = static_cast<QVBoxLayout*>(fields_->layout());
    layout->insertWidget(layout->indexOf(fileFields_) + 1, server);
    putBehindInTabOrder(fileFields_, server);
    connect(server, &ServerFields::changed, this, &ConnectionForm::refreshChanged);
    connect(server, &ServerFields::databasesWanted, this, &ConnectionForm::offerDatabases);
    return server;
}

QWidget* ConnectionForm::makeChoices() {
    auto* box = plainBox();
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(9);
    auto* environments = plainBox();
    auto* environmentRow = new QHBoxLayout(environments);
    environmentRow->setContentsMargins(0, 0, 0, 0);
    environmentRow->setSpacing(0);
    const QString labels[] = {tr("Local"), tr("Trial"), tr("Live")};
    const char* names[] = {"formLocal", "formTrial", "formLive"};
    for (int i = 0; i < 3; ++i) {
        auto* button =
            makeButton(labels[i], i < 2 ? "segment" : "segmentLast", names[i], tr("Environment %1").arg(labels[i]));
        button->setCheckable(true);
        environment_->addButton(button, i);
        environmentRow->addWidget(button, 1);
    }
    auto* colours = plainBox();
    auto* colourRow = new QHBoxLayout(colours);
    colourRow->setContentsMargins(0, 0, 0, 0);
    colourRow->setSpacing(2);
    for (std::size_t i = 0; i < connectionColours().size(); ++i) {
        auto* button = new ColourButton(connectionColours()[i], colours);
        colour_->addButton(button, static_cast<int>(i));
        colourRow->addWidget(button);
    }
    colourRow->addStretch();
    auto* row = new QHBoxLayout;
    row->setSpacing(14);
    row->addWidget(new ExplainedField(tr("Environment"), tr("Live ones hold back every change until it is confirmed."),
                                      environment_->button(0), environments),
                   1, Qt::AlignTop);
    row->addWidget(new ExplainedField(tr("Colour"), tr("Of its band, tab and card."), colour_->button(0), colours), 1,
                   Qt::AlignTop);
    layout->addLayout(row);
    layout->addWidget(new ExplainedField(tr("Note"), tr("Your own words about it; they show on its card."), note_));
    layout->addWidget(new ExplainedField(
        tr("Run on connect"), tr("Statements that every new connection begins with, separated by semicolons."),
        onConnect_));
    layout->addWidget(new ExplainedField(tr("Held back"), tr("Which statements wait for a confirmation."), guard_));
    layout->addWidget(readOnly_);
    readOnly_->setToolTip(tr("The server itself refuses changes, where it can."));
    layout->addWidget(properties_);
    connect(environment_, &QButtonGroup::idToggled, this, &ConnectionForm::refreshChanged);
    connect(environment_, &QButtonGroup::idClicked, this, &ConnectionForm::followEnvironment);
    connect(colour_, &QButtonGroup::idToggled, this, &ConnectionForm::refreshChanged);
    return box;
}

QWidget* ConnectionForm::makeButtons() {
    auto* box = plainBox();
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 2, 0, 0);
    saveOpen_ = makeButton(tr("Save and open"), "main", objectName::kFormSaveOpen, tr("Save, and open a sheet on it"));
    saveOnly_ = makeButton(tr("Save"), "", objectName::kFormSave, tr("Save the connection"));
    auto* testButton = makeButton(tr("Test"), "", objectName::kFormTest, tr("Try the connection stage by stage"));
    duplicate_ = makeButton(tr("Duplicate"), "plain", objectName::kFormDuplicate, tr("Make another one like this"));
    remove_ =
        makeButton(tr("Remove"), "plain", objectName::kFormRemove, tr("Remove the connection; the database stays"));
    row->addWidget(saveOpen_);
    row->addWidget(saveOnly_);
    row->addWidget(testButton);
    row->addStretch();
    row->addWidget(duplicate_);
    row->addWidget(remove_);
    connect(saveOpen_, &QPushButton::clicked, this, [this] {
        if (save()) Q_EMIT openRequested(toQt(profile_.id));
    });
    connect(saveOnly_, &QPushButton::clicked, this, &ConnectionForm::save);
    connect(testButton, &QPushButton::clicked, this, &ConnectionForm::test);
    connect(duplicate_, &QPushButton::clicked, this, [this] { Q_EMIT duplicateRequested(toQt(profile_.id)); });
    connect(remove_, &QPushButton::clicked, this, &ConnectionForm::askRemove);
    return box;
}

QString ConnectionForm::keptPassword() const { return toQt(desk_.connections().passwordOf(profile_.id).value_or("")); }

std::string ConnectionForm::enteredPassword() const {
    return server_.made() != nullptr ? fromQt(server_.made()->password()) : std::string();
}

/// Before another connection takes the form.
void ConnectionForm::keepDraft() {
    if (edit_.hasBegun()) edit_.keepDraft({edited(), enteredPassword()});
}

bool ConnectionForm::hasDraft(const QString& id) const {
    const bool isShown = edit_.hasBegun() && fromQt(id) == edit_.stored().id && !edit_.isNew();
    return isShown ? edit_.isEdited(edited()) : edit_.hasDraft(fromQt(id));
}

void ConnectionForm::showDraft(const work::ConnectionDraft& draft) {
    profile_ = draft.profile;
    showProfile();
    if (!db::isFile(profile_.engine)) server_->show(profile_, toQt(draft.password));
    refreshChanged();
}

bool ConnectionForm::resumeNew() {
    keepDraft();
    const auto draft = edit_.takeNewDraft();
    if (!draft) return false;
    edit_.end();
    db::ConnectionProfile empty;
    empty.id = draft->profile.id;
    show(empty, true);
    showDraft(*draft);
    return true;
}

void ConnectionForm::showNothing() {
    keepDraft();
    body_->setVisible(false);
    footer_->setVisible(false);
    edit_.end();
    profile_ = {};
}

void ConnectionForm::show(const db::ConnectionProfile& profile, bool isNew) {
    keepDraft();
    edit_.begin(profile, isNew);
    profile_ = profile;
    isAsking_ = false;
    const QString kind = profile.isTemplate ? tr("New template") : tr("New connection");
    heading_->setText(isNew ? kind : toQt(profile.name));
    saveOpen_->setVisible(!profile.isTemplate);
    template_->show(profile_);
    showProfile();
    body_->setVisible(true);  // with the fields of its engine only
    footer_->setVisible(true);
    edit_.noteInherited(edited().inherited);
    remove_->setText(tr("Remove"));
    setLook(remove_, "plain");
    remove_->setVisible(!isNew);
    duplicate_->setVisible(!isNew);
    stagesBox_->hide();
    advice_->clear();
    refreshChanged();
    if (const work::ConnectionDraft* draft = edit_.draft()) showDraft(*draft);
}

/// Puts what profile_ says into the fields.
void ConnectionForm::showProfile() {
    const db::ConnectionProfile& profile = profile_;
    isFilling_ = true;
    const bool isEmpty = profile.database.empty() && profile.host.empty();
    address_->setText(isEmpty ? QString() : toQt(db::addressOf(profile)));
    engine_->setCurrentIndex(std::max(0, engine_->findData(static_cast<int>(profile.engine))));
    if (!db::isFile(profile.engine) || server_.made() != nullptr) server_->show(profile, keptPassword());
    const auto guard = profile.options.find("guard");
    guard_->setCurrentIndex(guard == profile.options.end() ? 0 : std::max(0, guard_->findData(toQt(guard->second))));
    showProperties(profile);
    showEngine();
    nameField_->setText(toQt(profile.name));
    {
        const QSignalBlocker blocker(group_);
        group_->clear();
        for (const auto& g : desk_.connections().list().groups) group_->addItem(toQt(g.name));
        group_->setCurrentText(toQt(profile.group));
    }
    file_->setText(toQt(work::databaseFor(profile, true)));
    environment_->button(static_cast<int>(profile.environment))->setChecked(true);
    for (std::size_t i = 0; i < connectionColours().size(); ++i) {
        if (profile.colour == connectionColours()[i]) colour_->button(static_cast<int>(i))->setChecked(true);
    }
    onConnect_->setPlainText(toQt(profile.onConnect));
    readOnly_->setChecked(profile.isReadOnly);
    note_->setText(toQt(profile.note));
    isFilling_ = false;
    refreshChanged();
}

void ConnectionForm::showProperties(const db::ConnectionProfile& profile) {
    properties_->show(profile, [&](std::string_view property) {
        return desk_.connections().passwordOf(db::secretOf(profile, property).id);
    });
}

/// A colour that nobody chose follows the environment.
void ConnectionForm::followEnvironment(int environment) {
    const auto& colours = connectionColours();
    const auto colour =
        std::ranges::find(colours, work::colourWith(static_cast<db::Environment>(environment), edited().colour));
    if (colour != colours.end()) colour_->button(static_cast<int>(colour - colours.begin()))->setChecked(true);
}

void ConnectionForm::takeTemplate() {
    profile_ = edited();
    profile_.templateId.clear();
    if (const db::ConnectionProfile* base = template_->chosen()) db::baseOn(*base, profile_);
    showProfile();
    refreshChanged();
}

void ConnectionForm::focusFirst() { address_->setFocus(); }

db::ConnectionProfile ConnectionForm::edited() const {
    db::ConnectionProfile p = profile_;
    p.name = fromQt(nameField_->text().trimmed());
    p.group = fromQt(group_->currentText().trimmed());
    p.engine = chosenEngine();
    if (db::isFile(p.engine)) {
        p.database = fromQt(file_->text().trimmed());
    } else if (const ServerFields* server = server_.made()) {
        server->applyTo(p);
    }
    const std::string guard = fromQt(guard_->currentData().toString());
    p.options.erase("guard");
    if (!guard.empty()) p.options["guard"] = guard;
    p.environment = static_cast<db::Environment>(std::max(0, environment_->checkedId()));
    p.colour = connectionColours()[static_cast<std::size_t>(std::max(0, colour_->checkedId()))];
    p.onConnect = fromQt(onConnect_->toPlainText());
    p.isReadOnly = readOnly_->isChecked();
    p.note = fromQt(note_->text().trimmed());
    properties_->applyTo(p);
    const db::ConnectionProfile* base = template_->chosen();
    p.templateId = base != nullptr ? base->id : std::string();
    p.inherited = base != nullptr ? db::fieldsLikeIn(*base, p) : std::set<std::string>();
    return p;
}

db::Engine ConnectionForm::chosenEngine() const { return static_cast<db::Engine>(engine_->currentData().toInt()); }

void ConnectionForm::showEngine() {
    const bool isFile = db::isFile(chosenEngine());
    fileFields_->setVisible(isFile);
    if (!isFile) server_->setEngine(chosenEngine());
    if (ServerFields* server = server_.made()) server->setVisible(!isFile);
    onConnect_->setPlaceholderText(toQt(db::traitsOf(chosenEngine()).onConnectExample));
    if (chosenEngine() != profile_.engine) {
        db::ConnectionProfile other = profile_;
        other.engine = chosenEngine();
        showProperties(other);
    }
    refreshChanged();
}

/// What another window or the command line has saved meanwhile stands in the form, but for fields that were edited
/// here.
void ConnectionForm::takeFromElsewhere() {
    if (!edit_.hasBegun()) return;
    const auto elsewhere = edit_.takeFromElsewhere(edited());
    if (!elsewhere) return;
    if (elsewhere->wasRemoved) {
        refreshChanged();
        return advice_->setText(tr("It was removed meanwhile, elsewhere. Saving makes it anew."));
    }
    const QString typed = toQt(enteredPassword());
    profile_ = elsewhere->shown;
    showProfile();
    if (!db::isFile(profile_.engine)) server_->show(profile_, typed);
    heading_->setText(toQt(edit_.stored().name));
    refreshChanged();
    if (elsewhere->conflicts.empty()) return;
    QStringList fields;
    for (const std::string& field : elsewhere->conflicts) fields += toQt(field);
    advice_->setText(tr("Changed meanwhile, elsewhere: %1. Saving keeps what stands here.").arg(fields.join(tr(", "))));
}

void ConnectionForm::showActs() {
    arrived_->setVisible(profile_.isUnseen);
    if (!profile_.isUnseen) return;
    QStringList lines;
    for (const std::string& act : db::actsOf(edited())) lines += QStringLiteral("· ") + toQt(act);
    acts_->setText(lines.join(QLatin1Char('\n')));
}

void ConnectionForm::refreshChanged() {
    if (!body_->isVisibleTo(this) || isFilling_) return;
    showActs();
    state_->setText(edit_.isNew()              ? tr("not saved yet")
                    : edit_.stored().isUnseen  ? tr("imported, not saved yet")
                    : edit_.isEdited(edited()) ? tr("unsaved changes")
                                               : QString());
    setLook(state_, "small");
    template_->showInherited(edited().inherited);
}

void ConnectionForm::takeAddress() {
    const auto address = work::takeAddress(fromQt(address_->text()));
    if (!address) return advice_->setText(address_->text().isEmpty() ? QString() : toQt(address.error()));
    profile_.options = address->profile.options;
    showProperties(address->profile);
    engine_->setCurrentIndex(engine_->findData(static_cast<int>(address->profile.engine)));
    if (db::isFile(address->profile.engine)) {
        file_->setText(toQt(address->profile.database));
    } else {
        // A password that stood in the address has its own field, and stays there while the rest is typed.
        const QString password = address->password ? toQt(*address->password) : toQt(enteredPassword());
        server_->show(address->profile, password);
        // The address is shown again without its secret, which is in a field of its own now.
        if (address->password) address_->setText(toQt(db::addressOf(address->profile)));
    }
    QString advice = address->password ? tr("The password is kept only until the program ends.") : QString();
    if (!address->unused.empty()) {
        QStringList names;
        for (const std::string& name : address->unused) names += toQt(name);
        advice += (advice.isEmpty() ? QString() : QStringLiteral(" ")) +
                  tr("Not used here: %1.").arg(names.join(QStringLiteral(", ")));
    }
    advice_->setText(advice);
    if (!nameField_->text().isEmpty() && nameField_->text() != suggestedName_) return;
    suggestedName_ = toQt(address->name);
    nameField_->setText(suggestedName_);
}

void ConnectionForm::takeAddress(const QString& address) {
    address_->setText(address);
    takeAddress();
}

/// Asks the server for its databases, with what is entered so far.
void ConnectionForm::offerDatabases() {
    const std::string password = enteredPassword();
    setLook(advice_, "small");
    advice_->setText(tr("Asking what is there…"));
    desk_.connections().listPlaces(edited(), password.empty() ? std::nullopt : std::optional(password),
                                   whileThere(this, [this](const Result<std::vector<std::string>>& names) {
                                       advice_->setText(names ? QString() : toQt(names.error()));
                                       if (names) server_->offerDatabases(*names);
                                   }));
}

void ConnectionForm::chooseFile() {
    auto* dialog = new QFileDialog(this, tr("Database file"), file_->text());
    dialog->setFileMode(QFileDialog::ExistingFile);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &QFileDialog::fileSelected, this, [this](const QString& path) {
        file_->setText(path);
        if (nameField_->text().isEmpty())
            nameField_->setText(path.section(QLatin1Char('/'), -1).section(QLatin1Char('.'), 0, 0));
    });
    dialog->open();
}

bool ConnectionForm::save() {
    const auto tell = [this](const Status& status) {
        if (!status) advice_->setText(tr("Not in the keyring: %1").arg(toQt(status.error())));
    };
    const Status saved = edit_.save(edited(), enteredPassword(), properties_->secrets(), whileThere(this, tell));
    if (!saved) {
        setLook(state_, "bad");
        state_->setText(tr("not saved"));
        advice_->setText(toQt(saved.error()));
        return false;
    }
    profile_ = edit_.stored();
    show(db::ConnectionProfile(profile_), false);
    state_->setText(tr("saved"));
    Q_EMIT this->saved(toQt(profile_.id));
    return true;
}

void ConnectionForm::test() {
    clearLayout(stages_);
    stages_->addWidget(makeLabel(tr("Trying…"), "quiet"));
    stagesBox_->show();
    advice_->clear();
    edit_.test(edited(), enteredPassword(), properties_->secrets(),
               whileThere(this, [this](const std::vector<db::TestStage>& stages) { showStages(stages); }));
}

void ConnectionForm::showStages(const std::vector<db::TestStage>& stages) {
    clearLayout(stages_);
    for (const db::TestStage& stage : stages) {
        auto* row = new QHBoxLayout;
        auto* sign = makeLabel(stage.error       ? QStringLiteral("✗")
                               : stage.isWarning ? QStringLiteral("!")
                                                 : QStringLiteral("✓"),
                               stage.error || stage.isWarning ? "bad" : "good");
        sign->setFixedWidth(16);
        row->addWidget(sign);
        auto* label = makeLabel(stage.error ? toQt(stage.error->message) : toQt(stage.name),
                                stage.error || stage.isWarning ? "bad" : "");
        label->setWordWrap(true);
        row->addWidget(label, 1);
        if (!stage.error) row->addWidget(makeLabel(toQt(base::readable(stage.duration)), "small"));
        stages_->addLayout(row);
        if (stage.error) advice_->setText(toQt(stage.error->hint));
    }
    if (stages.empty() || stages.back().error) return;
    const bool isOpen = std::ranges::any_of(stages, &db::TestStage::isWarning);
    advice_->setText(isOpen ? tr("It works, and everybody on the way can read what goes over the network.")
                            : tr("All is well. Save and open puts you into a sheet on it."));
}

/// One question, at the button itself.
void ConnectionForm::askRemove() {
    if (!isAsking_) {
        isAsking_ = true;
        remove_->setText(tr("Really remove?"));
        advice_->setText(tr("The saved connection goes; the database, the sheets and the ledger stay."));
        return;
    }
    edit_.remove();
    showNothing();
    Q_EMIT removed();
}

}  // namespace pantry::app

#include "moc_connection_form.cpp"
