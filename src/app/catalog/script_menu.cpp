#include "app/catalog/script_menu.h"

#include <algorithm>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/connection_colours.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/db/engine_traits.h"

namespace pantry::app {
namespace {

/// What somebody takes without a thought does not stand beside what makes or removes things.
bool beginsGroup(sql::ScriptKind kind) {
    return kind == sql::ScriptKind::Create || kind == sql::ScriptKind::Drop || kind == sql::ScriptKind::Comment;
}

void addKinds(QMenu* menu, const std::vector<ObjectPlace>& objects, sql::Dialect dialect, const QString& targetId,
              bool isAtCursor, const std::function<void(const ScriptWish&)>& take) {
    bool wantsLine = false;
    for (const sql::ScriptEntry& entry : sql::scriptEntries()) {
        wantsLine = wantsLine || beginsGroup(entry.kind);
        const bool isThere = std::ranges::any_of(
            objects, [&](const ObjectPlace& one) { return sql::hasScript(entry.kind, one.object.kind, dialect); });
        if (!isThere) continue;
        if (wantsLine && !menu->isEmpty()) menu->addSeparator();
        wantsLine = false;
        QAction* action = menu->addAction(toQt(entry.label));
        action->setToolTip(toQt(entry.help));
        QObject::connect(action, &QAction::triggered, menu, [take, objects, kind = entry.kind, targetId, isAtCursor] {
            take({.objects = objects, .kind = kind, .targetId = targetId, .isAtCursor = isAtCursor});
        });
    }
}

}  // namespace

void addScripts(QMenu* menu, Desk& desk, const std::vector<ObjectPlace>& objects,
                const std::function<void(const ScriptWish&)>& take) {
    if (objects.empty()) return;
    name(menu, objectName::kObjectScripts, QMenu::tr("Scripts of this object"));
    menu->setToolTipsVisible(true);
    const QString own = objects.front().connectionId;
    const db::ConnectionProfile* profile = desk.connections().profile(fromQt(own));
    if (profile == nullptr) return;
    const sql::Dialect dialect = db::dialectOf(profile->engine);
    addKinds(menu, objects, dialect, own, false, take);
    menu->addSeparator();
    QMenu* atCursor = menu->addMenu(QMenu::tr("At the cursor"));
    addKinds(atCursor, objects, dialect, own, true, take);
    QMenu* others = menu->addMenu(QMenu::tr("For another connection"));
    for (const db::ConnectionProfile* one : desk.connections().byGroup()) {
        if (toQt(one->id) == own) continue;
        QMenu* there =
            others->addMenu(markIcon(Theme::current().connectionColour(signalColour(*one))), toQt(one->name));
        there->setToolTipsVisible(true);
        addKinds(there, objects, db::dialectOf(one->engine), toQt(one->id), false, take);
    }
    others->menuAction()->setVisible(!others->isEmpty());
}

}  // namespace pantry::app
