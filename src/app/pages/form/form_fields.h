#pragma once

#include <QLabel>
#include <QStringList>
#include <QWidget>
#include <vector>

#include "core/sql/forms/form.h"

namespace pantry::app {

/// The fields of a form, a line each: label, field, what it is for.
///
/// Threads: the window's thread.
class FormFields : public QWidget {
    Q_OBJECT

public:
    FormFields(std::vector<sql::FormField> fields, QWidget* parent);

    [[nodiscard]] const std::vector<sql::FormField>& fields() const { return fields_; }
    [[nodiscard]] sql::FieldValues values() const;
    /// Puts values into the fields that they name; the others stay.
    void fill(const sql::FieldValues& values);
    /// Adds choices to a field.
    void addChoices(std::string_view id, const std::vector<std::string>& choices);
    /// The first field that is empty, or the first.
    void focusFirst();
    [[nodiscard]] QSize minimumSizeHint() const override;

Q_SIGNALS:
    void edited();
    /// The first field has another value.
    void subjectChanged();

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    QWidget* makeField(const sql::FormField& field);
    QWidget* makeTicks(const sql::FormField& field);
    [[nodiscard]] std::string valueIn(std::size_t place) const;
    void put(std::size_t place, const std::string& value);
    void noteEdit(const QWidget* field);

    std::vector<sql::FormField> fields_;
    std::vector<QWidget*> widgets_;
    int labelWidth_ = 0;
};

}  // namespace pantry::app
