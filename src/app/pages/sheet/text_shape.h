#pragma once

#include <QObject>
#include <QTimer>

#include "app/editor/sql_editor.h"
#include "app/sheet/sheet.h"

namespace pantry::app {

/// The shape of a sheet's text in its editor: which brackets and words belong together at the caret, and what can be
/// folded. Both are worked out elsewhere, a moment after the text or the caret rests.
///
/// Lifetime: views sheet and editor. Threads: the window's thread.
class TextShape : public QObject {
    Q_OBJECT

public:
    TextShape(Sheet& sheet, SqlEditor& editor, QObject* parent);
    /// Goes from a bracket or a word to the one that belongs to it. `nothing`: hears that there is none.
    void goToOther(std::function<void()> nothing);

private:
    void findPair();
    void findFolds();

    Sheet& sheet_;
    SqlEditor& editor_;
    QTimer pairTimer_;
    QTimer foldTimer_;
};

}  // namespace pantry::app
