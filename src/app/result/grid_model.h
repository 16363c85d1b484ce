#pragma once

#include <QAbstractTableModel>
#include <QColor>

#include "app/result/result_look.h"
#include "app/source/result_source.h"

namespace pantry::app {

/// A source's rows for a table view: translates cells into roles, holds none itself.
class GridModel : public QAbstractTableModel {
    Q_OBJECT

public:
    explicit GridModel(QObject* parent = nullptr);

    /// How its cells look; the model's own.
    [[nodiscard]] ResultLook* look() const { return look_; }

    void setSource(ResultSource* source);
    [[nodiscard]] ResultSource* source() const { return source_; }

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    /// Makes sure that a row is here, if it has arrived: somebody wants to go to it now.
    void growTo(int row);
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

    /// The cell as the server sent it.
    [[nodiscard]] data::Cell cell(int row, int column) const;
    [[nodiscard]] bool isRightAligned(int column) const;

    /// The colour role of a cell's text.
    enum Role {
        ColourRole = Qt::UserRole + 1,
        NullRole,
        TypeNameRole,
        SortRole,
        CellBackgroundRole,  ///< the colour that a rule gives a cell; invalid for none
        LabelRole,           ///< what the row is called that a key points at
        KeyMarkRole,         ///< of a heading: the sign of a key
        ExactRole,           ///< a number, date or time: a part of it would be another one
    };

private:
    [[nodiscard]] QColor comparedBackground(const QModelIndex& index) const;
    [[nodiscard]] QColor changedBackground(const QModelIndex& index) const;
    void reset();
    void noteRows();
    void grow();
    [[nodiscard]] int rowsThere() const;

    ResultSource* source_ = nullptr;
    ResultLook* look_;
    int rows_ = 0;
    bool isGrowing_ = false;  // whoever hears of new rows may want to go to one of them
    QList<QMetaObject::Connection> connections_;
};

}  // namespace pantry::app
