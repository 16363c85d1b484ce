#pragma once

#include <QFrame>
#include <QLabel>

#include "core/catalog/catalog.h"

namespace pantry::app {

class CardColumns;

/// The card at the bottom of the left column: a relation's columns, keys and size; what another object takes and gives.
class ObjectCard : public QFrame {
    Q_OBJECT

public:
    explicit ObjectCard(QWidget* parent = nullptr);
    void show(const catalog::Relation& relation);
    void show(const catalog::Object& object);

private:
    void showComment(const std::string& comment);

    QLabel* name_;
    QLabel* size_;
    QLabel* problem_;
    QLabel* comment_;
    QLabel* text_;  // of an object without columns
    CardColumns* columns_;
};

}  // namespace pantry::app
