#pragma once

#include <QAbstractButton>
#include <QHash>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>

#include "app/base/desk.h"
#include "app/connections/connection_form.h"

namespace pantry::app {

/// The first screen: connections as cards in their groups, and the form of the chosen one.
class ConnectionsPage : public QWidget {
    Q_OBJECT

public:
    explicit ConnectionsPage(Desk& desk, QWidget* parent = nullptr);

    void makeNew();
    void choose(const QString& id);
    /// Puts the focus where one goes on: the chosen card, or the way to a first connection.
    void focusCards();

Q_SIGNALS:
    void sheetRequested(const QString& connectionId);
    void selectionChanged();

protected:
    void showEvent(QShowEvent* event) override;

private:
    void fill();
    void orderTabs();
    [[nodiscard]] std::vector<QAbstractButton*> cards() const;
    void addGroup(const QString& title, const std::vector<const db::ConnectionProfile*>& members);
    void duplicate(const QString& id);
    [[nodiscard]] QString factsOf(const db::ConnectionProfile& profile) const;
    [[nodiscard]] QString usageOf(const std::string& profileId) const;

    Desk& desk_;
    QString chosen_;
    QPushButton* new_;
    QVBoxLayout* groups_;
    ConnectionForm* form_;
    QHash<QString, workspace::Ledger::Usage> usage_;
};

}  // namespace pantry::app
