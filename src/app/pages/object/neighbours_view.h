#pragma once

#include <QWidget>
#include <functional>
#include <vector>

#include "core/catalog/catalog.h"

namespace pantry::app {

/// A table between those that it refers to and those that refer to it: a click, or Return on the chosen one, goes
/// there.
class NeighboursView : public QWidget {
    Q_OBJECT

public:
    NeighboursView(const catalog::Relation& relation, const catalog::Catalog& catalog, QWidget* parent = nullptr);

    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] bool isEmpty() const { return boxes_.size() <= 1; }

Q_SIGNALS:
    void chosen(const pantry::catalog::ObjectName& object);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    enum class Side { Here, Before, Behind };
    struct Box {
        catalog::ObjectName object;
        QString columns;  // of the key between them
        Side side;
    };
    [[nodiscard]] QRect rectOf(std::size_t box) const;
    [[nodiscard]] std::size_t countOf(Side side) const;
    [[nodiscard]] std::size_t boxAt(const QPoint& at) const;

    std::vector<Box> boxes_;  // the first is the table itself
    std::size_t hidden_ = 0;  // neighbours that are not drawn
    std::size_t current_ = 0;
};

}  // namespace pantry::app
