#pragma once

#include <QComboBox>
#include <QLabel>
#include <QWidget>
#include <set>

#include "app/desk/desk.h"

namespace pantry::app {

/// Which template a connection is based on, and what is left to it. Hidden while there is none to choose.
class TemplateChoice : public QWidget {
    Q_OBJECT

public:
    explicit TemplateChoice(Desk& desk, QWidget* parent = nullptr);

    /// Offers the templates that a profile can be based on, with its own one chosen.
    void show(const db::ConnectionProfile& profile);
    /// The chosen one, as it is in the desk's list now; nullptr for none.
    [[nodiscard]] const db::ConnectionProfile* chosen() const;
    /// Says which fields follow it.
    void showInherited(const std::set<std::string>& fields);

Q_SIGNALS:
    /// Somebody chose another one.
    void taken();

private:
    Desk& desk_;
    QComboBox* templates_;
    QLabel* inherited_;
};

}  // namespace pantry::app
