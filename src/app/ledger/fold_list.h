#pragma once

#include <QAbstractListModel>
#include <QStyledItemDelegate>
#include <cstddef>
#include <optional>
#include <vector>

#include "app/desk/desk.h"
#include "core/work/ledger_list.h"

namespace pantry::app {

/// What a search in the ledger has found, by day: a row for each day, and one for each fold. More comes as somebody
/// scrolls.
///
/// Threads: the window's thread.
class FoldModel : public QAbstractListModel {
    Q_OBJECT

public:
    enum Role {
        IsDayRole = Qt::UserRole,
        TimeRole,
        OutcomeRole,
        StatusRole,  ///< a colour of the theme
        SlownessRole,
        ColourRole,
        RunsRole,
        ConnectionRole
    };
    FoldModel(Desk& desk, QObject* parent);

    [[nodiscard]] work::LedgerList& list() { return list_; }
    /// nullptr for a day.
    [[nodiscard]] const store::LedgerFold* foldAt(const QModelIndex& index) const;
    /// The row of a fold; nothing when it is not there.
    [[nodiscard]] std::optional<int> rowOf(const store::LedgerEntry& entry) const;
    [[nodiscard]] QModelIndex firstFold() const;

    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] Qt::ItemFlags flags(const QModelIndex& index) const override;
    [[nodiscard]] bool canFetchMore(const QModelIndex& parent) const override;
    void fetchMore(const QModelIndex& parent) override;

Q_SIGNALS:
    /// Another list, or more of it.
    void filled(bool isAnew);
    /// Nothing is being read any more.
    void rested();

private:
    struct Row {
        std::optional<std::size_t> fold;  ///< among the list's; none for a day
        QString day;
    };
    void take(std::size_t first);
    [[nodiscard]] std::vector<Row> rowsFrom(std::size_t first) const;

    Desk& desk_;
    std::vector<Row> rows_;
    work::LedgerList list_;
};

/// Two lines a fold: when, and what; then what became of it, the line of its durations, and how often it ran.
class FoldDelegate : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    [[nodiscard]] QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override;
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override;
};

/// The same where there is little room: what ran, and below it when, what became of it, where, and how often.
class NarrowFoldDelegate : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    [[nodiscard]] QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override;
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override;
};

}  // namespace pantry::app
