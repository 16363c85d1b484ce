#pragma once

#include <QWidget>
#include <optional>
#include <string>
#include <vector>

#include "app/editor/text_notes.h"
#include "core/base/shared_text.h"
#include "core/sql/complete/completion.h"
#include "core/work/text_reading.h"

namespace pantry::app {

/// The text of a sheet: colours, line numbers, statement rail with outcomes, completion. What it shows of the text is
/// found elsewhere, and told it for a version of the text; until the next is told, it shows the last one where that has
/// moved to. Offsets are bytes of the UTF-8 text.
///
/// Threads:  the window's thread.
class SqlEditor : public QWidget {
    Q_OBJECT

public:
    explicit SqlEditor(QWidget* parent = nullptr);
    ~SqlEditor() override;

    /// What was found in a version of the text: colours, statements, mistakes of JSON. Marks and hints are set for it
    /// afterwards. Of a text too large to be read it only edits: each key then costs the same, however long the text
    /// is.
    void setReading(const work::TextReadingPtr& reading);
    /// The answer to completionRequested(); nothing happens when something else was asked since, or written.
    void offer(const sql::Completion& completion, quint64 question);

    /// What is written; a copy is cheap, whatever its size.
    [[nodiscard]] const base::SharedText& text() const;
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

    /// Of statements that ran, in their order.
    void setMarks(std::vector<StatementMark> marks);
    void setHints(std::vector<TextHint> hints);
    [[nodiscard]] const std::vector<TextHint>& hints() const;
    /// Carries out the mend at the caret: that of its line, else the next one; false when there is none.
    bool mend();
    /// Underlines the token at a place of the text that was read last; -1 takes the line away.
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
    /// Somebody writes where something could be offered, or asks.
    void completionRequested(std::size_t caret, quint64 question);
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
