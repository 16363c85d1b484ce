#include "app/result/messages_view.h"

#include "app/base/text.h"
#include "app/base/widgets.h"
#include "app/result/result_names.h"
#include "core/base/text.h"
#include "core/base/time.h"

namespace pantry::app {
namespace {

QString timed(base::Moment when, const QString& words) {
    const auto since = std::chrono::duration_cast<std::chrono::milliseconds>(when.time_since_epoch()).count();
    return QDateTime::fromMSecsSinceEpoch(since).toString(QStringLiteral("HH:mm:ss.zzz")) + QStringLiteral("  ") +
           words;
}

}  // namespace

MessagesView::MessagesView(QWidget* parent) : QPlainTextEdit(parent) {
    name(this, resultName::kMessagesList, tr("What the server said"));
    setReadOnly(true);
    setProperty("look", "code");
    setFrameShape(QFrame::NoFrame);
}

void MessagesView::show(const Card* card) {
    if (card == nullptr) return clear();
    QStringList lines;
    lines += timed(card->startedAt(), tr("began on %1").arg(card->place()));
    for (const Card::Message& message : card->messages()) {
        QString words =
            toQt(base::toLower(message.notice.severity)) + QStringLiteral(": ") + toQt(message.notice.message);
        if (!message.notice.code.empty())
            words += QStringLiteral("  [") + toQt(message.notice.code) + QStringLiteral("]");
        lines += timed(message.when, words);
    }
    if (!card->isGoingOn()) {
        const db::RunSummary& summary = card->summary();
        const base::Moment end =
            card->startedAt() + std::chrono::duration_cast<base::Moment::duration>(summary.totalTime);
        lines += timed(end, card->outcomeWords());
        if (card->error()) {
            const Error& error = *card->error();
            const auto add = [&lines](const QString& what, const std::string& text) {
                if (!text.empty()) lines += QStringLiteral("              ") + what + QStringLiteral(": ") + toQt(text);
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
}

}  // namespace pantry::app
