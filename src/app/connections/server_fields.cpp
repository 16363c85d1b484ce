#include "app/connections/server_fields.h"

#include <QGridLayout>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/base/widgets.h"

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
      user_(new QLineEdit(this)),
      password_(new QLineEdit(this)),
      tls_(new QComboBox(this)),
      ca_(new QLineEdit(this)) {
    name(host_, objectName::kFormHost, tr("Host, or the folder or file of a socket"));
    name(port_, objectName::kFormPort, tr("Port"));
    name(database_, objectName::kFormDatabase, tr("Database"));
    name(user_, objectName::kFormUser, tr("User"));
    name(password_, objectName::kFormPassword, tr("Password, kept while the program runs"));
    name(tls_, objectName::kFormTls, tr("Encryption"));
    name(ca_, objectName::kFormCa, tr("Certificates to trust"));
    for (QLineEdit* edit : {host_, database_, user_, ca_}) edit->setProperty("look", "code");
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
    grid->setVerticalSpacing(3);
    const auto put = [grid](const QString& words, QWidget* widget, int row, int column, int span) {
        auto* label = makeLabel(words, "field");
        label->setBuddy(widget);
        if (row > 0) label->setContentsMargins(0, 6, 0, 0);
        grid->addWidget(label, row * 2, column, 1, span);
        grid->addWidget(widget, row * 2 + 1, column, 1, span);
    };
    put(tr("Host or socket"), host_, 0, 0, 3);
    put(tr("Port"), port_, 0, 3, 1);
    put(tr("Database"), database_, 1, 0, 4);
    put(tr("User"), user_, 2, 0, 2);
    put(tr("Password"), password_, 2, 2, 2);
    put(tr("Encryption (TLS)"), tls_, 3, 0, 2);
    put(tr("Certificates to trust"), ca_, 3, 2, 2);
    for (int column = 0; column < 4; ++column) grid->setColumnStretch(column, 1);
    for (QLineEdit* edit : {host_, database_, user_, password_, ca_}) {
        connect(edit, &QLineEdit::textChanged, this, &ServerFields::changed);
    }
    connect(port_, &QSpinBox::valueChanged, this, &ServerFields::changed);
    connect(tls_, &QComboBox::currentIndexChanged, this, &ServerFields::changed);
}

void ServerFields::show(const db::ConnectionProfile& profile, const QString& password) {
    host_->setText(toQt(profile.host));
    port_->setValue(profile.port);
    database_->setText(toQt(profile.database));
    user_->setText(toQt(profile.user));
    password_->setText(password);
    tls_->setCurrentIndex(std::max(0, tls_->findData(optionOf(profile, "tls"))));
    ca_->setText(optionOf(profile, "tls-ca"));
}

void ServerFields::applyTo(db::ConnectionProfile& profile) const {
    profile.host = fromQt(host_->text().trimmed());
    profile.port = static_cast<std::uint16_t>(port_->value());
    profile.database = fromQt(database_->text().trimmed());
    profile.user = fromQt(user_->text().trimmed());
    setOption(profile, "tls", fromQt(tls_->currentData().toString()));
    setOption(profile, "tls-ca", fromQt(ca_->text().trimmed()));
}

}  // namespace pantry::app
