#include "app/pages/shelf/difference_view.h"

#include <QKeyEvent>
#include <QPainter>
#include <QScrollBar>
#include <algorithm>
#include <limits>

#include "app/base/text.h"
#include "app/editor/text_styles.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/work/text_reading.h"

namespace pantry::app {
namespace {

using Side = shelf::DifferenceLine::Side;

constexpr int kNumbers = 34;  // pixels for the line's number
constexpr int kSigns = 18;    // and for its sign

constexpr std::size_t kLongestColoured = 1 << 20;  // bytes; beyond that a text stays plain

const TextStyleLook& lookOf(char style) {
    const auto looks = textStyleLooks();
    const auto found = std::ranges::find_if(
        looks, [style](const TextStyleLook& one) { return static_cast<char>(one.style) == style; });
    return found == looks.end() ? looks.front() : *found;
}

}  // namespace

DifferenceView::DifferenceView(QWidget* parent) : QAbstractScrollArea(parent) {
    name(this, "differenceView", tr("Two versions beside each other"));
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::StrongFocus);
    connect(&Theme::current(), &Theme::changed, this, [this] {
        layOut();
        viewport()->update();
    });
    for (QScrollBar* bar : {horizontalScrollBar(), verticalScrollBar()})
        connect(bar, &QScrollBar::actionTriggered, this, [this] { isLookedAt_ = true; });
}

QFont DifferenceView::codeFont() const {
    QFont code(QStringLiteral("Hack"));
    code.setPixelSize(Theme::px(12));
    return code;
}

int DifferenceView::lineHeight() const { return QFontMetrics(codeFont()).height() + 5; }

void DifferenceView::show(std::vector<shelf::DifferenceLine> lines, const sql::Language& language) {
    lines_ = std::move(lines);
    colour(language);
    isLookedAt_ = false;
    layOut();
    goToFirstChange();
    viewport()->update();
}

/// So far that what changed first is in sight, and no further than needed.
void DifferenceView::goToFirstChange() {
    const auto first = std::ranges::find_if(lines_, [](const auto& line) { return !line.isSame; });
    verticalScrollBar()->setValue(0);
    horizontalScrollBar()->setValue(0);
    if (first == lines_.end()) return;
    constexpr int kLinesAbove = 3;
    const int row = static_cast<int>(first - lines_.begin());
    const int height = lineHeight();
    if ((row + kLinesAbove) * height > viewport()->height())
        verticalScrollBar()->setValue((row - kLinesAbove) * height);
    int from = std::numeric_limits<int>::max();
    int end = 0;
    for (const auto* side : {&first->before, &first->now}) {
        if (!*side) continue;
        from = std::min(from, static_cast<int>((*side)->changed.first));
        end = std::max(end, static_cast<int>((*side)->text.size()));
    }
    const int letter = QFontMetrics(codeFont()).horizontalAdvance(QLatin1Char('n'));
    constexpr int kLettersBefore = 20;
    const int room = viewport()->width() / 2 - kNumbers - kSigns - 8;
    if (std::min(from + kLettersBefore, end) * letter > room)
        horizontalScrollBar()->setValue(std::max(0, from - kLettersBefore) * letter);
}

/// Each text is lexed as a whole, since strings and comments may go over several lines.
void DifferenceView::colour(const sql::Language& language) {
    pieces_.assign(lines_.size(), {});
    widest_ = 0;
    for (const bool isNow : {false, true}) {
        std::string text;
        std::vector<std::pair<std::size_t, std::size_t>> starts;  // byte and line of those that are there
        for (std::size_t i = 0; i < lines_.size(); ++i) {
            const auto& side = isNow ? lines_[i].now : lines_[i].before;
            if (!side) continue;
            starts.emplace_back(text.size(), i);
            text += side->text + '\n';
            widest_ = std::max(widest_, static_cast<int>(side->text.size()));
        }
        if (text.size() > kLongestColoured) continue;
        const auto reading = work::TextReading::of(base::SharedText(text), language, nullptr);
        const std::string styles = stylesOf(reading, 0, text.size());
        for (const auto& [start, line] : starts) {
            const std::size_t end = text.find('\n', start);
            Pieces& pieces = isNow ? pieces_[line].second : pieces_[line].first;
            for (std::size_t at = start; at < end;) {
                std::size_t next = at;
                while (next < end && styles[next] == styles[at]) ++next;
                const TextStyleLook& look = lookOf(styles[at]);
                pieces.push_back({at - start, next - at, look.role, look.isBold});
                at = next;
            }
        }
    }
}

