#pragma once

#include <QFont>
#include <QPainter>
#include <QPoint>
#include <QRect>
#include <QString>
#include <cstddef>
#include <map>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "core/base/text_edits.h"
#include "core/sql/check/findings.h"
#include "core/work/text_reading.h"

namespace pantry::app {

/// What stands beside a statement: the rail's colour and the words behind its first line.
struct StatementMark {
    enum class Status { None, Running, Done, Partial, Failed, Stopped };
    std::size_t statement = 0;  ///< its index in the script
    Status status = Status::None;
    QString label;    ///< “24 rows”, an error's message
    QString details;  ///< “18 ms → 1”, quieter
};

/// What is wrong at a place of the text, behind whose line it stands, and how to mend it.
struct TextHint {
    std::size_t start = 0;
    std::size_t length = 0;
    QString message;
    std::optional<sql::TextEdit> mend;
    sql::Severity severity = sql::Severity::Error;
    std::string rule = {};  ///< that found it, and that can be turned off; empty for what cannot
};

[[nodiscard]] TextHint hintOf(const sql::Finding& finding);

/// Where lines of a text are drawn. Places are bytes of the text as it is now.
class TextGeometry {
public:
    struct Extent {
        int top;
        int bottom;
        int textEnd;  ///< x behind the first line's text
    };
    virtual ~TextGeometry() = default;
    /// The lines of a range; nothing when they are out of sight.
    [[nodiscard]] virtual std::optional<Extent> linesOf(std::size_t start, std::size_t end) const = 0;
    /// The line of a place; nothing when it is folded or out of sight.
    [[nodiscard]] virtual std::optional<Extent> lineOf(std::size_t place) const = 0;
    [[nodiscard]] virtual std::pair<std::size_t, std::size_t> bytesInSight() const = 0;
    [[nodiscard]] virtual std::size_t caretByte() const = 0;
    [[nodiscard]] virtual int shownWidth() const = 0;
    [[nodiscard]] virtual int lineHeight() const = 0;
    [[nodiscard]] virtual int railLeft() const = 0;
    [[nodiscard]] virtual int textLeft() const = 0;
};

/// What is painted beside and behind the statements of a text: the rail, outcomes, hints. All are about the version of
/// the text that was read last, and are shown where that has moved to since.
///
/// Lifetime: views the geometry.
/// Threads:  the window's thread.
class TextNotes {
public:
    static constexpr int kRailWidth = 12;  ///< of the stripe beside the statements, in pixels

    explicit TextNotes(const TextGeometry& geometry) : geometry_(geometry) {}

    /// Marks and hints go, until they are set for this one.
    void setReading(work::TextReadingPtr reading);
    /// The text is another one than what was read.
    [[nodiscard]] base::TextEdits& edits() { return edits_; }
    [[nodiscard]] const work::TextReadingPtr& reading() const { return reading_; }
    /// Whether what was read is the text as it is now.
    [[nodiscard]] bool isFresh() const { return reading_ != nullptr && edits_.empty(); }

    /// In the order of their statements.
    void setMarks(std::vector<StatementMark> marks) { marks_ = std::move(marks); }
    [[nodiscard]] const std::vector<StatementMark>& marks() const { return marks_; }
    void setHints(std::vector<TextHint> hints) { hints_ = std::move(hints); }
    [[nodiscard]] const std::vector<TextHint>& hints() const { return hints_; }
    /// Where a hint's place is now.
    [[nodiscard]] std::size_t startOf(const TextHint& hint) const { return edits_.now(hint.start); }
    [[nodiscard]] std::size_t endOf(const TextHint& hint) const { return edits_.now(hint.start + hint.length); }

    void paint(QPainter& painter) const;
    /// The statement whose rail or outcome is at a point; -1 for none.
    [[nodiscard]] int markAt(const QPoint& point) const;
    /// The hint whose words are at a point; none else.
    [[nodiscard]] const TextHint* hintAt(const QPoint& point) const;
    /// The most severe hint about a byte of the text as it is now; none else.
    [[nodiscard]] const TextHint* hintAbout(std::size_t byte) const;

private:
    struct Shown {
        std::size_t statement;
        TextGeometry::Extent extent;
        const StatementMark* mark;  ///< none when it did not run
    };
    /// Words behind a line.
    struct Note {
        QString label;
        QString details;  ///< quieter
        const char* role = "";
    };
    /// A hint whose words are shown, and its line, behind whatever else stands there.
    struct ShownHint {
        const TextHint* hint;
        TextGeometry::Extent extent;
    };
    [[nodiscard]] static Note noteOf(const StatementMark& mark);
    [[nodiscard]] static Note noteOf(const TextHint& hint);
    [[nodiscard]] static int widthOf(const Note& note);
    [[nodiscard]] std::vector<ShownHint> hintsInSight() const;
    [[nodiscard]] bool hasStatements() const;
    [[nodiscard]] std::vector<Shown> inSight() const;
    [[nodiscard]] std::map<int, std::size_t> notesByLine(const std::vector<Shown>& shown) const;
    [[nodiscard]] std::optional<std::size_t> currentStatement() const;
    [[nodiscard]] QRect noteRect(const TextGeometry::Extent& extent, const Note& note) const;
    void paintNote(QPainter& painter, const TextGeometry::Extent& extent, const Note& note) const;
    void paintStatements(QPainter& painter) const;

    const TextGeometry& geometry_;
    work::TextReadingPtr reading_;
    base::TextEdits edits_;
    std::vector<StatementMark> marks_;
    std::vector<TextHint> hints_;
};

}  // namespace pantry::app
