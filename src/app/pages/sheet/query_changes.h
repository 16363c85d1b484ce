#pragma once

#include <QObject>
#include <string>

#include "app/editor/sql_editor.h"
#include "app/sheet/sheet.h"

namespace pantry::app {

/// Carries out changes of the query at the caret: written in another way, its * unfolded, a name of it changed
/// everywhere. What is changed, and how, is found beside the window.
class QueryChanges : public QObject {
    Q_OBJECT

public:
    QueryChanges(Sheet& sheet, SqlEditor& editor, QObject* parent);

    /// `way`: one of sql::rewritings().
    void rewrite(const std::string& way);
    /// Offers the columns that the * at the caret stands for, to be ticked.
    void unfold();
    /// A caret at each place of the name at the caret, so that it is changed everywhere as it is written.
    void rename();

    /// Puts what the clipboard holds of SQL in a program's strings at the caret.
    void pasteFromCode();
    /// Copies the selection, or the statement at the caret, as a string of a language that is chosen.
    void copyAsCode();

Q_SIGNALS:
    /// Why nothing was changed, or what is to be done next.
    void remarked(const QString& text);
    /// A value of the text became a parameter.
    void parameterMade(const QString& key, const QString& value);

private:
    void put(const Result<sql::Rewritten>& change);
    void rewriteWith(const std::string& way, sql::RewriteWish wish);

    Sheet& sheet_;
    SqlEditor& editor_;
};

}  // namespace pantry::app
