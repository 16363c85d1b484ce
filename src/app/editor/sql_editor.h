#pragma once

#include <QWidget>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/shared_text.h"
#include "core/sql/check/findings.h"
#include "core/sql/complete/completion.h"
#include "core/sql/syntax/script.h"

namespace pantry::app {

/// What the editor draws beside a statement: the rail's colour and the words behind its first line.
struct StatementMark {
    enum class Mood { None, Going, Good, Part, Bad, Stopped };
    Mood mood = Mood::None;
    QString words;  ///< “24 rows”, an error's message
    QString after;  ///< “18 ms → 1”, quieter
};

/// What is wrong at a place of the text, behind whose line it stands, and how to mend it.
struct TextHint {
    std::size_t start = 0;
    std::size_t length = 0;
    QString message;
    std::optional<sql::TextEdit> mend;
};

/// The text of a sheet: colours by our own syntax tree, line numbers, statement rail with outcomes, completion.
/// Offsets are bytes of the UTF-8 text.
///
/// Lifetime: views the script it is given.
/// Threads:  the window's thread.
class SqlEditor : public QWidget {
    Q_OBJECT

public:
    explicit SqlEditor(QWidget* parent = nullptr);
    ~SqlEditor() override;

    /// The script whose trees colour the text. It must have the editor's text whenever that was announced.
    void setScript(const sql::Script* script);
    /// Asked for what could stand at the caret.
    void setCompleter(std::function<sql::Completion(std::size_t caret)> completer);

    /// What is written; a copy is cheap, whatever its size.
    [[nodiscard]] const base::SharedText& text() const;
    /// Whether it colours, marks and completes. For a text too large for that it only edits: each key then costs the
    /// same, however long the text is. Long lines are shown in several rows in any case.
    void setHelpers(bool on);
    /// Replaces everything and forgets what could be undone.
    void resetText(const base::SharedText& text);
    /// Replaces everything as one step that can be undone.
    void replaceText(const std::string& text, std::size_t caret);
    /// Of a text of more than a megabyte a part is shown, and the part follows the caret.
    struct Part {
        long firstLine = 1;
        long lastLine = 1;
        bool isFirst = true;
        bool isLast = true;
    };
    [[nodiscard]] Part part() const;
    /// Goes to the part before or behind the one that is shown.
    void showPart(bool later);
    /// Puts text at the caret, in place of the selection.
    void insertText(const std::string& text);
    void insertAt(std::size_t offset, const std::string& text);
    /// Puts text below everything, after a blank line, with the caret behind it.
    void appendBelow(const std::string& text);

    [[nodiscard]] std::size_t caret() const;
    void setCaret(std::size_t offset);
    /// As people count, from 1, the column in characters; none where counting would take too long.
    struct CaretPlace {
        long line = 1;
        std::optional<long> column;
    };
    [[nodiscard]] CaretPlace caretPlace() const;
    [[nodiscard]] std::string selection() const;
    [[nodiscard]] std::size_t selectionStart() const;
    void select(std::size_t start, std::size_t end);

    /// One mark for each statement of the script.
    void setMarks(std::vector<StatementMark> marks);
    void setHints(std::vector<TextHint> hints);
    /// Carries out the mend at the caret: that of its line, else the next one; false when there is none.
    bool mend();
    /// Underlines the token at a place; -1 takes the line away.
    void setErrorAt(std::int64_t offset);

    /// What the whole text takes, with a line to go on in; in pixels.
    [[nodiscard]] int contentHeight() const;
    void setTextSize(int points);
    void complete();
    [[nodiscard]] bool isCompleting() const;
    void toggleComment();
    void undo();
    void redo();

Q_SIGNALS:
    void textEdited();
    void caretMoved();
    /// Another part of a large text is shown.
    void partChanged();
    /// Everything was to be selected, and only the part can be.
    void partSelected();
    /// Rail or outcome of a statement was clicked.
    void markClicked(int statementIndex);

private:
    class Area;
    void applyTheme();
    Area* area_;
};

}  // namespace pantry::app
