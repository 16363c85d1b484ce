#pragma once

#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>
#include <optional>
#include <string>

#include "app/base/object_place.h"
#include "app/desk/desk.h"
#include "core/db/session.h"
#include "core/sql/text/dialect.h"
#include "core/work/column_shape.h"

namespace pantry::app {

/// Reads the shape of a column's values, one column at a time.
///
/// Threads: the window's thread.
class ShapeReader : public QObject {
    Q_OBJECT

public:
    ShapeReader(Desk& desk, ObjectPlace place, QObject* parent);
    ~ShapeReader() override;

    void read(const catalog::Relation& relation, const catalog::Column& column);
    void stop() { reading_.cancel(); }
    [[nodiscard]] bool isReading() const { return isReading_; }
    /// The column that was read, or is being read.
    [[nodiscard]] const std::string& column() const { return column_; }
    /// The one that somebody has chosen; the page that shows it may be made anew.
    std::string chosen = {};
    /// What there is to say: the shape in a line, that it is being read, or why it is not known.
    [[nodiscard]] const QString& text() const { return text_; }
    [[nodiscard]] const std::optional<work::ColumnShape>& shape() const { return shape_; }
    [[nodiscard]] sql::Dialect dialect() const { return dialect_; }

Q_SIGNALS:
    void changed();

private:
    void note(const std::string& column, const Result<data::ResultSetPtr>& rows);

    Desk& desk_;
    ObjectPlace place_;
    sql::Dialect dialect_ = sql::Dialect::Ansi;
    db::RunHandle reading_;
    bool isReading_ = false;
    std::string column_;
    QString text_;
    std::optional<work::ColumnShape> shape_;
};

/// The columns of a table or view. Of the one that is chosen the shape of its values is read on demand: how many, how
/// many different ones, from where to where, the most frequent.
///
/// Threads: the window's thread.
class ColumnsSection : public QWidget {
    Q_OBJECT

public:
    /// `reader` outlives it: the page makes its sections anew whenever it learns something.
    ColumnsSection(ShapeReader& reader, const catalog::Relation& relation, QWidget* parent);

private:
    [[nodiscard]] const catalog::Column* chosen() const;
    void readChosen();
    void refresh();

    ShapeReader& reader_;
    catalog::Relation relation_;
    QTableWidget* table_;
    QPushButton* verb_;
    QLabel* summary_;
    QVBoxLayout* layout_;
    QTableWidget* frequent_ = nullptr;
};

}  // namespace pantry::app
