#pragma once

#include <QObject>

#include "app/desk/desk.h"
#include "app/editor/sql_editor.h"
#include "app/sheet/sheet.h"

namespace pantry::app {

/// Puts snippets into a sheet's text, and offers what their places can be filled with.
class SnippetWork : public QObject {
    Q_OBJECT

public:
    SnippetWork(Desk& desk, Sheet& sheet, SqlEditor& editor, QObject* parent);

    /// All that are offered in this sheet, to choose from; the chosen one goes to the caret.
    void offerAll();
    [[nodiscard]] std::vector<snippet::Snippet> all() const;
    /// Puts one in at the caret, or in place of the selection.
    void putAtCaret(const snippet::Snippet& one);
    /// Whether the statement at a byte of the text has a place that stands open, which is said.
    [[nodiscard]] bool isOpenAt(std::size_t caret);

Q_SIGNALS:
    void remarked(const QString& text);

private:
    void put(const snippet::Snippet& one, std::size_t start, std::size_t length);
    void offerForPlace();

    Desk& desk_;
    Sheet& sheet_;
    SqlEditor& editor_;
};

}  // namespace pantry::app
