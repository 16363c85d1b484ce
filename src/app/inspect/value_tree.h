#pragma once

#include <QTreeWidget>

namespace pantry::app {

/// A JSON or XML value as a tree whose parts fold.
class ValueTree : public QTreeWidget {
    Q_OBJECT

public:
    explicit ValueTree(QWidget* parent = nullptr);

    /// False, and nothing shown, when the text is neither, or has no parts to fold.
    bool show(const QString& text);
    /// So that nothing has to be scrolled.
    [[nodiscard]] int wantedHeight() const;
    /// Marks what holds a text, opens the way to it, and goes to the next of them. How many there are.
    int find(const QString& text);

protected:
    /// Ctrl+C copies the value of the part that has the focus.
    void keyPressEvent(QKeyEvent* event) override;

private:
    bool showJson(const QByteArray& text);
    bool showXml(const QString& text);

    QString found_;
    int at_ = -1;
};

}  // namespace pantry::app
