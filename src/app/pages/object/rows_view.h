#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>
#include <optional>
#include <vector>

#include "app/base/object_place.h"
#include "app/desk/desk.h"
#include "app/editor/code_text.h"
#include "app/result/result_pane.h"
#include "app/source/place_runs.h"
#include "core/sql/write/table_query.h"

namespace pantry::app {

/// The rows of a table or view as a full grid. Conditions by column and the order are asked of the server; the
/// statement stands above the rows as it runs.
class RowsView : public QWidget {
    Q_OBJECT

public:
    RowsView(Desk& desk, ObjectPlace place, QWidget* parent = nullptr);

    /// Reads the rows, unless they are there.
    void open();
    [[nodiscard]] ResultPane* pane() const { return pane_; }
    void addCondition();

Q_SIGNALS:
    void sheetRequested(const pantry::app::ObjectPlace& place, const QString& title, const QString& text);

private:
    struct Line {
        QWidget* frame;
        QComboBox* column;
        QComboBox* compare;
        QLineEdit* value;
    };
    QWidget* makeTools();
    void fillColumns(const catalog::Relation& relation);
    void fillCompares(const Line& line);
    void removeCondition(QWidget* frame);
    [[nodiscard]] sql::TableWish wish() const;
    void write();
    void run();
    void orderBy(int column, std::optional<bool> isDescending);
    [[nodiscard]] const catalog::Relation* relation() const;

    Desk& desk_;
    ObjectPlace place_;
    sql::Dialect dialect_ = sql::Dialect::Ansi;
    mutable catalog::CatalogPtr catalog_;
    QVBoxLayout* conditions_;
    std::vector<Line> lines_;
    QComboBox* order_;
    QCheckBox* descending_;
    QPushButton* show_;
    QPushButton* stop_;
    QLabel* problem_;
    CodeText* code_;
    ResultPane* pane_;
    PlaceRuns* runs_;
    std::string statement_;
    bool isOpen_ = false;
};

}  // namespace pantry::app