void DifferenceView::layOut() {
    const int all = static_cast<int>(lines_.size()) * lineHeight() + 12;
    verticalScrollBar()->setPageStep(viewport()->height());
    verticalScrollBar()->setSingleStep(lineHeight());
    verticalScrollBar()->setRange(0, std::max(0, all - viewport()->height()));
    const int letter = QFontMetrics(codeFont()).horizontalAdvance(QLatin1Char('n'));
    const int room = viewport()->width() / 2 - kNumbers - kSigns - 8;
    horizontalScrollBar()->setPageStep(std::max(1, room));
    horizontalScrollBar()->setSingleStep(letter * 4);
    horizontalScrollBar()->setRange(0, std::max(0, widest_ * letter - room));
}

void DifferenceView::resizeEvent(QResizeEvent* event) {
    QAbstractScrollArea::resizeEvent(event);
    layOut();
    if (!isLookedAt_) goToFirstChange();  // with its real size it may all be in sight
}

void DifferenceView::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
        case Qt::Key_Down: return verticalScrollBar()->triggerAction(QAbstractSlider::SliderSingleStepAdd);
        case Qt::Key_Up: return verticalScrollBar()->triggerAction(QAbstractSlider::SliderSingleStepSub);
        case Qt::Key_PageDown: return verticalScrollBar()->triggerAction(QAbstractSlider::SliderPageStepAdd);
        case Qt::Key_PageUp: return verticalScrollBar()->triggerAction(QAbstractSlider::SliderPageStepSub);
        default: QAbstractScrollArea::keyPressEvent(event);
    }
}

void DifferenceView::paintSide(QPainter& painter, const QRect& area, const Side* side, const Pieces& pieces,
                               bool isSame, bool isNow) {
    const Theme& theme = Theme::current();
    if (side == nullptr) return painter.fillRect(area, theme.colour("paper"));
    const QColor tint = theme.colour(isNow ? "sage" : "tomato");
    if (!isSame) painter.fillRect(area, theme.tinted(tint, 0.14));
    painter.setPen(theme.colour("quiet"));
    painter.drawText(QRect(area.left(), area.top(), kNumbers - 6, area.height()), Qt::AlignRight | Qt::AlignVCenter,
                     QString::number(side->number));
    if (!isSame) {
        painter.setPen(tint);
        painter.drawText(QRect(area.left() + kNumbers, area.top(), kSigns, area.height()),
                         Qt::AlignHCenter | Qt::AlignVCenter, isNow ? QStringLiteral("+") : QStringLiteral("−"));
    }
    const QRect text = area.adjusted(kNumbers + kSigns + 4, 0, -4, 0);
    painter.save();
    painter.setClipRect(text, Qt::IntersectClip);
    const QFontMetrics metrics(painter.font());
    const int left = text.left() - horizontalScrollBar()->value();
    const auto xOf = [&](std::size_t byte) {
        return left + metrics.horizontalAdvance(toQt(std::string_view(side->text).substr(0, byte)));
    };
    const bool hasMiddle = !isSame && side->changed.second > side->changed.first;
    if (hasMiddle) {
        const int from = xOf(side->changed.first);
        painter.fillRect(QRect(from, area.top() + 1, xOf(side->changed.second) - from, area.height() - 2),
                         theme.tinted(tint, 0.32));
    }
    if (pieces.empty()) {
        painter.setPen(theme.colour("ink"));
        painter.drawText(QRect(left, area.top(), area.width() * 4, area.height()), Qt::AlignVCenter, toQt(side->text));
    }
    for (const Piece& piece : pieces) {
        QFont font = painter.font();
        font.setBold(piece.isBold);
        painter.setFont(font);
        painter.setPen(theme.colour(piece.role));
        const QString label = toQt(std::string_view(side->text).substr(piece.start, piece.length));
        painter.drawText(QRect(xOf(piece.start), area.top(), area.width() * 4, area.height()), Qt::AlignVCenter, label);
    }
    painter.restore();
}

/// Only what is to be seen is painted, however long the texts are.
void DifferenceView::paintEvent(QPaintEvent*) {
    QPainter painter(viewport());
    const Theme& theme = Theme::current();
    painter.fillRect(viewport()->rect(), theme.colour("card"));
    painter.setFont(codeFont());
    const int height = lineHeight();
    const int half = viewport()->width() / 2;
    const int top = 6 - verticalScrollBar()->value();
    const auto first = static_cast<std::size_t>(std::max(0, -top / height));
    for (std::size_t i = first; i < lines_.size(); ++i) {
        const int y = top + static_cast<int>(i) * height;
        if (y > viewport()->height()) break;
        const shelf::DifferenceLine& line = lines_[i];
        paintSide(painter, QRect(0, y, half, height), line.before ? &*line.before : nullptr, pieces_[i].first,
                  line.isSame, false);
        paintSide(painter, QRect(half, y, viewport()->width() - half, height), line.now ? &*line.now : nullptr,
                  pieces_[i].second, line.isSame, true);
    }
    painter.setPen(theme.colour("line"));
    painter.drawLine(half, 0, half, viewport()->height());
}

}  // namespace pantry::app

#include "moc_difference_view.cpp"
