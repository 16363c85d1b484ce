#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>
#include <QWidget>
#include <optional>

#include "app/desk/desk.h"
#include "app/shelf/shelf_list.h"
#include "app/shelf/shelf_verbs.h"

namespace pantry::app {

/// The page Shelf of the left column: folders and saved queries; below them the shelves that are shared.
///
/// Threads: the window's thread.
class ShelfPanel : public QWidget {
    Q_OBJECT

public:
    ShelfPanel(Desk& desk, ShelfVerbs& verbs, QWidget* parent = nullptr);

    void focusFind();

    /// Whose snippets are listed: those of the sheet in front; none without one.
    void setDialect(std::optional<sql::Dialect> dialect);

Q_SIGNALS:
    /// To be filled in at the caret.
    void snippetRequested(const pantry::snippet::Snippet& snippet);
    /// A query is wanted in a sheet, and perhaps to be run at once.
    void openRequested(const pantry::store::QueryPlace& place, bool toRun);
    /// It is to run, and again by itself every few minutes.
    void regularRequested(const pantry::store::QueryPlace& place);
    /// Everything about it.
    void pageRequested(const pantry::store::QueryPlace& place);
    void snippetsRequested();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void search();
    void show(std::vector<work::ShelvedQuery> queries);
    [[nodiscard]] std::vector<snippet::Snippet> snippetsFound() const;
    void openSnippetMenu(const snippet::Snippet& one, const QPoint& at);
    void showShared();
    [[nodiscard]] QWidget* makeShared(const work::ShelfInfo& info);
    [[nodiscard]] const work::ShelvedQuery* chosen() const;
    void openMenu(const QPoint& at);
    bool carryOut(int key, Qt::KeyboardModifiers modifiers);

    Desk& desk_;
    ShelfVerbs& verbs_;
    QLineEdit* find_;
    QPushButton* menu_;
    QListView* list_;
    ShelfModel* model_;
    QLabel* empty_;
    QPushButton* undo_;
    QPushButton* stop_;
    QPushButton* snippets_;
    QVBoxLayout* shared_;
    std::optional<sql::Dialect> dialect_;  // of the snippets
    QTimer debounce_;
    std::uint64_t asked_ = 0;
    std::optional<store::QueryPlace> next_;  // to be chosen as soon as it is there
};

}  // namespace pantry::app
