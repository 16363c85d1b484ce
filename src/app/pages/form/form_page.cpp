#include "app/pages/form/form_page.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/catalog/catalog_model.h"
#include "app/look/elided_label.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/text.h"
#include "core/catalog/overview.h"
#include "core/db/engine_traits.h"
#include "core/work/form_reading.h"

namespace pantry::app {
namespace {

/// As high as its fields where there is room; else they scroll.
class FieldScroll : public QScrollArea {
public:
    FieldScroll(QWidget* fields, QWidget* parent) : QScrollArea(parent) {
        setWidget(fields);
        setWidgetResizable(true);
        setFrameShape(QFrame::NoFrame);
        setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
    }
    [[nodiscard]] QSize sizeHint() const override { return widget()->sizeHint(); }
    [[nodiscard]] QSize minimumSizeHint() const override {
        return {widget()->minimumSizeHint().width(), std::min(Theme::px(110), widget()->sizeHint().height())};
    }

protected:
    bool eventFilter(QObject* watched, QEvent* event) override {
        if (event->type() == QEvent::LayoutRequest) updateGeometry();
        return QScrollArea::eventFilter(watched, event);
    }
};

/// The first so many of a list of names.
QString shortList(QStringList names) {
    constexpr int kShown = 12;
    names.removeDuplicates();
    const qsizetype more = names.size() - kShown;
    const QString list = names.mid(0, kShown).join(QStringLiteral(", "));
    return more > 0 ? QObject::tr("%1 and %2 more").arg(list).arg(more) : list;
}

}  // namespace

FormPage::FormPage(Desk& desk, ObjectPlace place, const sql::FormEntry& form, QWidget* parent)
    : PlacePage(desk, std::move(place), parent),
      form_(form),
      about_(makeLabel({}, "", this)),
      panel_(new DefinitionPanel(desk, place_.connectionId, place_.database, this)) {
    name(this, objectName::kFormPage, title());
    name(about_, objectName::kFormAbout, tr("What it is about"));
    readObject();
    fields_ = new FormFields(form_.fields(formPlace_), this);
    about_->setWordWrap(true);
    about_->setVisible(!about_->text().isEmpty());
    auto* heading = new ElidedLabel(title(), this);
    setLook(heading, "title");
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(26, 18, 26, 18);
    layout->setSpacing(10);
    layout->addWidget(heading);
    layout->addWidget(about_);
    layout->addWidget(new FieldScroll(fields_, this), 3);
    panel_->setMaximumHeight(Theme::px(300));
    panel_->setTitle(title());
    layout->addWidget(panel_, 1);
    layout->addStretch();
    connect(fields_, &FormFields::edited, this, [this] {
        isTouched_ = true;
        write();
    });
    connect(fields_, &FormFields::subjectChanged, this, &FormPage::readCurrent);
    connect(panel_, &DefinitionPanel::done, this, &FormPage::finish);
    connect(panel_, &DefinitionPanel::cancelled, this, &FormPage::closeRequested);
    connect(panel_, &DefinitionPanel::sheetRequested, this,
            [this](const QString& title, const QString& text) { Q_EMIT sheetRequested(place_, title, text); });
    readChoices();
    if (reading_ == 0) readCurrent();
    write();
}

QString FormPage::title() const {
    const QString title = toQt(form_.title);
    return title.contains(QLatin1String("%1")) ? title.arg(toQt(place_.object.name)) : title;
}

QIcon FormPage::icon() const {
    switch (form_.group) {
        case sql::FormGroup::Object: return iconOf(place_.object.kind);
        case sql::FormGroup::Sequence: return iconOf(catalog::ObjectKind::Sequence);
        case sql::FormGroup::Schema:
        case sql::FormGroup::Database: return QIcon(QStringLiteral(":/icons/schema.svg"));
        case sql::FormGroup::Role:
        case sql::FormGroup::Right: break;
    }
    return QIcon(QStringLiteral(":/icons/role.svg"));
}

void FormPage::enter() { fields_->fields().empty() ? panel_->setFocus() : fields_->focusFirst(); }

/// What is known of the object: rows, and what others build on it, which is lost or no longer works afterwards.
void FormPage::readObject() {
    formPlace_.object = place_.object;
    const db::ConnectionProfile* profile = this->profile();
    if (profile == nullptr) return;
    formPlace_.dialect = dialect_;
    formPlace_.database = place_.database.empty() ? profile->database : place_.database;
    const auto catalog = catalogState().catalog;
    if (!catalog) return;
    if (!catalog->facts().database.empty()) formPlace_.database = catalog->facts().database;
    if (form_.group != sql::FormGroup::Object) return;
    const catalog::ObjectName& name = place_.object;
    const catalog::Relation* relation =
        catalog::isRelationKind(name.kind) ? catalog->find(name.schema, name.name) : nullptr;
    const catalog::Object* object = catalog->findObject(name.schema, name.name, name.signature);
    QStringList parts{toQt(catalog::kindName(name.kind)) + QLatin1Char(' ') +
                      toQt(name.schema.empty() ? name.name : name.schema + "." + name.name)};
    if (relation != nullptr) {
        formPlace_.comment = relation->comment;
        if (relation->rowEstimate) {
            parts += QStringLiteral("≈ ") + toQt(base::counted(*relation->rowEstimate, "row", "rows"));
        }
        QStringList others;
        for (const auto& reference : catalog->referencesTo(*relation)) {
            if (reference.from != relation) others += toQt(reference.from->name);
        }
        if (!others.isEmpty()) goes_ = tr("Foreign keys of %1 refer to it.").arg(shortList(others));
    } else if (object != nullptr) {
        formPlace_.detail = object->detail;
        formPlace_.comment = object->comment;
    }
    about_->setText(parts.join(QStringLiteral(" · ")));
    if (form_.isDestructive || form_.id == "object.rename") readUsers();
}

void FormPage::readUsers() {
    desk_.catalogs().readDetails(
        fromQt(place_.connectionId), place_.database, place_.object,
        whileThere(this, [this](const Result<catalog::ObjectDetails>& details) {
            if (!details || details->usedBy.empty()) return;
            QStringList users;
            for (const catalog::Neighbour& one : details->usedBy) {
                users += toQt(one.how == "view" ? "view " + one.object.name : one.object.name + " (" + one.how + ")");
            }
            goes_ +=
                (goes_.isEmpty() ? QString() : QStringLiteral(" ")) + tr("It is used by %1.").arg(shortList(users));
            write();
        }));
}

/// What the fields hold now is read when their choices are there: what is ticked has to be among them.
void FormPage::readChoices() {
    const work::FormReading reading{desk_.catalogs(), fromQt(place_.connectionId), place_.database};
    for (const sql::FormField& field : fields_->fields()) {
        if (field.choicesQuery.empty()) continue;
        ++reading_;
        reading.choices(field.choicesQuery, formPlace_.dialect,
                        whileThere(this, [this, id = field.id](const Result<std::vector<std::string>>& choices) {
                            --reading_;
                            if (choices) {
                                fields_->addChoices(id, *choices);
                            } else if (problem_.isEmpty()) {
                                problem_ = tr("What could be chosen is not known: %1").arg(toQt(choices.error()));
                            }
                            if (reading_ == 0) readCurrent();
                            write();
                        }));
    }
}

void FormPage::readCurrent() {
    const std::vector<sql::FormField>& fields = fields_->fields();
    const std::string subject = fields.empty() ? std::string() : sql::valueOf(fields_->values(), fields.front().id);
    const bool isAboutObject = form_.group == sql::FormGroup::Object;
    if (reading_ > 0 || (subject.empty() && !isAboutObject)) return;
    const std::string query = form_.currentQuery(formPlace_, subject);
    if (query.empty()) return;
    // The first field of an object's form is a value like the others; that of other forms says what they are about.
    if (isAboutObject && !before_.empty()) return;
    const work::FormReading reading{desk_.catalogs(), fromQt(place_.connectionId), place_.database};
    reading.current(query, formPlace_.dialect,
                    whileThere(this, [this, subject, isAboutObject](const Result<sql::FieldValues>& values) {
                        const std::string_view first = fields_->fields().front().id;
                        if (!isAboutObject && sql::valueOf(fields_->values(), first) != subject) return;
                        before_ = values ? *values : sql::FieldValues{};
                        problem_ = values ? QString() : toQt(values.error());
                        if (values) fields_->fill(*values);
                        write();
                    }));
}

/// What is lost with it, as far as it is known here.
QString FormPage::warning() const {
    QStringList parts;
    if (!problem_.isEmpty()) parts += problem_;
    if (!goes_.isEmpty()) parts += goes_;
    const bool isWhole = form_.id == "schema.drop" || form_.id == "database.drop";
    const auto catalog = catalogState().catalog;
    if (isWhole && catalog) {
        const std::string name = sql::valueOf(fields_->values(), "name");
        QStringList counts;
        if (!name.empty() && catalog->schema(name) != nullptr) {
            for (const auto& [kind, count] : catalog::overviewOf(*catalog, name, 0).counts) {
                counts += toQt(base::counted(static_cast<std::int64_t>(count), catalog::kindName(kind),
                                             base::toLower(catalog::kindHeading(kind))));
            }
        }
        if (!counts.isEmpty()) parts += tr("It holds %1.").arg(counts.join(QStringLiteral(", ")));
    }
    return parts.join(QLatin1Char('\n'));
}

void FormPage::write() {
    const sql::FieldValues values = fields_->values();
    const QString incomplete = toQt(sql::whyIncomplete(fields_->fields(), values));
    if (!incomplete.isEmpty() && !isTouched_) return panel_->wait(incomplete);
    panel_->show(incomplete.isEmpty() ? form_.write(formPlace_, values, before_) : sql::DefinitionChange{}, incomplete,
                 warning());
}

void FormPage::finish() {
    // The lists of schemas and databases are the catalog's, too.
    if (form_.group == sql::FormGroup::Schema || form_.group == sql::FormGroup::Database) {
        desk_.catalogs().load(fromQt(place_.connectionId), place_.database);
    }
    std::optional<ObjectPlace> there;
    if (const auto made = form_.made(formPlace_, fields_->values())) {
        there = ObjectPlace{place_.connectionId, place_.database, *made};
    }
    Q_EMIT done(there);
}

/// Keys that no field takes.
bool FormPage::event(QEvent* event) {
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
    return Page::event(event);
}

}  // namespace pantry::app

#include "moc_form_page.cpp"
