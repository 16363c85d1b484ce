#include "app/ledger/run_words.h"

#include <QObject>
#include <QStringList>

#include "app/base/text.h"
#include "core/base/text.h"

namespace pantry::app {

QString statusSign(store::RunStatus status) {
    switch (status) {
        case store::RunStatus::Succeeded: return QStringLiteral("✓ ");
        case store::RunStatus::Failed:
        case store::RunStatus::Interrupted: return QStringLiteral("✕ ");
        case store::RunStatus::Stopped: return QStringLiteral("■ ");
        case store::RunStatus::HeldBack: return QStringLiteral("‖ ");
        case store::RunStatus::Running: break;
    }
    return QStringLiteral("… ");
}

QString outcomeOf(const store::LedgerEntry& entry) {
    const auto& end = entry.end;
    const QString time = toQt(base::readable(end.duration));
    switch (end.status) {
        case store::RunStatus::Running: return QObject::tr("running");
        case store::RunStatus::Failed: return toQt(base::oneLine(end.error, 400));
        case store::RunStatus::Stopped: return QObject::tr("stopped after %1").arg(time);
        case store::RunStatus::HeldBack: return QObject::tr("held back, and not run");
        case store::RunStatus::Interrupted: return QObject::tr("interrupted: the program ended before the run");
        case store::RunStatus::Succeeded: break;
    }
    QStringList facts;
    const QString first = end.isPartial ? QObject::tr("first ") : QString();
    if (end.rows) facts += first + toQt(base::counted(*end.rows, "row", "rows"));
    if (end.affected) facts += QObject::tr("%1 changed").arg(toQt(base::counted(*end.affected, "row", "rows")));
    if (facts.isEmpty()) facts += QObject::tr("done");
    facts += time;
    return facts.join(QStringLiteral(" · "));
}

const char* statusColour(store::RunStatus status) {
    switch (status) {
        case store::RunStatus::Failed:
        case store::RunStatus::Interrupted: return "tomato";
        case store::RunStatus::Running: return "juniper";
        case store::RunStatus::HeldBack:
        case store::RunStatus::Stopped: return "marigold";
        case store::RunStatus::Succeeded: break;
    }
    return "sage";
}

}  // namespace pantry::app
