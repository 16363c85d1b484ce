#include "app/pages/table/small_change_page.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QVBoxLayout>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/catalog/catalog_model.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/text.h"
#include "core/db/engine_traits.h"

namespace pantry::app {

SmallChangePage::SmallChangePage(Desk& desk, ObjectPlace place, sql::SmallChange change, QWidget* parent)
    : Page(parent),
      desk_(desk),
      place_(std::move(place)),
      change_(change),
      field_(new QLineEdit(this)),
      cascade_(new QCheckBox(tr("Also what hangs on it (CASCADE)"), this)),
      about_(makeLabel({}, "", this)),
      panel_(new DefinitionPanel(desk, place_.connectionId, place_.database, this)) {
    name(this, objectName::kSmallChangePage, title());
    name(field_, objectName::kSmallChangeField,
         change == sql::SmallChange::Comment ? tr("The comment") : tr("The new name"));
    name(cascade_, objectName::kSmallChangeCascade, cascade_->text());
    const db::ConnectionProfile* profile = desk_.connections().profile(fromQt(place_.connectionId));
    if (profile != nullptr) dialect_ = db::dialectOf(profile->engine);
    const bool hasField = change_ == sql::SmallChange::Rename || change_ == sql::SmallChange::Comment;
    field_->setVisible(hasField);
    cascade_->setVisible(sql::canCascade(change_, dialect_));
    about_->setWordWrap(true);
    field_->installEventFilter(this);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(26, 18, 26, 18);
    layout->setSpacing(10);
    auto* heading = makeLabel(title(), "title", this);
    layout->addWidget(heading);
    layout->addWidget(about_);
    layout->addWidget(field_);
    layout->addWidget(cascade_);
    panel_->setMaximumHeight(Theme::px(260));
    panel_->setTitle(title());
    layout->addWidget(panel_, 1);
    layout->addStretch(1);
    connect(field_, &QLineEdit::textChanged, this, &SmallChangePage::write);
    connect(cascade_, &QCheckBox::toggled, this, &SmallChangePage::write);
    connect(panel_, &DefinitionPanel::done, this, &SmallChangePage::finish);
    connect(panel_, &DefinitionPanel::cancelled, this, &SmallChangePage::closeRequested);
    connect(panel_, &DefinitionPanel::sheetRequested, this,
            [this](const QString& title, const QString& text) { Q_EMIT sheetRequested(place_, title, text); });
    readWhatGoes();
    write();
}

QString SmallChangePage::title() const {
    const QString name = toQt(place_.object.name);
    switch (change_) {
        case sql::SmallChange::Rename: return tr("Rename %1").arg(name);
        case sql::SmallChange::Comment: return tr("Comment on %1").arg(name);
        case sql::SmallChange::Empty: return tr("Remove all rows of %1").arg(name);
        case sql::SmallChange::Drop: break;
    }
    return tr("Drop %1").arg(name);
}

QIcon SmallChangePage::icon() const { return iconOf(place_.object.kind); }

void SmallChangePage::enter() { field_->isVisibleTo(this) ? field_->setFocus() : panel_->setFocus(); }

/// Rows, and what others build on it: what is lost, or will no longer work.
void SmallChangePage::readWhatGoes() {
    const auto catalog = desk_.catalogs().state(fromQt(place_.connectionId), place_.database).catalog;
    if (!catalog) return;
    const catalog::ObjectName& name = place_.object;
    const catalog::Relation* relation =
        catalog::isRelationKind(name.kind) ? catalog->find(name.schema, name.name) : nullptr;
    const catalog::Object* object = catalog->findObject(name.schema, name.name, name.signature);
    QStringList words;
    words += toQt(catalog::kindName(name.kind)) + QLatin1Char(' ') +
             toQt(name.schema.empty() ? name.name : name.schema + "." + name.name);
    if (relation != nullptr) {
        if (change_ == sql::SmallChange::Rename) field_->setText(toQt(relation->name));
        if (change_ == sql::SmallChange::Comment) field_->setText(toQt(relation->comment));
        if (relation->rowEstimate)
            words += QStringLiteral("≈ ") + toQt(base::counted(*relation->rowEstimate, "row", "rows"));
        QStringList others;
        for (const auto& reference : catalog->referencesTo(*relation)) {
            if (reference.from != relation) others += toQt(reference.from->name);
        }
        others.removeDuplicates();
        if (!others.isEmpty()) goes_ = tr("Foreign keys of %1 refer to it.").arg(others.join(QStringLiteral(", ")));
    } else if (object != nullptr) {
        detail_ = object->detail;
        if (change_ == sql::SmallChange::Rename) field_->setText(toQt(object->name));
        if (change_ == sql::SmallChange::Comment) field_->setText(toQt(object->comment));
    }
    about_->setText(words.join(QStringLiteral(" · ")));
    desk_.catalogs().readDetails(
        fromQt(place_.connectionId), place_.database, name,
        whileThere(this, [this](const Result<catalog::ObjectDetails>& details) {
            if (!details || details->usedBy.empty()) return;
            QStringList users;
            for (const catalog::Neighbour& one : details->usedBy) {
                users += toQt(one.how == "view" ? "view " + one.object.name : one.object.name + " (" + one.how + ")");
            }
            users.removeDuplicates();
            constexpr int kShown = 12;
            const qsizetype more = users.size() - kShown;
            QString list = users.mid(0, kShown).join(QStringLiteral(", "));
            if (more > 0) list += tr(" and %1 more").arg(more);
            goes_ += (goes_.isEmpty() ? QString() : QStringLiteral(" ")) + tr("It is used by %1.").arg(list);
            write();
        }));
}

void SmallChangePage::write() {
    const sql::SmallChangeWish wish{.text = fromQt(field_->text().trimmed()), .isCascading = cascade_->isChecked()};
    const sql::DefinitionChange change = sql::smallChange(change_, place_.object, detail_, wish, dialect_);
    panel_->show(change, {}, change_ == sql::SmallChange::Comment ? QString() : goes_);
}

void SmallChangePage::finish() {
    std::optional<ObjectPlace> there;
    if (change_ != sql::SmallChange::Drop) {
        there = place_;
        if (change_ == sql::SmallChange::Rename) there->object.name = fromQt(field_->text().trimmed());
    }
    Q_EMIT done(there);
}

bool SmallChangePage::eventFilter(QObject* watched, QEvent* event) {
    if (claimsReturn(event)) {
        event->accept();
        return true;
    }
    if (event->type() == QEvent::KeyPress) {
        const auto* key = static_cast<QKeyEvent*>(event);
        const bool isReturn = key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter;
        if (isReturn && key->modifiers().testFlag(Qt::ControlModifier)) {
            panel_->run();
            return true;
        }
        if (key->key() == Qt::Key_Escape) {
            Q_EMIT closeRequested();
            return true;
        }
    }
    return Page::eventFilter(watched, event);
}

}  // namespace pantry::app
