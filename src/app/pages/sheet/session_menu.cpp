#include "app/pages/sheet/session_menu.h"

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/widgets.h"
#include "core/db/engine_traits.h"
#include "core/db/session_statements.h"

namespace pantry::app {
namespace {

constexpr std::size_t kMaxSchemas = 40;

struct Limit {
    std::chrono::milliseconds time;
    const char* text;
};
constexpr Limit kLimits[] = {{std::chrono::milliseconds(0), QT_TRANSLATE_NOOP("SessionMenu", "No limit")},
                             {std::chrono::seconds(10), QT_TRANSLATE_NOOP("SessionMenu", "10 seconds")},
                             {std::chrono::minutes(1), QT_TRANSLATE_NOOP("SessionMenu", "1 minute")},
                             {std::chrono::minutes(10), QT_TRANSLATE_NOOP("SessionMenu", "10 minutes")}};

class SessionMenu {
public:
    SessionMenu(Desk& desk, Sheet& sheet, QWidget* parent)
        : desk_(desk), sheet_(sheet), menu_(new QMenu(parent)), engine_(sheet.profile()->engine) {
        menu_->setAttribute(Qt::WA_DeleteOnClose);
        name(menu_, objectName::kSessionMenu, QObject::tr("Session"));
    }

    QMenu* make() {
        databases();
        schemas();
        commits();
        isolation();
        limits();
        errors();
        return menu_;
    }

private:
    QAction* choice(QMenu* menu, const QString& text, bool isChosen, const std::string& statement) {
        QAction* action = menu->addAction(text);
        action->setCheckable(true);
        action->setChecked(isChosen);
        action->setToolTip(toQt(statement));
        Sheet* sheet = &sheet_;
        QObject::connect(action, &QAction::triggered, sheet, [sheet, statement] { sheet->runStatement(statement); });
        return action;
    }

    /// Another database of the server is another line to it.
    void databases() {
        const auto catalog = desk_.catalogs().state(fromQt(sheet_.connectionId()), sheet_.database()).catalog;
        if (!catalog || catalog->facts().databases.size() < 2) return;
        QMenu* menu = menu_->addMenu(QObject::tr("Database"));
        Sheet* sheet = &sheet_;
        for (const std::string& database : catalog->facts().databases) {
            QAction* action = menu->addAction(toQt(database));
            action->setCheckable(true);
            action->setChecked(database == catalog->facts().database);
            QObject::connect(action, &QAction::triggered, sheet, [sheet, database] { sheet->setDatabase(database); });
        }
    }

    void schemas() {
        const auto catalog = desk_.catalogs().state(fromQt(sheet_.connectionId()), sheet_.database()).catalog;
        if (!catalog || db::setSchema(engine_, "x").empty()) return;
        const std::string& current = db::currentSchema(engine_, sheet_.session().state().connection);
        QMenu* menu =
            menu_->addMenu(db::traitsOf(engine_).schemasAreDatabases ? QObject::tr("Database") : QObject::tr("Schema"));
        std::size_t shown = 0;
        for (const catalog::SchemaPtr& schema : catalog->schemas()) {
            if (schema->isOwn || shown++ == kMaxSchemas) continue;
            choice(menu, toQt(schema->name), schema->name == current, db::setSchema(engine_, schema->name));
        }
    }

    void commits() {
        Sheet* sheet = &sheet_;
        QAction* byHand = menu_->addAction(QObject::tr("Manual commit"));
        byHand->setCheckable(true);
        byHand->setChecked(sheet_.session().commitsByHand());
        QObject::connect(byHand, &QAction::toggled, sheet, [sheet](bool on) { sheet->session().setCommitsByHand(on); });
        const bool isReadOnly = sheet_.session().state().connection.isReadOnly;
        if (const std::string statement = db::setReadOnly(engine_, !isReadOnly); !statement.empty()) {
            choice(menu_, QObject::tr("Read-only"), isReadOnly, statement);
        }
    }

    void isolation() {
        const auto levels = db::traitsOf(engine_).isolationLevels;
        if (levels.empty()) return;
        QMenu* menu = menu_->addMenu(QObject::tr("Isolation"));
        for (const std::string_view level : levels) {
            choice(menu, toQt(level), level == sheet_.session().state().connection.isolation,
                   db::setIsolation(engine_, level));
        }
    }

    void limits() {
        if (db::setStatementLimit(engine_, {}).empty()) return;
        QMenu* menu = menu_->addMenu(QObject::tr("Statement timeout"));
        for (const Limit& limit : kLimits) {
            choice(menu, QObject::tr(limit.text), limit.time == sheet_.session().state().connection.statementLimit,
                   db::setStatementLimit(engine_, limit.time));
        }
    }

    void errors() {
        QMenu* menu = menu_->addMenu(QObject::tr("On error"));
        for (const auto& [value, text] :
             {std::pair(work::OnError::Stop, QObject::tr("Stop")), std::pair(work::OnError::Ask, QObject::tr("Ask")),
              std::pair(work::OnError::GoOn, QObject::tr("Continue"))}) {
            QAction* action = menu->addAction(text);
            action->setCheckable(true);
            action->setChecked(sheet_.runs().onError() == value);
            Sheet* sheet = &sheet_;
            QObject::connect(action, &QAction::triggered, sheet,
                             [sheet, chosen = value] { sheet->runs().setOnError(chosen); });
        }
    }

    Desk& desk_;
    Sheet& sheet_;
    QMenu* menu_;
    db::Engine engine_;
};

}  // namespace

QMenu* makeSessionMenu(Desk& desk, Sheet& sheet, QWidget* parent) { return SessionMenu(desk, sheet, parent).make(); }

}  // namespace pantry::app
