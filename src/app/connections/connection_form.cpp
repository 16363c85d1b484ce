#include "app/connections/connection_form.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QPainter>
#include <QScrollArea>
#include <QVBoxLayout>
#include <set>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/base/widgets.h"
#include "app/theme/theme.h"
#include "core/base/text.h"
#include "core/db/address.h"
#include "core/db/driver.h"

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

QVBoxLayout* field(const QString& label, QWidget* widget) {
    auto* layout = new QVBoxLayout;
    layout->setSpacing(3);
    auto* text = makeLabel(label, "field");
    text->setBuddy(widget);
    layout->addWidget(text);
    layout->addWidget(widget);
    return layout;
}

}  // namespace

ConnectionForm::ConnectionForm(Desk& desk, QWidget* parent)
    : QFrame(parent),
      desk_(desk),
      body_(new QWidget),
      heading_(makeLabel({}, "bigHeading")),
      state_(makeLabel({}, "small")),
      address_(new QLineEdit),
      nameField_(new QLineEdit),
      group_(new QComboBox),
      engine_(new QComboBox),
      fileFields_(plainBox()),
      file_(new QLineEdit),
      server_(new ServerFields),
      guard_(new QComboBox),
      environment_(new QButtonGroup(this)),
      colour_(new QButtonGroup(this)),
      onConnect_(new QPlainTextEdit),
      readOnly_(new QCheckBox(tr("Open for reading only"))),
      stagesBox_(makeFrame("card")),
      stages_(new QVBoxLayout(stagesBox_)),
      advice_(makeLabel({}, "small")) {
    setProperty("look", "side");
    name(this, objectName::kConnectionForm, tr("Form of the connection"));
    setFixedWidth(kWidth);
    body_->setObjectName(QStringLiteral("formBody"));
    auto* layout = new QVBoxLayout(body_);
    layout->setContentsMargins(22, 14, 22, 16);
    layout->setSpacing(9);
    auto* top = new QHBoxLayout;
    top->addWidget(heading_);
    top->addStretch();
    top->addWidget(state_);
    layout->addLayout(top);
    layout->addWidget(makeFields());
    layout->addWidget(makeChoices());
    stages_->setContentsMargins(10, 7, 10, 7);
    stages_->setSpacing(3);
    layout->addWidget(stagesBox_);
    advice_->setWordWrap(true);
    layout->addWidget(advice_);
    layout->addWidget(makeButtons());
    layout->addStretch();
    auto* scroll = new QScrollArea(this);
    scroll->setWidget(body_);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(scroll);
    showNothing();
}

