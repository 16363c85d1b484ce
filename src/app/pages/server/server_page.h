#pragma once

#include <QHBoxLayout>
#include <QPushButton>

#include "app/catalog/change_menu.h"
#include "app/place/place_page.h"
#include "app/result/result_pane.h"
#include "app/source/place_runs.h"
#include "core/sql/write/server_queries.h"

namespace pantry::app {

/// What the server is besides its tables: roles, rights, databases, settings, sessions. A subject at a time, as a grid;
/// what can be changed is changed by forms.
///
/// Threads: the window's thread.
class ServerPage : public PlacePage {
    Q_OBJECT

public:
    /// `subject`: the id of a sql::ServerQuery; the first one when there is none of it.
    ServerPage(Desk& desk, ObjectPlace place, const QString& subject, ChangeChoices choices, QWidget* parent);

    [[nodiscard]] ResultPane* pane() const { return pane_; }
    void show(const QString& subject);
    [[nodiscard]] QString title() const override;
    [[nodiscard]] QIcon icon() const override;
    void enter() override;

Q_SIGNALS:
    void sheetRequested(const pantry::app::ObjectPlace& place, const QString& title, const QString& text);

private:
    QWidget* makeHeader();
    void readAgain();
    void showVerbs();

    ChangeChoices choices_;
    const sql::ServerQuery* subject_ = nullptr;
    std::vector<QPushButton*> subjects_;
    QPushButton* change_;
    QPushButton* stop_;
    ResultPane* pane_;
    PlaceRuns* runs_;
};

}  // namespace pantry::app
