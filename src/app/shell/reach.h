#pragma once

#include <QFrame>
#include <QLineEdit>
#include <QListWidget>
#include <functional>
#include <vector>

namespace pantry::app {

/// One thing that Reach can find.
struct Reachable {
    QString title;
    QString kind;    ///< table, sheet, ledger, action, setting
    QString detail;  ///< where it is, its key
    std::function<void()> act;
    QString also = {};  ///< other words it is looked for by
};

/// The one box that finds everything and does everything.
class Reach : public QFrame {
    Q_OBJECT

public:
    explicit Reach(QWidget* parent);

    /// Opens over the parent with what can be reached now.
    void open(std::vector<Reachable> everything);
    /// Adds what took a while to find for the text that is typed now.
    void add(const QString& forText, std::vector<Reachable> found);

Q_SIGNALS:
    void textChanged(const QString& text);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void fill();
    void take();

    QLineEdit* input_;
    QListWidget* list_;
    std::vector<Reachable> everything_;
    std::vector<Reachable> late_;
    std::vector<std::function<void()>> shownActs_;
};

}  // namespace pantry::app
