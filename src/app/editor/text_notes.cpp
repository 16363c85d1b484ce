#include "app/editor/text_notes.h"

#include <QApplication>
#include <QFontMetrics>
#include <algorithm>

#include "app/base/text.h"
#include "app/command/command.h"
#include "app/look/theme.h"

namespace pantry::app {
namespace {

constexpr int kNoteApart = 26;  // from the text that it stands behind

using Status = StatementMark::Status;

const char* roleFor(Status status) {
    switch (status) {
        case Status::Done: return "sage";
        case Status::Running:
        case Status::Partial: return "juniper";
        case Status::Failed: return "tomato";
        case Status::Stopped: return "marigold";
        case Status::None: break;
    }
    return "line";
}

QString signFor(Status status) {
    switch (status) {
        case Status::Done: return QStringLiteral("✓ ");
        case Status::Failed: return QStringLiteral("✗ ");
        case Status::Running: return QStringLiteral("… ");
        default: return {};
    }
}

QFont noteFont(QFont::Weight weight) {
    QFont font = QApplication::font();
    font.setFamily(QStringLiteral("Inter"));
    font.setPixelSize(Theme::px(12));
    font.setWeight(weight);
    return font;
}

const char* roleFor(sql::Severity severity) {
    switch (severity) {
        case sql::Severity::Error: return "tomato";
        case sql::Severity::Warning: return "marigold";
        case sql::Severity::Hint: break;
    }
    return "quiet";
}

}  // namespace

/// A mistake in the language itself is always told.
TextHint hintOf(const sql::Finding& finding) {
    return {.start = finding.start,
            .length = finding.length,
            .message = toQt(finding.message),
            .mend = finding.fix,
            .severity = finding.severity,
            .rule = finding.rule == sql::kSyntaxRule ? std::string() : std::string(finding.rule)};
}

TextNotes::Note TextNotes::noteOf(const StatementMark& mark) {
    return {.label = signFor(mark.status) + mark.label, .details = mark.details, .role = roleFor(mark.status)};
}

TextNotes::Note TextNotes::noteOf(const TextHint& hint) {
    return {.label = hint.message,
            .details = hint.mend ? QApplication::translate("SqlEditor", "  %1 mends it").arg(keyText("editor.mend"))
                                 : QString(),
            .role = roleFor(hint.severity)};
}

int TextNotes::widthOf(const Note& note) {
    return QFontMetrics(noteFont(QFont::DemiBold)).horizontalAdvance(note.label) +
           QFontMetrics(noteFont(QFont::Normal)).horizontalAdvance(note.details);
}

void TextNotes::setReading(work::TextReadingPtr reading) {
    reading_ = std::move(reading);
    marks_.clear();
    hints_.clear();
}

bool TextNotes::hasStatements() const {
    return reading_ != nullptr && !reading_->isTooLarge() && !reading_->json().has_value();
}

std::optional<std::size_t> TextNotes::currentStatement() const {
    return reading_->script().indexAt(edits_.then(geometry_.caretByte()));
}

/// The statements of which something is in sight, in order.
std::vector<TextNotes::Shown> TextNotes::inSight() const {
    const auto [firstByte, lastByte] = geometry_.bytesInSight();
    const auto& all = reading_->script().statements();
    const auto from =
        std::ranges::lower_bound(all, edits_.then(firstByte), {}, [](const auto& s) { return s.span.end(); });
    const auto to =
        std::ranges::upper_bound(all, edits_.then(lastByte), {}, [](const auto& s) { return s.span.start; });
    std::vector<Shown> shown;
    for (auto s = from; s < to; ++s) {
        const auto index = static_cast<std::size_t>(s - all.begin());
        const auto extent = geometry_.linesOf(edits_.now(s->span.start), edits_.now(s->span.end()));
        if (!extent) continue;
        const auto mark = std::ranges::lower_bound(marks_, index, {}, &StatementMark::statement);
        const bool isMarked = mark != marks_.end() && mark->statement == index;
        shown.push_back({index, *extent, isMarked ? &*mark : nullptr});
    }
    return shown;
}

/// Of several statements that begin on one line, the one whose outcome stands behind it: one that failed, else that at
/// the caret, else the last that ran. By the line's upper edge.
std::map<int, std::size_t> TextNotes::notesByLine(const std::vector<Shown>& shown) const {
    const auto current = currentStatement();
    std::map<int, std::pair<int, std::size_t>> ranked;
    for (const Shown& one : shown) {
        if (one.mark == nullptr || (one.mark->label.isEmpty() && one.mark->details.isEmpty())) continue;
        const bool isOfBefore = one.mark->label.isEmpty();  // what it did another time stands behind what was done now
        const int rank = one.mark->status == Status::Failed ? 2 : isOfBefore ? -1 : current == one.statement ? 1 : 0;
        const auto [at, isFirst] = ranked.emplace(one.extent.top, std::pair(rank, one.statement));
        if (!isFirst && rank >= at->second.first) at->second = {rank, one.statement};
    }
    std::map<int, std::size_t> notes;
    for (const auto& [top, note] : ranked) notes.emplace(top, note.second);
    return notes;
}

/// Where the words behind a line stand: behind its text, never over the margin; where a long line leaves no room, over
/// its end.
QRect TextNotes::noteRect(const TextGeometry::Extent& extent, const Note& note) const {
    constexpr int kEdge = 8;
    constexpr int kLeastRoom = 220;
    const QFontMetrics strong(noteFont(QFont::DemiBold));
    const int wanted = strong.horizontalAdvance(note.label) + 2;
    const int right = geometry_.shownWidth() - kEdge;
    const int behind = std::max(extent.textEnd, geometry_.textLeft() - kNoteApart + kEdge) + kNoteApart;
    const int left = std::min(behind, right - std::min(wanted, kLeastRoom));
    return {left, extent.top, std::max(0, right - left), geometry_.lineHeight()};
}

void TextNotes::paintNote(QPainter& painter, const TextGeometry::Extent& extent, const Note& note) const {
    const Theme& theme = Theme::current();
    const QRect place = noteRect(extent, note);
    const bool isQuiet = note.label.isEmpty();
    if (isQuiet && place.left() < extent.textEnd) return;  // it is worth no letter of the text
    const QFont strong = noteFont(QFont::DemiBold);
    if (place.left() < extent.textEnd) painter.fillRect(place.adjusted(-6, 0, 8, 0), theme.colour("card"));
    const QString label = QFontMetrics(strong).elidedText(note.label, Qt::ElideRight, place.width());
    painter.setFont(strong);
    painter.setPen(theme.colour(note.role));
    painter.drawText(place, Qt::AlignVCenter, label);
    const int used = QFontMetrics(strong).horizontalAdvance(label);
    if (used + 20 >= place.width()) return;
    const QFont quiet = noteFont(QFont::Normal);
    painter.setFont(quiet);
    painter.setPen(theme.colour("quiet"));
    painter.drawText(place.adjusted(used, 0, 0, 0), Qt::AlignVCenter,
                     QFontMetrics(quiet).elidedText(note.details, Qt::ElideRight, place.width() - used));
}

void TextNotes::paint(QPainter& painter) const {
    if (reading_ == nullptr) return;
    if (const auto& json = reading_->json(); json && json->problem) {
        // What is wrong with a JSON text stands behind the line where it is.
        const auto extent = geometry_.lineOf(edits_.now(json->problem->byteOffset));
        const StatementMark mark{.status = Status::Failed, .label = toQt(json->problem->message)};
        if (extent) paintNote(painter, *extent, noteOf(mark));
    }
    if (!hasStatements()) return;
    paintStatements(painter);
    for (const ShownHint& shown : hintsInSight()) paintNote(painter, shown.extent, noteOf(*shown.hint));
}

/// One for a line, the most severe; behind the outcome of a statement that begins there.
std::vector<TextNotes::ShownHint> TextNotes::hintsInSight() const {
    const auto [firstByte, lastByte] = geometry_.bytesInSight();
    std::map<int, ShownHint> byLine;
    for (const TextHint& hint : hints_) {
        const std::size_t start = startOf(hint);
        if (start < firstByte || start > lastByte) continue;
        const auto extent = geometry_.lineOf(start);
        if (!extent) continue;
        const auto [at, isFirst] = byLine.emplace(extent->top, ShownHint{&hint, *extent});
        if (!isFirst && hint.severity < at->second.hint->severity) at->second.hint = &hint;
    }
    if (byLine.empty()) return {};
    const std::vector<Shown> statements = inSight();
    auto outcomes = notesByLine(statements);
    std::erase_if(outcomes, [&](const auto& one) {  // what a statement did another time gives way
        return std::ranges::find(statements, one.second, &Shown::statement)->mark->label.isEmpty();
    });
    for (const auto& [top, statement] : outcomes) {
        const auto at = byLine.find(top);
        const auto one = std::ranges::find(statements, statement, &Shown::statement);
        if (at != byLine.end()) at->second.extent.textEnd += kNoteApart + widthOf(noteOf(*one->mark));
    }
    // Words that find no room cover the end of a line, but neither what is being written nor an outcome.
    const auto written = geometry_.lineOf(geometry_.caretByte());
    std::vector<ShownHint> shown;
    for (const auto& [top, one] : byLine) {
        const bool isKept = (written && written->top == top) || outcomes.contains(top);
        const bool isCovering = noteRect(one.extent, noteOf(*one.hint)).left() < one.extent.textEnd;
        if (!isKept || !isCovering) shown.push_back(one);
    }
    return shown;
}

void TextNotes::paintStatements(QPainter& painter) const {
    const Theme& theme = Theme::current();
    const int railX = geometry_.railLeft() + 3;
    const auto current = currentStatement();
    const std::vector<Shown> shown = inSight();
    const std::map<int, std::size_t> notes = notesByLine(shown);
    const std::vector<ShownHint> hints = hintsInSight();
    for (const Shown& one : shown) {
        const auto note = notes.find(one.extent.top);
        if (note != notes.end() && note->second != one.statement) continue;
        const Status status = one.mark != nullptr ? one.mark->status : Status::None;
        const bool isChosen = status == Status::None && current == one.statement;
        const QColor rail = theme.colour(isChosen ? "juniper" : roleFor(status));
        painter.fillRect(QRect(railX, one.extent.top + 1, 3, one.extent.bottom - one.extent.top - 2), rail);
        const bool isOfBefore = one.mark != nullptr && one.mark->label.isEmpty();
        const bool givesWay = isOfBefore && std::ranges::any_of(hints, [&](const ShownHint& hint) {
                                  return hint.extent.top == one.extent.top;
                              });
        if (one.mark != nullptr && !givesWay) paintNote(painter, one.extent, noteOf(*one.mark));
    }
}

int TextNotes::markAt(const QPoint& point) const {
    if (!hasStatements()) return -1;
    const int railX = geometry_.railLeft();
    const std::vector<Shown> shown = inSight();
    const std::map<int, std::size_t> notes = notesByLine(shown);
    for (const Shown& one : shown) {
        if (point.y() < one.extent.top || point.y() >= one.extent.bottom) continue;
        const auto note = notes.find(one.extent.top);
        if (note != notes.end() && note->second != one.statement) continue;
        if (one.mark == nullptr || one.mark->label.isEmpty()) return -1;
        const bool onRail = point.x() >= railX && point.x() < railX + kRailWidth;
        const bool onNote = noteRect(one.extent, noteOf(*one.mark)).adjusted(-6, 0, 8, 0).contains(point);
        return onRail || onNote ? static_cast<int>(one.statement) : -1;
    }
    return -1;
}

const TextHint* TextNotes::hintAt(const QPoint& point) const {
    for (const ShownHint& shown : hintsInSight()) {
        if (noteRect(shown.extent, noteOf(*shown.hint)).contains(point)) return shown.hint;
    }
    return nullptr;
}

const TextHint* TextNotes::hintAbout(std::size_t byte) const {
    const TextHint* about = nullptr;
    for (const TextHint& hint : hints_) {
        const bool isThere = startOf(hint) <= byte && byte < std::max(endOf(hint), startOf(hint) + 1);
        if (isThere && (about == nullptr || hint.severity < about->severity)) about = &hint;
    }
    return about;
}

}  // namespace pantry::app