QWidget* ConnectionForm::makeFields() {
    auto* box = plainBox();
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(9);
    name(address_, objectName::kFormAddress, tr("Paste an address to fill the form"));
    name(nameField_, objectName::kFormName, tr("Name, your own"));
    name(group_, objectName::kFormGroup, tr("Group"));
    name(file_, objectName::kFormFile, tr("Database file"));
    name(onConnect_, objectName::kFormOnConnect, tr("Statements to run on connecting"));
    name(readOnly_, objectName::kFormReadOnly, tr("Open for reading only"));
    name(state_, objectName::kFormState, tr("State of the form"));
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
    onConnect_->setFixedHeight(54);
    onConnect_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    onConnect_->setTabChangesFocus(true);
    onConnect_->setPlaceholderText(QStringLiteral("PRAGMA foreign_keys = ON;"));
    group_->setEditable(true);
    layout->addLayout(field(tr("Paste an address to fill the form"), address_));
    auto* names = new QHBoxLayout;
    names->addLayout(field(tr("Name (your own)"), nameField_), 1);
    names->addLayout(field(tr("Group"), group_), 1);
    layout->addLayout(names);
    layout->addLayout(field(tr("Engine"), engine_));
    auto* choose = makeButton(tr("Choose…"), "", objectName::kFormChooseFile, tr("Choose the database file"));
    auto* fileRow = plainBox();
    auto* fileLayout = new QHBoxLayout(fileRow);
    fileLayout->setContentsMargins(0, 0, 0, 0);
    fileLayout->addWidget(file_, 1);
    fileLayout->addWidget(choose);
    auto* fileBox = field(tr("Database file"), fileRow);
    fileBox->setContentsMargins(0, 0, 0, 0);
    fileFields_->setLayout(fileBox);
    layout->addWidget(fileFields_);
    layout->addWidget(server_);
    connect(engine_, &QComboBox::currentIndexChanged, this, &ConnectionForm::showEngine);
    connect(server_, &ServerFields::changed, this, &ConnectionForm::refreshChanged);
    connect(guard_, &QComboBox::currentIndexChanged, this, &ConnectionForm::refreshChanged);
    connect(address_, &QLineEdit::textEdited, this, &ConnectionForm::takeAddress);
    connect(choose, &QPushButton::clicked, this, &ConnectionForm::chooseFile);
    for (QLineEdit* edit : {nameField_, file_})
        connect(edit, &QLineEdit::textChanged, this, &ConnectionForm::refreshChanged);
    connect(group_, &QComboBox::currentTextChanged, this, &ConnectionForm::refreshChanged);
    connect(onConnect_, &QPlainTextEdit::textChanged, this, &ConnectionForm::refreshChanged);
    connect(readOnly_, &QCheckBox::toggled, this, &ConnectionForm::refreshChanged);
    return box;
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
    const QString words[] = {tr("Local"), tr("Trial"), tr("Live")};
    const char* names[] = {"formLocal", "formTrial", "formLive"};
    for (int i = 0; i < 3; ++i) {
        auto* button =
            makeButton(words[i], i < 2 ? "segment" : "segmentLast", names[i], tr("Environment %1").arg(words[i]));
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
    row->addLayout(field(tr("Environment"), environments), 1);
    row->addLayout(field(tr("Colour"), colours), 1);
    layout->addLayout(row);
    layout->addLayout(field(tr("On connecting, run"), onConnect_));
    layout->addLayout(field(tr("Held back"), guard_));
    layout->addWidget(readOnly_);
    connect(environment_, &QButtonGroup::idToggled, this, &ConnectionForm::refreshChanged);
    connect(colour_, &QButtonGroup::idToggled, this, &ConnectionForm::refreshChanged);
    return box;
}

QWidget* ConnectionForm::makeButtons() {
    auto* box = plainBox();
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 2, 0, 0);
    auto* saveOpen =
        makeButton(tr("Save and open"), "main", objectName::kFormSaveOpen, tr("Save, and open a sheet on it"));
    auto* saveOnly = makeButton(tr("Save"), "", objectName::kFormSave, tr("Save the connection"));
    auto* testButton = makeButton(tr("Test"), "", objectName::kFormTest, tr("Try the connection stage by stage"));
    duplicate_ = makeButton(tr("Duplicate"), "plain", objectName::kFormDuplicate, tr("Make another one like this"));
    remove_ =
        makeButton(tr("Remove"), "plain", objectName::kFormRemove, tr("Remove the connection; the database stays"));
    row->addWidget(saveOpen);
    row->addWidget(saveOnly);
    row->addWidget(testButton);
    row->addStretch();
    row->addWidget(duplicate_);
    row->addWidget(remove_);
    connect(saveOpen, &QPushButton::clicked, this, [this] {
        if (save()) Q_EMIT openRequested(toQt(profile_.id));
    });
    connect(saveOnly, &QPushButton::clicked, this, &ConnectionForm::save);
    connect(testButton, &QPushButton::clicked, this, &ConnectionForm::test);
    connect(duplicate_, &QPushButton::clicked, this, [this] { Q_EMIT duplicateRequested(toQt(profile_.id)); });
    connect(remove_, &QPushButton::clicked, this, &ConnectionForm::askRemove);
    return box;
}

void ConnectionForm::showNothing() {
    body_->setVisible(false);
    profile_ = {};
}

void ConnectionForm::show(const db::ConnectionProfile& profile, bool isNew) {
    profile_ = profile;
    isNew_ = isNew;
    isAsking_ = false;
    body_->setVisible(true);
    heading_->setText(isNew ? tr("New connection") : toQt(profile.name));
    address_->setText(profile.database.empty() && profile.host.empty() ? QString() : toQt(db::addressOf(profile)));
    engine_->setCurrentIndex(std::max(0, engine_->findData(static_cast<int>(profile.engine))));
    server_->show(profile, toQt(desk_.passwordOf(toQt(profile.id)).value_or("")));
    const auto guard = profile.options.find("guard");
    guard_->setCurrentIndex(guard == profile.options.end() ? 0 : std::max(0, guard_->findData(toQt(guard->second))));
    showEngine();
    nameField_->setText(toQt(profile.name));
    std::set<std::string> groups;
    for (const auto& p : desk_.profiles()) groups.insert(p.group);
    {
        const QSignalBlocker blocker(group_);
        group_->clear();
        for (const auto& g : groups) group_->addItem(toQt(g));
        group_->setCurrentText(toQt(profile.group));
    }
    file_->setText(toQt(profile.database));
    environment_->button(static_cast<int>(profile.environment))->setChecked(true);
    for (std::size_t i = 0; i < connectionColours().size(); ++i) {
        if (profile.colour == connectionColours()[i]) colour_->button(static_cast<int>(i))->setChecked(true);
    }
    onConnect_->setPlainText(toQt(profile.onConnect));
    readOnly_->setChecked(profile.isReadOnly);
    remove_->setText(tr("Remove"));
    setLook(remove_, "plain");
    remove_->setVisible(!isNew);
    duplicate_->setVisible(!isNew);
    stagesBox_->hide();
    advice_->clear();
    refreshChanged();
}

void ConnectionForm::focusFirst() { address_->setFocus(); }

