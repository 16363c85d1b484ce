#pragma once

#include <QButtonGroup>
#include <QCheckBox>
#include <QComboBox>
#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/base/late_widget.h"
#include "app/desk/desk.h"
#include "app/pages/connections/property_fields.h"
#include "app/pages/connections/server_fields.h"
#include "app/pages/connections/template_choice.h"
#include "core/work/connection_edit.h"

namespace pantry::app {

/// The form of a connection, at the right of the page Connections, with the test in stages.
class ConnectionForm : public QFrame {
    Q_OBJECT

public:
    explicit ConnectionForm(Desk& desk, QWidget* parent = nullptr);

    void show(const db::ConnectionProfile& profile, bool isNew);
    void showNothing();
    /// Pixels, at the text size of now.
    [[nodiscard]] static int usualWidth();
    void focusFirst();
    /// Fills the fields from an address, as if it was pasted.
    void takeAddress(const QString& address);
    /// What was edited and not saved stays while other connections are looked at, and is there when one comes back.
    [[nodiscard]] bool hasDraft(const QString& id) const;
    /// Goes on with a new connection that was begun; false when there is none.
    bool resumeNew();

Q_SIGNALS:
    void saved(const QString& id);
    void openRequested(const QString& id);
    void duplicateRequested(const QString& id);
    void removed();

private:
    QWidget* makeFields();
    void dressFields();
    void makeFileFields();
    void connectFields();
    ServerFields* makeServer();
    [[nodiscard]] QString keptPassword() const;
    [[nodiscard]] std::string enteredPassword() const;
    QWidget* makeChoices();
    QWidget* makeButtons();
    void takeAddress();
    void showEngine();
    [[nodiscard]] db::Engine chosenEngine() const;
    void refreshChanged();
    void takeFromElsewhere();
    void showActs();
    void keepDraft();
    void followEnvironment(int environment);
    void showProperties(const db::ConnectionProfile& profile);
    [[nodiscard]] db::ConnectionProfile edited() const;
    bool save();
    void test();
    void showStages(const std::vector<db::TestStage>& stages);
    void askRemove();
    void chooseFile();
    void offerDatabases();
    void takeTemplate();
    void explain(const QWidget* focus);
    QWidget* makeFooter();
    void showProfile();

    void showDraft(const work::ConnectionDraft& draft);

    Desk& desk_;
    work::ConnectionEdit edit_;
    db::ConnectionProfile profile_;  // that the fields were filled from
    bool isFilling_ = false;         // the fields get a profile, one after the other
    bool isAsking_ = false;          // the button Remove was pressed once
    QString suggestedName_;          // that the address gave, until somebody types another
    QWidget* body_;
    QLabel* heading_;
    QLabel* state_;
    QFrame* arrived_;  // what a connection from somebody's file would do
    QLabel* acts_;
    QLineEdit* address_;
    QLineEdit* nameField_;
    QComboBox* group_;
    TemplateChoice* template_;
    QComboBox* engine_;
    QWidget* fileFields_;
    QLineEdit* file_;
    QWidget* fields_ = nullptr;  // in which those of a server get their place
    LateWidget<ServerFields> server_;
    QComboBox* guard_;
    QButtonGroup* environment_;
    QButtonGroup* colour_;
    QPlainTextEdit* onConnect_;
    QCheckBox* readOnly_;
    QLineEdit* note_;
    PropertyFields* properties_;
    QWidget* footer_;
    QPushButton* saveOpen_;
    QPushButton* saveOnly_;
    QFrame* stagesBox_;
    QVBoxLayout* stages_;
    QLabel* advice_;
    QLabel* explanation_;  // of the field that has the focus
    QPushButton* remove_;
    QPushButton* duplicate_;
};

}  // namespace pantry::app
