#include "app/result/messages_view.h"

#include <QDateTime>
#include <algorithm>

#include "app/base/text.h"
#include "app/look/widgets.h"
#include "app/result/result_names.h"
#include "core/base/text.h"
#include "core/base/time.h"
#include "core/base/utf8.h"

namespace pantry::app {
namespace {

QString timed(base::Moment when, const QString& text) {
    const auto since = std::chrono::duration_cast<std::chrono::milliseconds>(when.time_since_epoch()).count();
    return QDateTime::fromMSecsSinceEpoch(since).toString(QStringLiteral("HH:mm:ss.zzz")) + QStringLiteral("  ") + text;
}

}  // namespace

MessagesView::MessagesView(QWidget* parent)
    : QPlainTextEdit(parent),
      showAll_(makeButton(tr("Show all"), "", resultName::kMessagesAll, tr("Show the whole texts"), this)) {
    name(this, resultName::kMessagesList, tr("What the server said"));
    setReadOnly(true);
    setProperty("look", "code");
    setFrameShape(QFrame::NoFrame);
    showAll_->hide();
    connect(showAll_, &QPushButton::clicked, this, [this] {
        showsAll_ = true;
        refresh();
    });
}

void MessagesView::resizeEvent(QResizeEvent* event) {
    QPlainTextEdit::resizeEvent(event);
    constexpr int kMargin = 8;
    showAll_->adjustSize();
    showAll_->move(width() - showAll_->width() - 3 * kMargin, kMargin);
}

void MessagesView::show(const ResultSource* source) {
    if (source != source_) showsAll_ = false;
    source_ = source;
    refresh();
}

/// As much of a text as there is room for; in lines that can be laid out quickly, when it is all to be shown.
QString MessagesView::shown(const std::string& text) {
    constexpr std::size_t kLineBytes = 1000;
    const std::size_t most = std::min(room_, showsAll_ ? room_ : work::Run::kShownBytes);
    const std::string_view part = base::prefixOf(text, most);
    room_ -= part.size();
    if (part.size() == text.size() && text.size() <= work::Run::kShownBytes) return toQt(text);
    QString out;
    for (std::string_view rest = part; !rest.empty();) {
        const std::string_view line = base::prefixOf(rest, kLineBytes);
        if (!out.isEmpty()) out += QLatin1Char('\n');
        out += toQt(line);
        rest.remove_prefix(line.size());
    }
    if (part.size() == text.size()) return out;
    hasCut_ = true;
    return out + tr("… (%1 in all)").arg(toQt(base::readableBytes(text.size())));
}

void MessagesView::refresh() {
    constexpr std::size_t kMaxBytes = 256 * 1024;
    constexpr std::size_t kMaxBytesInAll = 8 << 20;
    const ResultSource* source = source_;
    hasCut_ = false;
    room_ = showsAll_ ? kMaxBytesInAll : kMaxBytes;
    if (source == nullptr) {
        showAll_->hide();
        return clear();
    }
    QStringList lines;
    lines += timed(source->startedAt(), tr("began on %1").arg(source->place()));
    for (const ResultSource::Message& message : source->messages()) {
        QString label =
            toQt(base::toLower(message.notice.severity)) + QStringLiteral(": ") + shown(message.notice.message);
        if (!message.notice.code.empty())
            label += QStringLiteral("  [") + toQt(message.notice.code) + QStringLiteral("]");
        lines += timed(message.when, label);
    }
    if (!source->isGoingOn()) {
        const db::RunSummary& summary = source->summary();
        if (summary.noticesLeftOut > 0) {
            lines +=
                tr("%1 more were not kept")
                    .arg(toQt(base::counted(static_cast<std::int64_t>(summary.noticesLeftOut), "message", "messages")));
        }
        if (summary.resultsLeftOut > 0) {
            lines +=
                tr("%1 more came and are not shown")
                    .arg(toQt(base::counted(static_cast<std::int64_t>(summary.resultsLeftOut), "result", "results")));
        }
        const base::Moment end =
            source->startedAt() + std::chrono::duration_cast<base::Moment::duration>(summary.totalTime);
        const bool isFailed = source->wholeError().has_value() && source->state() == ResultSource::State::Failed;
        lines += timed(end, isFailed ? shown(source->wholeError()->message) : source->outcomeText());
        if (source->wholeError()) {
            const Error& error = *source->wholeError();
            const auto add = [&](const QString& what, const std::string& text) {
                if (!text.empty())
                    lines += QStringLiteral("              ") + what + QStringLiteral(": ") + shown(text);
            };
            add(tr("code"), error.code);
            add(tr("detail"), error.detail);
            add(tr("constraint"), error.constraint);
            add(tr("what to do"), error.hint);
        }
        lines += QString();
        lines += tr("until the first row, at the server: %1").arg(toQt(base::readable(summary.serverTime)));
        lines += tr("all of it, fetching included: %1").arg(toQt(base::readable(summary.totalTime)));
    }
    setPlainText(lines.join(QLatin1Char('\n')));
    const bool isOffered = hasCut_ && !showsAll_;
    showAll_->setVisible(isOffered);
    setViewportMargins(0, isOffered ? showAll_->sizeHint().height() + 10 : 0, 0, 0);  // it covers no text
}

}  // namespace pantry::app

#include "moc_messages_view.cpp"
