#pragma once

#include <QAbstractTableModel>
#include <functional>
#include <map>
#include <vector>

#include "core/sql/define/design_rules.h"
#include "core/sql/define/table_design.h"

namespace pantry::app {

/// The columns of a design as lines of a grid: a line each, and an empty one at the end for the next.
class ColumnsModel : public QAbstractTableModel {
    Q_OBJECT

public:
    enum Field { Name, Type, Null, Default, Counts, Key, Generated, Comment, kFields };

    ColumnsModel(sql::TableDesign& design, sql::Dialect dialect, QObject* parent);

    /// The design was changed elsewhere.
    void noteReset();
    /// What is wrong with a column, by its place.
    void setProblems(std::map<std::size_t, QString> problems);
    void removeColumn(int row);
    /// Moves a column up or down; false at an end.
    bool moveColumn(int row, int by);
    /// Columns from pasted lines, behind a row. How many.
    int paste(const QString& lines, int row);
    /// Whether the engine keeps such a thing.
    [[nodiscard]] bool hasField(Field field) const;

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    bool setData(const QModelIndex& index, const QVariant& value, int role) override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;

Q_SIGNALS:
    void edited();

private:
    [[nodiscard]] bool isLast(int row) const { return row == static_cast<int>(design_.columns.size()); }
    [[nodiscard]] QString textOf(std::size_t column, Field field) const;
    [[nodiscard]] bool isTicked(std::size_t column, Field field) const;
    void setText(std::size_t column, Field field, const std::string& text);
    void tick(std::size_t column, Field field, bool isOn);

    sql::TableDesign& design_;
    sql::Dialect dialect_;
    std::map<std::size_t, QString> problems_;
    bool isNextTaken_ = false;  // the last line no longer says that it waits for a column
};

/// Keys, indexes, checks and foreign keys of a design as lines of a grid.
class RulesModel : public QAbstractTableModel {
    Q_OBJECT

public:
    enum Field { Kind, Name, Columns, RefersTo, OnDelete, kFields };

    RulesModel(sql::TableDesign& design, sql::Dialect dialect, QObject* parent);

    void noteReset();
    void setProblems(std::map<std::pair<int, std::size_t>, QString> problems);
    /// A rule more; its row.
    int add(sql::DesignRule::Kind kind, const std::vector<std::string>& columns);
    void remove(int row);
    [[nodiscard]] std::optional<sql::DesignRule> ruleAt(int row) const;

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    bool setData(const QModelIndex& index, const QVariant& value, int role) override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;

Q_SIGNALS:
    void edited();

private:
    sql::TableDesign& design_;
    sql::Dialect dialect_;
    std::vector<sql::DesignRule> rules_;
    std::map<std::pair<int, std::size_t>, QString> problems_;
};

}  // namespace pantry::app
