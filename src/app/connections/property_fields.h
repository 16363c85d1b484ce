#pragma once

#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>
#include <map>
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

    void show(const db::ConnectionProfile& profile);
    /// Puts what differs from the defaults into a profile.
    void applyTo(db::ConnectionProfile& profile) const;

Q_SIGNALS:
    void changed();

private:
    void setOpen(bool isOpen);

    QPushButton* heading_;
    QWidget* body_;
    QVBoxLayout* rows_;
    std::map<std::string, QWidget*> inputs_;  // by the property's name
};

}  // namespace pantry::app