db::ConnectionProfile ConnectionForm::edited() const {
    db::ConnectionProfile p = profile_;
    p.name = fromQt(nameField_->text().trimmed());
    p.group = fromQt(group_->currentText().trimmed());
    p.engine = chosenEngine();
    if (p.engine == db::Engine::Sqlite) {
        p.database = fromQt(file_->text().trimmed());
    } else {
        server_->applyTo(p);
    }
    const std::string guard = fromQt(guard_->currentData().toString());
    p.options.erase("guard");
    if (!guard.empty()) p.options["guard"] = guard;
    p.environment = static_cast<db::Environment>(std::max(0, environment_->checkedId()));
    p.colour = connectionColours()[static_cast<std::size_t>(std::max(0, colour_->checkedId()))];
    p.onConnect = fromQt(onConnect_->toPlainText());
    p.isReadOnly = readOnly_->isChecked();
    return p;
}

db::Engine ConnectionForm::chosenEngine() const { return static_cast<db::Engine>(engine_->currentData().toInt()); }

void ConnectionForm::showEngine() {
    const bool isFile = chosenEngine() == db::Engine::Sqlite;
    fileFields_->setVisible(isFile);
    server_->setVisible(!isFile);
    onConnect_->setPlaceholderText(isFile ? QStringLiteral("PRAGMA foreign_keys = ON;")
                                   : chosenEngine() == db::Engine::Postgres
                                       ? QStringLiteral("SET TIME ZONE 'UTC';")
                                       : QStringLiteral("SET time_zone = '+00:00';"));
    refreshChanged();
}

void ConnectionForm::refreshChanged() {
    if (!body_->isVisibleTo(this)) return;
    state_->setText(isNew_ ? tr("not saved yet") : edited() == profile_ ? QString() : tr("unsaved changes"));
    setLook(state_, "small");
}

void ConnectionForm::takeAddress() {
    const auto address = db::parseAddress(fromQt(address_->text()));
    if (!address) {
        advice_->setText(address_->text().isEmpty() ? QString() : toQt(address.error()));
        return;
    }
    const auto driver = db::driverFor(address->profile.engine);
    if (!driver) return advice_->setText(toQt(driver.error()));
    profile_.options = address->profile.options;
    engine_->setCurrentIndex(engine_->findData(static_cast<int>(address->profile.engine)));
    if (address->profile.engine == db::Engine::Sqlite) {
        file_->setText(toQt(address->profile.database));
    } else {
        server_->show(address->profile, toQt(address->password.value_or("")));
        // The address is shown again without its secret, which is in a field of its own now.
        if (address->password) address_->setText(toQt(db::addressOf(address->profile)));
    }
    advice_->setText(address->password ? tr("The password is kept only until the program ends.") : QString());
    if (nameField_->text().isEmpty())
        nameField_->setText(toQt(db::placeOf(address->profile)).section(QLatin1Char('.'), 0, 0));
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
    const db::ConnectionProfile p = edited();
    if (const auto problem = workspace::problemOf(p, desk_.profiles())) {
        setLook(state_, "bad");
        state_->setText(tr("not saved"));
        advice_->setText(toQt(*problem));
        return false;
    }
    profile_ = p;
    isNew_ = false;
    if (p.engine != db::Engine::Sqlite) desk_.setPassword(toQt(p.id), fromQt(server_->password()));
    desk_.putProfile(p);
    show(p, false);
    state_->setText(tr("saved"));
    Q_EMIT saved(toQt(p.id));
    return true;
}

void ConnectionForm::test() {
    clearLayout(stages_);
    stages_->addWidget(makeLabel(tr("Trying…"), "quiet"));
    stagesBox_->show();
    advice_->clear();
    const std::string password = fromQt(server_->password());
    desk_.testProfile(edited(), password.empty() ? std::nullopt : std::optional(password), this,
                      [this](const std::vector<db::TestStage>& stages) { showStages(stages); });
}

void ConnectionForm::showStages(const std::vector<db::TestStage>& stages) {
    clearLayout(stages_);
    for (const db::TestStage& stage : stages) {
        auto* row = new QHBoxLayout;
        auto* sign = makeLabel(stage.error ? QStringLiteral("✗") : QStringLiteral("✓"), stage.error ? "bad" : "good");
        sign->setFixedWidth(16);
        row->addWidget(sign);
        auto* words = makeLabel(stage.error ? toQt(stage.error->message) : toQt(stage.name), stage.error ? "bad" : "");
        words->setWordWrap(true);
        row->addWidget(words, 1);
        if (!stage.error) row->addWidget(makeLabel(toQt(base::readable(stage.duration)), "small"));
        stages_->addLayout(row);
        if (stage.error) advice_->setText(toQt(stage.error->hint));
    }
    if (!stages.empty() && !stages.back().error)
        advice_->setText(tr("All is well. Save and open puts you into a sheet on it."));
}

/// One question, at the button itself.
void ConnectionForm::askRemove() {
    if (!isAsking_) {
        isAsking_ = true;
        remove_->setText(tr("Really remove?"));
        advice_->setText(tr("The saved connection goes; the database, the sheets and the ledger stay."));
        return;
    }
    const QString id = toQt(profile_.id);
    showNothing();
    desk_.removeProfile(id);
    Q_EMIT removed();
}

}  // namespace pantry::app
