#pragma once

#include <QComboBox>
#include <QScrollArea>

#include "app/base/object_place.h"
#include "app/desk/desk.h"
#include "app/page/page.h"

namespace pantry::app {

/// A database, or one of its schemas, at a glance: how much is in it, what is largest, newest, empty, without a key,
/// and queries about its server.
class OverviewPage : public Page {
    Q_OBJECT

public:
    /// Of the place; its object's schema: only that one.
    OverviewPage(Desk& desk, ObjectPlace place, QWidget* parent);

    [[nodiscard]] const ObjectPlace& object() const { return place_; }
    [[nodiscard]] QString title() const override;
    [[nodiscard]] QIcon icon() const override;
    [[nodiscard]] std::optional<PagePlace> place() const override {
        return PagePlace{place_.connectionId, place_.database};
    }
    void enter() override { scroll_->setFocus(); }

Q_SIGNALS:
    void objectRequested(const pantry::app::ObjectPlace& place);
    /// The page about the server, at one of its subjects: the id of a sql::ServerQuery.
    void serverRequested(const pantry::app::ObjectPlace& place, const QString& subject);

private:
    void refresh();
    [[nodiscard]] QWidget* makeQueries(QWidget* parent);

    Desk& desk_;
    ObjectPlace place_;
    QComboBox* schema_;
    QScrollArea* scroll_;
};

}  // namespace pantry::app
