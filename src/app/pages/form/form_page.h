#pragma once

#include <QLabel>

#include "app/define/definition_panel.h"
#include "app/pages/form/form_fields.h"
#include "app/place/place_page.h"
#include "core/sql/forms/form.h"

namespace pantry::app {

/// A form of a few fields: what it is about, the fields, what goes with it, the statements as they stand, the verbs.
///
/// Threads: the window's thread.
class FormPage : public PlacePage {
    Q_OBJECT

public:
    /// `place`: the object that it is about, or its schema.
    FormPage(Desk& desk, ObjectPlace place, const sql::FormEntry& form, QWidget* parent);

    [[nodiscard]] const sql::FormEntry& form() const { return form_; }
    [[nodiscard]] QString title() const override;
    [[nodiscard]] QIcon icon() const override;
    void enter() override;

Q_SIGNALS:
    void sheetRequested(const pantry::app::ObjectPlace& place, const QString& title, const QString& text);
    /// It is done; of an object that is there now, its place.
    void done(const std::optional<pantry::app::ObjectPlace>& there);
    void closeRequested();

protected:
    bool event(QEvent* event) override;

private:
    void readObject();
    void readUsers();
    void readChoices();
    void readCurrent();
    void write();
    void finish();
    [[nodiscard]] QString warning() const;

    const sql::FormEntry& form_;
    sql::FormPlace formPlace_;
    sql::FieldValues before_;
    QString goes_;     // what goes with the object
    QString problem_;  // why the fields do not show what is there
    bool isTouched_ = false;
    int reading_ = 0;  // lists of choices that are not there yet
    QLabel* about_;
    FormFields* fields_ = nullptr;
    DefinitionPanel* panel_;
};

}  // namespace pantry::app
