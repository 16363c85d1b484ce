#pragma once

#include <QMenu>
#include <QWidget>
#include <functional>
#include <optional>

#include "app/desk/desk.h"

namespace pantry::app {

/// What somebody can do with a saved query wherever it is shown: rename, move, copy, star, remove, with words about
/// what became of it. Each asks what it needs to know over `parent`.
///
/// Threads: the window's thread.
class ShelfVerbs : public QObject {
    Q_OBJECT

public:
    ShelfVerbs(Desk& desk, QWidget* parent);

    void rename(const work::ShelvedQuery& query);
    /// Asks for a folder.
    void move(const work::ShelvedQuery& query);
    void moveTo(const store::QueryPlace& query, const std::string& folder);
    void duplicate(const work::ShelvedQuery& query);
    void toggleStar(const work::ShelvedQuery& query);
    void remove(const work::ShelvedQuery& query);
    /// Puts back what was removed last.
    void undoRemove();
    [[nodiscard]] bool canUndo() const { return removed_.has_value(); }
    void restore(const store::QueryPlace& place, const std::string& version);
    void pull(const std::string& shelf, const shelf::Resolutions& resolutions = {});
    void push(const std::string& shelf);
    /// Gives up what goes on over the network.
    void stopTalking() { talk_.request(); }
    void addRemote(const std::string& shelf);
    void addFolder();
    void copyShared();
    void forget(const std::string& shelf);
    void showRemoved(const std::string& shelf);
    /// What can be done with the shelves themselves.
    void fillShelfMenu(QMenu& menu);

Q_SIGNALS:
    void remarked(const QString& text);
    /// Something was removed and can come back, or is back.
    void undoChanged();
    /// Something goes on over the network, or does not any more.
    void talkingChanged(bool isTalking);
    /// A query stands elsewhere now.
    void moved(const pantry::store::QueryPlace& from, const pantry::store::QueryPlace& to);
    /// Somebody must choose between what is here and what came.
    void conflictsMet(const QString& shelf, const std::vector<pantry::shelf::Conflict>& conflicts);

private:
    struct Removed {
        store::QueryPlace place;
        std::string content;
    };
    [[nodiscard]] std::optional<QString> askText(const QString& title, const QString& label, const QString& start);
    void moveNow(const store::QueryPlace& from, const std::string& to);
    [[nodiscard]] work::RemoteTalk talk();
    void tell(const Error& error);
    void tellSaved(const shelf::Saved& saved, const QString& done);

    Desk& desk_;
    QWidget* parent_;
    std::optional<Removed> removed_;
    base::Cancellation talk_;
};

}  // namespace pantry::app
