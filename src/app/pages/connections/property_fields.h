#pragma once

#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>
#include <functional>
#include <map>
#include <optional>
#include <set>
#include <string>

#include "core/db/profile.h"

namespace pantry::app {

/// The properties of an engine's driver that have no field of their own: each with its default and what it means.
/// Closed until somebody wants them.
class PropertyFields : public QWidget {
    Q_OBJECT

public:
    explicit PropertyFields(QWidget* parent = nullptr);

    /// What a secret property has been given, as far as it is in memory.
    using KeptSecret = std::function<std::optional<std::string>(std::string_view property)>;
    void show(const db::ConnectionProfile& profile, const KeptSecret& kept);
    /// What stands in the fields of secrets, by property; no profile has it.
    [[nodiscard]] std::map<std::string, std::string> secrets() const;
    /// Puts what differs from the defaults into a profile.
    void applyTo(db::ConnectionProfile& profile) const;

Q_SIGNALS:
    void changed();

private:
    void setOpen(bool isOpen);

    QPushButton* heading_;
    QWidget* body_;
    QVBoxLayout* rows_;
    std::map<std::string, QWidget*> inputs_;     // by the property's name
    std::map<std::string, QLineEdit*> secrets_;  // likewise
};

}  // namespace pantry::app
