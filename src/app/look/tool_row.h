#pragma once

#include <QFrame>
#include <QMenu>
#include <QPushButton>
#include <functional>
#include <optional>
#include <vector>

#include "app/look/elided_label.h"

namespace pantry::app {

/// A row of words and tools that is content with any width: what finds no room folds away, in the order of its rank,
/// into the menu of one button at the end or behind a button of its own. So a row never pushes its neighbours.
///
/// What an owner does not want to show it tells with setWanted(), since whether a widget is visible is decided here.
class ToolRow : public QFrame {
public:
    /// `side` is left free at both ends.
    explicit ToolRow(QWidget* parent = nullptr, int side = 10);

    void add(QWidget* widget);
    /// Takes what others leave, up to the width of its text, and goes when that is next to nothing.
    void addElastic(ElidedLabel* label);
    void addStretch();
    /// A field that gets narrower, down to its minimum width, before anything folds for it.
    void addField(QWidget* widget);
    /// Folds into the menu at the end; a smaller rank folds earlier. `offer` puts what stands for it there.
    void addFoldable(QWidget* widget, int rank, std::function<void(QMenu*)> offer);
    /// Several that fold together behind one that stands in for them.
    void addGroup(const std::vector<QWidget*>& widgets, QWidget* standIn, int rank);
    void setWanted(QWidget* widget, bool isWanted);

    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override;

protected:
    void resizeEvent(QResizeEvent* event) override;
    bool event(QEvent* event) override;

private:
    enum class Kind { Fixed, Field, Elastic, Stretch, Foldable, Member, StandIn };
    struct Item {
        QWidget* widget = nullptr;
        Kind kind = Kind::Fixed;
        int rank = 0;  ///< of what folds; a group shares one
        std::function<void(QMenu*)> offer = {};
        bool isWanted = true;
        bool isFolded = false;
        QSize hint = {};  ///< its own wish; see measure()
        int natural = 0;  ///< width it would like, within its bounds
    };
    void place();
    void measure();
    [[nodiscard]] bool isShown(const Item& item) const;
    [[nodiscard]] static int leastOf(const Item& item);
    [[nodiscard]] int widthNeeded() const;
    [[nodiscard]] bool hasFolded() const;

    int side_;
    std::vector<Item> items_;
    mutable std::optional<int> tall_;  // of all that is in it, as long as nothing says otherwise
    QPushButton* more_;                // the last one: its coming is an event that asks for the others
};

}  // namespace pantry::app
