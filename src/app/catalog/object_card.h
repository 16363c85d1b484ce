#pragma once

#include <QFrame>
#include <QLabel>
#include <QVBoxLayout>

#include "core/db/catalog.h"

namespace pantry::app {

/// The card at the bottom of the left column: a relation's columns, keys and size.
class ObjectCard : public QFrame {
    Q_OBJECT

public:
    explicit ObjectCard(QWidget* parent = nullptr);
    void show(const db::CatalogRelation* relation);

Q_SIGNALS:
    void openRequested();

private:
    QLabel* name_;
    QLabel* size_;
    QVBoxLayout* columns_;
};

}  // namespace pantry::app
