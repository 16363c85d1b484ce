#include "app/pages/connections/server_fields.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QMenu>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/widgets.h"
#include "app/pages/connections/explained_field.h"
#include "core/db/engine_traits.h"
#include "core/work/connection_edit.h"

namespace pantry::app {
namespace {

/// Sets an option, or takes it away where it says nothing.
void setOption(db::ConnectionProfile& profile, const std::string& name, const std::string& value) {
    if (value.empty()) {
        profile.options.erase(name);
    } else {
        profile.options[name] = value;
    }
}

QString optionOf(const db::ConnectionProfile& profile, const char* name) {
    const auto found = profile.options.find(name);
    return found == profile.options.end() ? QString() : toQt(found->second);
}

}  // namespace

ServerFields::ServerFields(QWidget* parent)
    : QWidget(parent),
      host_(new QLineEdit(this)),
      port_(new QSpinBox(this)),
      database_(new QLineEdit(this)),
      databases_(makeButton(QStringLiteral("▾"), "", objectName::kFormDatabases,
                            tr("Choose from what is on the server"), this)),
      user_(new QLineEdit(this)),
      password_(new QLineEdit(this)),
      source_(new QComboBox(this)),
      variable_(new QLineEdit(this)),
      tls_(new QComboBox(this)),
      ca_(new QLineEdit(this)) {
    setObjectName(QStringLiteral("plainBox"));
    name(source_, objectName::kFormPasswordSource, tr("Where the password comes from"));
    name(variable_, objectName::kFormPasswordVariable, tr("Variable that holds the password"));
    source_->addItem(tr("asking each time"), int(db::PasswordSource::Ask));
    source_->addItem(tr("the system's keyring"), int(db::PasswordSource::Keyring));
    source_->addItem(tr("the engine's own file"), int(db::PasswordSource::EngineFile));
    source_->addItem(tr("the environment"), int(db::PasswordSource::Environment));
    variable_->setPlaceholderText(QStringLiteral("ORCHARD_PASSWORD"));
    name(host_, objectName::kFormHost, tr("Host, or the folder or file of a socket"));
    name(port_, objectName::kFormPort, tr("Port"));
    name(database_, objectName::kFormDatabase, tr("Database"));
    name(user_, objectName::kFormUser, tr("User"));
    name(password_, objectName::kFormPassword, tr("Password, kept while the program runs"));
    name(tls_, objectName::kFormTls, tr("Encryption"));
    name(ca_, objectName::kFormCa, tr("Certificates to trust"));
    for (QLineEdit* edit : {host_, database_, user_, ca_, variable_}) edit->setProperty("look", "code");
    host_->setPlaceholderText(QStringLiteral("localhost"));
    port_->setRange(0, 65535);
    port_->setSpecialValueText(tr("usual"));
    port_->setButtonSymbols(QAbstractSpinBox::NoButtons);
    password_->setEchoMode(QLineEdit::Password);
    password_->setPlaceholderText(tr("kept until the program ends"));
    ca_->setPlaceholderText(tr("the system's"));
    tls_->addItem(tr("Where offered, verified"), QString());
    tls_->addItem(tr("Off"), QStringLiteral("off"));
    tls_->addItem(tr("Encrypted, not verified"), QStringLiteral("encrypt"));
    tls_->addItem(tr("Verified signer"), QStringLiteral("verify-ca"));
    tls_->addItem(tr("Verified host"), QStringLiteral("verify"));
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(8);
    const auto put = [grid](const QString& label, const QString& explanation, QWidget* input, int row, int column,
                            int span) {
        grid->addWidget(new ExplainedField(label, explanation, input), row, column, 1, span, Qt::AlignTop);
    };
    put(tr("Host or socket"),
        tr("Name or address of the server, or the folder or file of its socket; empty is this machine."), host_, 0, 0,
        3);
    put(tr("Port"), tr("“usual” is the engine's own."), port_, 0, 3, 1);
    databaseBox_ = new ExplainedField({}, {}, database_, besideDatabase());
    grid->addWidget(databaseBox_, 1, 0, 1, 4, Qt::AlignTop);
    put(tr("User"), tr("Who signs in; empty is your own name here."), user_, 2, 0, 2);
    put(tr("Password"), tr("Never written to a file of this program."), password_, 2, 2, 2);
    put(tr("Password comes from"), tr("Where each new line looks for the password."), source_, 3, 0, 2);
    put(tr("Variable"), tr("Name of the variable that holds the password."), variable_, 3, 2, 2);
    put(tr("Encryption (TLS)"), tr("Without a choice, verified where the server offers it."), tls_, 4, 0, 2);
    put(tr("Certificates to trust"), tr("File of the signers to trust; empty is the system's."), ca_, 4, 2, 2);
    for (int column = 0; column < 4; ++column) grid->setColumnStretch(column, 1);
    for (QLineEdit* edit : {host_, database_, user_, password_, ca_, variable_}) {
        connect(edit, &QLineEdit::textChanged, this, &ServerFields::changed);
    }
    connect(source_, &QComboBox::currentIndexChanged, this, &ServerFields::showSource);
    connect(source_, &QComboBox::currentIndexChanged, this, &ServerFields::changed);
    showSource();
    connect(port_, &QSpinBox::valueChanged, this, &ServerFields::changed);
    connect(tls_, &QComboBox::currentIndexChanged, this, &ServerFields::changed);
}

QWidget* ServerFields::besideDatabase() {
    auto* box = new QWidget(this);
    box->setObjectName(QStringLiteral("plainBox"));
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    row->addWidget(database_, 1);
    row->addWidget(databases_);
    databases_->setFixedWidth(34);
    connect(databases_, &QPushButton::clicked, this, &ServerFields::databasesWanted);
    return box;
}

/// A source is known by its name; where it leads stands in the driver's own settings.
void ServerFields::setEngine(db::Engine engine) {
    const bool isSource = db::traitsOf(engine).place == db::PlaceKind::Source;
    for (QWidget* input : {static_cast<QWidget*>(host_), static_cast<QWidget*>(port_), static_cast<QWidget*>(tls_),
                           static_cast<QWidget*>(ca_)}) {
        input->parentWidget()->setVisible(!isSource);
    }
    if (isSource) {
        databaseBox_->setWords(tr("Data source"),
                               tr("Its name in odbc.ini, or DRIVER={name}; and the driver's own settings."));
    } else {
        databaseBox_->setWords(tr("Database"), tr("The one to begin in; others can be chosen in the sheet."));
    }
    database_->setPlaceholderText(isSource ? QStringLiteral("orchard") : QString());
}

void ServerFields::offerDatabases(const std::vector<std::string>& names) {
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->setObjectName(QStringLiteral("formDatabaseMenu"));
    for (const std::string& one : names) {
        connect(menu->addAction(toQt(one)), &QAction::triggered, this, [this, one] {
            database_->setText(toQt(one));
            database_->setFocus();
        });
    }
    if (names.empty()) menu->addAction(tr("There is none that you may enter"))->setEnabled(false);
    menu->popup(database_->mapToGlobal(QPoint(0, database_->height())));
}

db::PasswordSource ServerFields::source() const {
    return static_cast<db::PasswordSource>(source_->currentData().toInt());
}

/// A password is typed where it goes somewhere, a variable named where one is read.
void ServerFields::showSource() {
    const db::PasswordSource chosen = source();
    const bool isTyped = chosen == db::PasswordSource::Ask || chosen == db::PasswordSource::Keyring;
    password_->setEnabled(isTyped);
    password_->setPlaceholderText(chosen == db::PasswordSource::Keyring ? tr("goes to the keyring when saved")
                                  : isTyped                             ? tr("kept until the program ends")
                                                                        : tr("read from there"));
    variable_->parentWidget()->setVisible(chosen == db::PasswordSource::Environment);
}

void ServerFields::show(const db::ConnectionProfile& profile, const QString& password) {
    host_->setText(toQt(profile.host));
    port_->setValue(profile.port);
    database_->setText(toQt(work::databaseFor(profile, false)));
    user_->setText(toQt(profile.user));
    password_->setText(password);
    tls_->setCurrentIndex(std::max(0, tls_->findData(optionOf(profile, "tls"))));
    ca_->setText(optionOf(profile, "tls-ca"));
    source_->setCurrentIndex(std::max(0, source_->findData(int(profile.passwordSource))));
    variable_->setText(toQt(profile.passwordVariable));
}

void ServerFields::applyTo(db::ConnectionProfile& profile) const {
    profile.host = fromQt(host_->text().trimmed());
    profile.port = static_cast<std::uint16_t>(port_->value());
    profile.database = fromQt(database_->text().trimmed());
    profile.user = fromQt(user_->text().trimmed());
    setOption(profile, "tls", fromQt(tls_->currentData().toString()));
    setOption(profile, "tls-ca", fromQt(ca_->text().trimmed()));
    profile.passwordSource = source();
    profile.passwordVariable = fromQt(variable_->text().trimmed());
}

}  // namespace pantry::app

#include "moc_server_fields.cpp"
