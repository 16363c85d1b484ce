#pragma once

#include <QHash>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <QWidget>

#include "app/base/late_widget.h"
#include "app/desk/desk.h"
#include "app/look/plain_scroll.h"
#include "app/page/page.h"
#include "app/pages/connections/connection_card.h"
#include "app/pages/connections/connection_form.h"
#include "app/pages/connections/start_page.h"
#include "app/pages/connections/transfer_panel.h"

namespace pantry::app {

/// The first screen: connections as cards in their groups, and the form of the chosen one.
class ConnectionsPage : public Page {
    Q_OBJECT

public:
    explicit ConnectionsPage(Desk& desk, QWidget* parent = nullptr);

    [[nodiscard]] QString title() const override { return tr("Connections"); }
    [[nodiscard]] QIcon icon() const override;
    [[nodiscard]] bool hasLeftColumn() const override { return false; }
    [[nodiscard]] bool isKept() const override { return true; }

    void makeNew();
    void markDrafts();
    /// The form of a connection that is not saved yet, filled as far as it is known.
    void makeFrom(const db::ConnectionProfile& profile);
    void choose(const QString& id);
    /// Puts the focus where one goes on: the chosen card, or the way to a first connection.
    [[nodiscard]] bool isComing(const QWidget& card) const;
    void focusCardsSoon();
    void focusCards();
    void beginExport();
    void makeGroup();
    void makeTemplate();
    void offerImport();
    void beginImport(const QString& path);

Q_SIGNALS:
    void sheetRequested(const QString& connectionId);
    void selectionChanged();
    void fileRequested(const QString& path);
    /// A sheet on a connection that begins with this text.
    void sheetWithTextRequested(const QString& connectionId, const QString& text);

protected:
    void showEvent(QShowEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    QWidget* makeHead();
    ConnectionForm* makeForm();
    void markChosen(const QString& id);
    void fill();
    void fillLast();
    void fitColumns();
    void addSection(const std::string& group, const std::vector<const db::ConnectionProfile*>& members);
    void addCards(const std::vector<const db::ConnectionProfile*>& members);
    void addTemplates();
    void addFound();
    void addEmpty();
    void makeStart();
    [[nodiscard]] TransferPanel* transfer();
    void look();
    void refreshStart();
    [[nodiscard]] bool isAtStart() const { return start_ != nullptr && pages_->currentWidget() == start_; }
    void orderTabs();
    [[nodiscard]] bool fits(const db::ConnectionProfile& profile) const;
    void duplicate(const QString& id);
    void moveBy(const std::string& id, int by);
    void showMenu(const std::string& id, const QPoint& at);
    void showUndo();
    [[nodiscard]] QString factsOf(const db::ConnectionProfile& profile) const;
    [[nodiscard]] QString usageOf(const std::string& profileId) const;

    Desk& desk_;
    bool isFillDue_ = false;  // when nobody types a group's name any more
    QString chosen_;
    QLineEdit* find_;
    QPushButton* new_;
    QWidget* last_;  // the connections used last
    QWidget* undo_;
    QLabel* undoText_;
    QVBoxLayout* groups_;
    int columns_ = 2;
    QStackedWidget* pages_;  // the start, while nothing is saved; else cards and form
    QWidget* usual_;
    QWidget* left_;  // the cards
    PlainScroll* scroll_;
    StartPage* start_ = nullptr;  // made when it is needed
    bool isStartLeft_ = false;    // for the form
    QStackedWidget* side_;
    LateWidget<ConnectionForm> form_;
    TransferPanel* transfer_ = nullptr;  // made when it is needed
    QHash<QString, store::Ledger::Usage> usage_;
    std::vector<store::FoundConnection> found_;
    std::vector<QWidget*> tabStops_;      // headings and cards in the order of the page
    std::vector<ConnectionCard*> cards_;  // those that stand, in the order of the page
};

}  // namespace pantry::app
