#pragma once

#include <QCheckBox>
#include <QLabel>
#include <QLineEdit>

#include "app/base/object_place.h"
#include "app/define/definition_panel.h"
#include "app/desk/desk.h"
#include "app/page/page.h"
#include "core/catalog/object_details.h"
#include "core/sql/define/small_changes.h"

namespace pantry::app {

/// A change of an object that needs one field or none: what it is about, what goes with it, the statement, the verbs.
///
/// Threads: the window's thread.
class SmallChangePage : public Page {
    Q_OBJECT

public:
    SmallChangePage(Desk& desk, ObjectPlace place, sql::SmallChange change, QWidget* parent);

    [[nodiscard]] const ObjectPlace& object() const { return place_; }
    [[nodiscard]] sql::SmallChange change() const { return change_; }
    [[nodiscard]] QString title() const override;
    [[nodiscard]] QIcon icon() const override;
    [[nodiscard]] std::optional<PagePlace> place() const override {
        return PagePlace{place_.connectionId, place_.database};
    }
    void enter() override;

Q_SIGNALS:
    void sheetRequested(const pantry::app::ObjectPlace& place, const QString& title, const QString& text);
    /// It is done; of an object that is there still, its place.
    void done(const std::optional<pantry::app::ObjectPlace>& there);
    void closeRequested();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void readWhatGoes();
    void write();
    void finish();

    Desk& desk_;
    ObjectPlace place_;
    sql::SmallChange change_;
    sql::Dialect dialect_ = sql::Dialect::Ansi;
    std::string detail_;
    QString goes_;  // what goes with it
    QLineEdit* field_;
    QCheckBox* cascade_;
    QLabel* about_;
    DefinitionPanel* panel_;
};

}  // namespace pantry::app
