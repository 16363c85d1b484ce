#pragma once

#include <QTreeWidget>
#include <memory>

namespace pantry::app {

/// A JSON or XML value as a tree whose parts fold.
class ValueTree : public QTreeWidget {
    Q_OBJECT

public:
    explicit ValueTree(QWidget* parent = nullptr);

    /// The parts of a text, whose owner is the root; nullptr when it is neither, or has no parts to fold. For any
    /// thread: a long value takes its time.
    using Parts = std::shared_ptr<QTreeWidgetItem>;
    [[nodiscard]] static Parts partsOf(const QString& text);

    /// Takes the parts over.
    void show(const Parts& parts);
    /// So that nothing has to be scrolled.
    [[nodiscard]] int wantedHeight() const;
    /// Marks what holds a text, opens the way to it, and goes to the next of them. How many there are.
    int find(const QString& text);

protected:
    /// Ctrl+C copies the value of the part that has the focus.
    void keyPressEvent(QKeyEvent* event) override;

private:
    QString found_;
    int at_ = -1;
};

}  // namespace pantry::app
