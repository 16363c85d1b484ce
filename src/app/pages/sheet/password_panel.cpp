#include "app/pages/sheet/password_panel.h"

#include <QApplication>
#include <QHBoxLayout>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/widgets.h"

namespace pantry::app {

PasswordPanel::PasswordPanel(Desk& desk, Sheet& sheet, QWidget* parent)
    : LateStrip(parent), desk_(desk), sheet_(sheet) {
    name(this, objectName::kPasswordPanel, tr("The server asks for a password"));
    setProperty("look", "strip");
    connect(&sheet_, &Sheet::sessionChanged, this, &PasswordPanel::refresh);
    connect(&sheet_, &Sheet::connectionChanged, this, &PasswordPanel::refresh);
    connect(&desk_, &Desk::catalogChanged, this, &PasswordPanel::refresh);
    refresh();
}

void PasswordPanel::makeContent() {
    label_ = makeLabel({}, "", this);
    password_ = new QLineEdit(this);
    name(password_, objectName::kPasswordInput, tr("Password"));
    password_->setEchoMode(QLineEdit::Password);
    password_->setPlaceholderText(tr("kept until the program ends"));
    password_->setFixedWidth(230);
    auto* connectButton =
        makeButton(tr("Connect"), "main", objectName::kPasswordConnect, tr("Connect with this password"), this);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(12, 5, 10, 5);
    layout->setSpacing(8);
    layout->addWidget(label_);
    layout->addWidget(password_);
    layout->addWidget(connectButton);
    layout->addStretch();
    connect(password_, &QLineEdit::returnPressed, this, &PasswordPanel::take);
    connect(connectButton, &QPushButton::clicked, this, &PasswordPanel::take);
}

void PasswordPanel::refresh() {
    const bool wasHidden = isHidden();
    const bool hadFocus = isAncestorOf(QApplication::focusWidget());
    if (!showIf(sheet_.session().wantsPassword())) {
        if (isMade()) password_->clear();
        if (hadFocus) Q_EMIT taken();
        return;
    }
    const db::ConnectionProfile& p = *sheet_.profile();
    label_->setText(p.user.empty() ? tr("Password for %1").arg(toQt(db::placeOf(p)))
                                   : tr("Password of %1 for %2").arg(toQt(p.user), toQt(db::placeOf(p))));
    if (wasHidden && isVisible()) password_->setFocus();
}

void PasswordPanel::take() {
    const std::string password = fromQt(password_->text());
    password_->clear();
    if (password.empty()) return;
    password_->setFocus();  // until the server has taken it: another try must not be typed into the sheet
    sheet_.runs().connectWith(password);
}

}  // namespace pantry::app

#include "moc_password_panel.cpp"
