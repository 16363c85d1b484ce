#pragma once

#include <QFrame>
#include <QLabel>

#include "core/catalog/catalog.h"

namespace pantry::app {

class CardColumns;

/// The card at the bottom of the left column: a relation's columns, keys and size.
class ObjectCard : public QFrame {
    Q_OBJECT

public:
    explicit ObjectCard(QWidget* parent = nullptr);
    void show(const catalog::Relation* relation);

private:
    QLabel* name_;
    QLabel* size_;
    QLabel* problem_;
    CardColumns* columns_;
};

}  // namespace pantry::app
