#pragma once

#include <QComboBox>
#include <QScrollArea>

#include "app/place/place_page.h"

namespace pantry::app {

/// A database, or one of its schemas, at a glance: how much is in it, what is largest, newest, empty, without a key,
/// and queries about its server.
class OverviewPage : public PlacePage {
    Q_OBJECT

public:
    /// Of the place; its object's schema: only that one.
    OverviewPage(Desk& desk, ObjectPlace place, QWidget* parent);

    [[nodiscard]] QString title() const override;
    [[nodiscard]] QIcon icon() const override;
    void enter() override { scroll_->setFocus(); }

Q_SIGNALS:
    void objectRequested(const pantry::app::ObjectPlace& place);
    /// The page about the server, at one of its subjects: the id of a sql::ServerQuery.
    void serverRequested(const pantry::app::ObjectPlace& place, const QString& subject);

private:
    void refresh();
    [[nodiscard]] QWidget* makeQueries(QWidget* parent);

    QComboBox* schema_;
    QScrollArea* scroll_;
};

}  // namespace pantry::app
