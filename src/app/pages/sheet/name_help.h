#pragma once

#include <QObject>
#include <QTimer>

#include "app/base/object_place.h"
#include "app/desk/desk.h"
#include "app/editor/sql_editor.h"
#include "app/sheet/sheet.h"

namespace pantry::app {

/// What a name of the text is: at the pointer in a tip, with its uses marked once the caret rests on it, below its line
/// with its definition, or on a page of its own.
class NameHelp : public QObject {
    Q_OBJECT

public:
    NameHelp(Desk& desk, Sheet& sheet, SqlEditor& editor, QObject* parent);

    /// Opens what is known about the name at the caret below its line, or closes it.
    void showDefinition();

Q_SIGNALS:
    void remarked(const QString& text);
    void objectRequested(const pantry::app::ObjectPlace& place);

private:
    using Name = std::optional<work::NameInText>;
    void find(std::size_t offset, std::function<void(const Name&)> told);
    void showSignature(std::size_t caret);
    void markUses();
    void open(const Name& name);
    void goTo(const Name& name);
    [[nodiscard]] QWidget* makeInset(const sql::NameFacts& facts);

    Desk& desk_;
    Sheet& sheet_;
    SqlEditor& editor_;
    QTimer restTimer_;
};

}  // namespace pantry::app
