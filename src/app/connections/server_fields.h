#pragma once

#include <QComboBox>
#include <QLineEdit>
#include <QSpinBox>
#include <QWidget>

#include "core/db/profile.h"

namespace pantry::app {

/// The part of a connection's form that a server needs: where it is, who asks, and how the line is encrypted.
class ServerFields : public QWidget {
    Q_OBJECT

public:
    explicit ServerFields(QWidget* parent = nullptr);

    void show(const db::ConnectionProfile& profile, const QString& password);
    /// Puts what is entered into a profile; the password is no part of one.
    void applyTo(db::ConnectionProfile& profile) const;
    [[nodiscard]] QString password() const { return password_->text(); }

Q_SIGNALS:
    void changed();

private:
    [[nodiscard]] db::PasswordSource source() const;
    void showSource();

    QLineEdit* host_;
    QSpinBox* port_;
    QLineEdit* database_;
    QLineEdit* user_;
    QLineEdit* password_;
    QComboBox* source_;
    QLineEdit* variable_;
    QComboBox* tls_;
    QLineEdit* ca_;
};

}  // namespace pantry::app
