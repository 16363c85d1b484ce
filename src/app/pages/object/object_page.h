#pragma once

#include <QPlainTextEdit>
#include <QVBoxLayout>

#include "app/base/object_place.h"
#include "app/desk/desk.h"
#include "app/page/page.h"

namespace pantry::app {

/// The whole story of an object of the catalog, as a page in the middle: columns, keys, who refers to it, constraints,
/// indexes, triggers, definition.
class ObjectPage : public Page {
    Q_OBJECT

public:
    ObjectPage(Desk& desk, ObjectPlace place, QWidget* parent = nullptr);

    [[nodiscard]] const ObjectPlace& object() const { return place_; }

    [[nodiscard]] QString title() const override;
    [[nodiscard]] QIcon icon() const override;
    [[nodiscard]] std::optional<PagePlace> place() const override {
        return PagePlace{place_.connectionId, place_.database};
    }

Q_SIGNALS:
    void rowsRequested(const pantry::app::ObjectPlace& place);
    void objectRequested(const pantry::app::ObjectPlace& place);

private:
    void refresh();
    QWidget* makeHeader(const QString& facts, bool hasRows);
    void showRelation(const catalog::Relation& relation, const catalog::Catalog& catalog);
    void showObject(const catalog::Object& object);
    QWidget* makeColumns(const catalog::Relation& relation);
    void addKeys(QVBoxLayout* layout, const catalog::Relation& relation, const catalog::Catalog& catalog);
    void addFacts(QVBoxLayout* layout, const catalog::Relation& relation);
    void addDefinition(QVBoxLayout* layout);
    void showDefinition(const QString& text);

    Desk& desk_;
    ObjectPlace place_;
    QVBoxLayout* layout_;
    QPlainTextEdit* definition_ = nullptr;  // of the layout as it stands
};

}  // namespace pantry::app
