#pragma once

#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPointer>
#include <functional>
#include <memory>
#include <optional>
#include <vector>

#include "core/base/cancellation.h"
#include "core/work/reach_search.h"

namespace pantry::app {

/// One thing that Reach can find.
struct Reachable {
    QString title;
    QString kind;    ///< table, sheet, ledger, action, setting
    QString detail;  ///< where it is, its key
    std::function<void()> act;
    QString also = {};  ///< other words it is looked for by
    work::ReachKind of = work::ReachKind::Action;
    QString whole = {};                 ///< all of it, to be read below the list: a statement
    std::function<void()> runNow = {};  ///< of what can be run at once
};

/// The one box that finds everything and does everything.
class Reach : public QFrame {
    Q_OBJECT

public:
    explicit Reach(QWidget* parent);

    /// What can be reached, beside the relations of catalogs: in front of these, and behind them where nothing fits
    /// better. `ofRelation` says what a relation of a catalog is as one of them; it is asked only for those that show.
    struct Scope {
        std::vector<Reachable> before;
        std::vector<work::ReachCatalog> catalogs;
        std::vector<Reachable> behind;
        std::function<Reachable(const work::ReachCatalog&, const catalog::Relation&)> ofRelation;
        std::vector<std::string> reached = {};  ///< titles that were reached for before, the last one first
    };
    /// Opens over the parent with what can be reached now.
    void open(Scope scope);
    /// As if somebody had typed that.
    void type(const QString& text);
    /// Adds what took a while to find for the text that is typed now.
    void add(const QString& forText, std::vector<Reachable> found);
    /// Whether the list is still that of an earlier text.
    [[nodiscard]] bool isSearching() const { return isSearching_; }

Q_SIGNALS:
    void textChanged(const QString& text);
    /// Something was chosen; its title is worth remembering.
    void reached(const QString& title);
    /// What was opened is to stand beside the others.
    void besideRequested();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void search();
    void noteFound(const std::vector<work::ReachHit>& hits);
    [[nodiscard]] Reachable reachableOf(const work::ReachHit& hit) const;
    /// How what is chosen is taken.
    enum class Take { Open, Beside, Run };
    void fill();
    void addRow(const Reachable& one);
    void addHeading(work::ReachKind kind);
    void showChosen();
    void step(int key);
    void take(Take how);
    [[nodiscard]] const Reachable* chosen() const;
    void close();

    QLineEdit* input_;
    QListWidget* list_;
    Scope scope_;
    std::shared_ptr<const work::ReachScope> searched_;  // the same for the thread that looks
    base::Cancellation search_;
    bool isSearching_ = false;
    std::optional<Take> due_;  // a key was pressed before what fits was there
    std::vector<Reachable> found_;
    std::vector<Reachable> late_;
    std::vector<const Reachable*> shown_;  // by row; nullptr for a heading
    QLabel* whole_;
    QLabel* hint_;
    QPointer<QWidget> before_;  // where one was when it was opened
};

}  // namespace pantry::app
