#pragma once

#include <QFrame>
#include <QLabel>
#include <QPushButton>

#include "app/source/result_source.h"
#include "core/sql/text/dialect.h"

namespace pantry::app {

/// Says, beside an order or conditions, that they are about the part of a result that is here, and leads to all of it.
/// Hidden otherwise.
class PartStrip : public QFrame {
    Q_OBJECT

public:
    explicit PartStrip(QWidget* parent = nullptr);

    /// For a source, nullptr for none; `language` is that of its statement.
    void show(const ResultSource* source);

Q_SIGNALS:
    void allRowsWanted();
    /// The statement that has its server order all rows.
    void statementWanted(const QString& statement);

private:
    QLabel* label_;
    QPushButton* allRows_;
    QPushButton* sortOnServer_;
    QString statement_;
};

}  // namespace pantry::app
