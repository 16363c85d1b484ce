#pragma once

#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QWidget>

#include "core/db/profile.h"

namespace pantry::app {

class ExplainedField;

/// The part of a connection's form that a server needs: where it is, who asks, and how the line is encrypted.
class ServerFields : public QWidget {
    Q_OBJECT

public:
    explicit ServerFields(QWidget* parent = nullptr);

    void show(const db::ConnectionProfile& profile, const QString& password);
    /// Puts what is entered into a profile; the password is no part of one.
    void applyTo(db::ConnectionProfile& profile) const;
    [[nodiscard]] QString password() const { return password_->text(); }
    /// Shows what this engine needs, in its words.
    void setEngine(db::Engine engine);
    /// Offers names for the database below its field.
    void offerDatabases(const std::vector<std::string>& names);

Q_SIGNALS:
    void changed();
    /// Somebody wants to choose from what is on the server.
    void databasesWanted();

private:
    [[nodiscard]] db::PasswordSource source() const;
    void showSource();
    QWidget* besideDatabase();

    QLineEdit* host_;
    QSpinBox* port_;
    QLineEdit* database_;
    QPushButton* databases_;
    ExplainedField* databaseBox_ = nullptr;
    QLineEdit* user_;
    QLineEdit* password_;
    QComboBox* source_;
    QLineEdit* variable_;
    QComboBox* tls_;
    QLineEdit* ca_;
};

}  // namespace pantry::app
