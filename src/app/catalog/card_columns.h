#pragma once

#include <QListWidget>

#include "core/catalog/catalog.h"

namespace pantry::app {

/// The columns of a relation, a line each: sign of the key, name, type. Names and types give way to each other where
/// there is no room; the tip has both whole.
class CardColumns : public QListWidget {
    Q_OBJECT

public:
    explicit CardColumns(QWidget* parent = nullptr);
    void show(const catalog::Relation& relation);
};

}  // namespace pantry::app
