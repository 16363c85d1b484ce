#pragma once

#include <QAbstractListModel>
#include <QStyledItemDelegate>
#include <optional>
#include <vector>

#include "app/desk/desk.h"
#include "core/snippet/snippets.h"

namespace pantry::app {

/// Saved queries under the names of their folders, those with a star first; then the snippets.
///
/// Threads: the window's thread.
class ShelfModel : public QAbstractListModel {
    Q_OBJECT

public:
    enum Role { IsHeadingRole = Qt::UserRole, ColourRole, MarkRole, IsStarredRole, IsNotebookRole };
    ShelfModel(Desk& desk, QObject* parent);

    void show(std::vector<work::ShelvedQuery> queries, std::vector<snippet::Snippet> snippets = {});
    /// nullptr for a row that is none.
    [[nodiscard]] const snippet::Snippet* snippetAt(const QModelIndex& index) const;
    /// nullptr for a heading or a snippet.
    [[nodiscard]] const work::ShelvedQuery* queryAt(const QModelIndex& index) const;
    [[nodiscard]] QModelIndex indexOf(const store::QueryPlace& place) const;
    [[nodiscard]] QModelIndex firstQuery() const;
    [[nodiscard]] std::size_t count() const { return queries_.size(); }
    /// The folder that a row stands in; nothing for the starred ones.
    [[nodiscard]] std::optional<store::QueryPlace> folderAt(const QModelIndex& index) const;

    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] Qt::ItemFlags flags(const QModelIndex& index) const override;
    [[nodiscard]] Qt::DropActions supportedDropActions() const override { return Qt::MoveAction; }
    [[nodiscard]] QStringList mimeTypes() const override;
    [[nodiscard]] QMimeData* mimeData(const QModelIndexList& indexes) const override;
    bool dropMimeData(const QMimeData* data, Qt::DropAction action, int row, int column,
                      const QModelIndex& parent) override;

Q_SIGNALS:
    /// A query was dropped on another folder.
    void moveRequested(const pantry::store::QueryPlace& query, const QString& folder);

private:
    struct Row {
        std::optional<std::size_t> query;  ///< none for a heading or a snippet
        QString heading;
        store::QueryPlace folder;  ///< its path is the folder's
        bool isOfStarred = false;
        std::optional<std::size_t> snippet = {};
    };
    void addHeading(const QString& name, std::size_t count, const store::QueryPlace& folder, bool isOfStarred);
    [[nodiscard]] QString headingOf(const store::QueryPlace& folder) const;
    [[nodiscard]] QColor colourOf(const work::ShelvedQuery& one) const;

    Desk& desk_;
    std::vector<work::ShelvedQuery> queries_;
    std::vector<snippet::Snippet> snippets_;
    std::vector<Row> rows_;
};

/// One line a query: the colour of its connection, its title, and what is special about it.
class ShelfDelegate : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    [[nodiscard]] QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override;
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override;
};

/// The folder of a query as people read it: “Plot health”, “Orchard team · Plot health”.
[[nodiscard]] QString spokenFolder(const store::QueryPlace& folder);

}  // namespace pantry::app
