#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>

#include "app/desk/desk.h"

namespace pantry::app {

/// The page of a program that knows no connection yet: one field takes whatever is at hand; everything else on it is a
/// click: servers that were found here, a database file, another server, and databases to practise on.
class StartPage : public QWidget {
    Q_OBJECT

public:
    explicit StartPage(Desk& desk, QWidget* parent = nullptr);

    /// Somebody looks for servers; setFound() follows.
    void noteLooking();
    void setFound(const std::vector<store::FoundConnection>& found);
    void focusAddress() { address_->setFocus(); }

Q_SIGNALS:
    /// Fill the form with an address.
    void addressGiven(const QString& address);
    /// Fill the form as far as this is known.
    void profileGiven(const pantry::db::ConnectionProfile& profile);
    /// Save this and open a sheet on it.
    void connectWanted(const pantry::db::ConnectionProfile& profile);
    void fileChosen(const QString& path);
    void importWanted();
    void lookWanted();
    /// The practice databases are there and saved: open a sheet on this one, with that text.
    void practiceReady(const QString& connectionId, const QString& text);

private:
    QWidget* makeHead();
    QWidget* makeFound();
    QWidget* makeFile();
    QWidget* makeServers();
    QWidget* makePractice();
    void take();
    void practise();

    Desk& desk_;
    QLineEdit* address_;
    QLabel* advice_;
    QVBoxLayout* found_;
    QLabel* looked_;
    QPushButton* practise_;
    QLabel* practiceState_;
};

}  // namespace pantry::app
