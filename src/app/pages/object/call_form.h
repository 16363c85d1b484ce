#pragma once

#include <QFrame>
#include <QLabel>
#include <QPushButton>
#include <vector>

#include "app/editor/code_text.h"
#include "core/catalog/object_details.h"
#include "core/sql/define/routine_call.h"

class QComboBox;
class QLineEdit;

namespace pantry::app {

/// A field for each argument of a routine, and the statement that calls it as one fills them in.
class CallForm : public QFrame {
    Q_OBJECT

public:
    /// `catalog`: where the values of types are looked up; may be null, and is not kept.
    CallForm(catalog::ObjectName routine, catalog::ObjectDetails details, sql::Dialect dialect,
             const catalog::Catalog* catalog, QWidget* parent = nullptr);

    [[nodiscard]] const std::vector<catalog::RoutineParameter>& parameters() const { return details_.parameters; }

Q_SIGNALS:
    /// The statements, as they stand in the form.
    void callRequested(const QString& statements);

private:
    struct Field {
        QLineEdit* text;
        QComboBox* kind;
    };
    void write();
    [[nodiscard]] sql::Argument argumentOf(const Field& field) const;

    catalog::ObjectName routine_;
    catalog::ObjectDetails details_;
    sql::Dialect dialect_;
    std::vector<Field> fields_;
    CodeText* code_;
    QLabel* problem_;
    QPushButton* call_;
    QString statements_;
};

}  // namespace pantry::app
