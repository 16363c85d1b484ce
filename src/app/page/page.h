#pragma once

#include <QColor>
#include <QIcon>
#include <QString>
#include <QWidget>
#include <optional>
#include <string>

namespace pantry::app {

/// Where a page is at home: what the catalog beside it shows, and where a new sheet begins.
struct PagePlace {
    QString connectionId;
    std::string database;  ///< empty for the connection's own
};

/// What somebody wrote on a page and did not put to use: it goes into a sheet when the page goes.
struct UnfinishedText {
    QString title;
    QString text;
};

/// A page of the middle, as the host of pages sees it. Whoever makes a new kind of page answers these questions; the
/// host and the window ask nothing else of it.
///
/// Threads: the window's thread.
class Page : public QWidget {
    Q_OBJECT

public:
    explicit Page(QWidget* parent = nullptr) : QWidget(parent) {}

    /// On the tab, and in lists.
    [[nodiscard]] virtual QString title() const = 0;
    [[nodiscard]] virtual QIcon icon() const = 0;
    /// Of the ground that the tab in front shares with the page below it.
    [[nodiscard]] virtual QColor tabColour() const;
    /// What else there is to tell about it, over the tab; nothing says the title alone.
    [[nodiscard]] virtual QString tip() const { return {}; }
    /// Behind its title in the list of pages.
    [[nodiscard]] virtual QString detail() const { return {}; }
    /// For how long something has been running in it; empty for nothing.
    [[nodiscard]] virtual QString elapsed() const { return {}; }
    /// It is there in passing: its name is in italics, and another may take its place.
    [[nodiscard]] virtual bool isPassing() const { return false; }

    /// A pinned page stands first and stays when others are closed together.
    [[nodiscard]] virtual bool canBePinned() const { return false; }
    [[nodiscard]] virtual bool isPinned() const { return false; }
    virtual void setPinned(bool /*isPinned*/) {}

    /// Whether it stood beside the others, for those that are kept.
    [[nodiscard]] virtual bool wasBeside() const { return false; }
    virtual void noteBeside(bool /*isBeside*/) {}

    [[nodiscard]] virtual std::optional<PagePlace> place() const { return std::nullopt; }
    /// Whether catalog and ledger stand beside it.
    [[nodiscard]] virtual bool hasLeftColumn() const { return true; }
    /// Whether the cell at the cursor is shown beside it.
    [[nodiscard]] virtual bool hasCloseUp() const { return false; }

    /// What can be typed as its name; nothing when it has none of its own.
    [[nodiscard]] virtual std::optional<QString> editableName() const { return std::nullopt; }
    virtual void setName(const QString& /*name*/) {}
    /// Where one goes on in it.
    virtual void enter() { setFocus(); }
    /// Its place among the pages and whether it is in front, for those that are kept.
    virtual void notePosition(int /*position*/, bool /*isCurrent*/) {}
    /// What would be lost if it went now.
    [[nodiscard]] virtual std::optional<UnfinishedText> unfinished() const { return std::nullopt; }
    /// It is out of the window and about to go. Words about it, if somebody should know of something.
    virtual QString leave() { return {}; }
    /// Whether it stays when it is closed, to be shown again.
    [[nodiscard]] virtual bool isKept() const { return false; }

Q_SIGNALS:
    /// Something of what the tab shows is different.
    void changed();
    /// elapsed() is.
    void elapsedChanged();
};

/// A small square in a connection's colour.
[[nodiscard]] QIcon colourDot(const QColor& colour);

}  // namespace pantry::app
