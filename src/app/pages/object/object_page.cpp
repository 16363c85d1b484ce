#include "app/pages/object/object_page.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QScrollArea>
#include <QTableWidget>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/catalog/catalog_model.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/result/grid_delegate.h"
#include "core/base/text.h"

namespace pantry::app {
namespace {

constexpr int kRowHeight = 25;

QString joined(const std::vector<std::string>& names) {
    QStringList list;
    for (const auto& n : names) list << toQt(n);
    return list.join(QStringLiteral(", "));
}

QTableWidgetItem* cellItem(const QString& text, const char* role = "ink", bool isCode = true) {
    auto* item = new QTableWidgetItem(text);
    if (isCode) {
        QFont font(QStringLiteral("Hack"));
        font.setPixelSize(Theme::px(12));
        item->setFont(font);
    }
    item->setData(Qt::ForegroundRole, Theme::current().colour(role));
    item->setTextAlignment(Qt::AlignVCenter | Qt::AlignLeft);
    return item;
}

void addWrapped(QVBoxLayout* layout, const QString& text, const char* look) {
    auto* label = makeLabel(text, look);
    label->setWordWrap(true);
    label->setTextInteractionFlags(Qt::TextSelectableByMouse);
    layout->addWidget(label);
}

}  // namespace

QString ObjectPage::title() const { return toQt(place_.object.name); }
QIcon ObjectPage::icon() const { return iconOf(place_.object.kind); }

ObjectPage::ObjectPage(Desk& desk, ObjectPlace place, QWidget* parent)
    : Page(parent), desk_(desk), place_(std::move(place)) {
    name(this, objectName::kObjectPage, tr("Story of %1").arg(toQt(place_.object.name)));
    auto* inner = new QWidget;
    layout_ = new QVBoxLayout(inner);
    layout_->setContentsMargins(26, 18, 26, 24);
    layout_->setSpacing(6);
    auto* scroll = new QScrollArea(this);
    scroll->setWidget(inner);
    scroll->setWidgetResizable(true);
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(scroll);
    connect(&desk_, &Desk::catalogChanged, this, [this](const QString& id) {
        if (id == place_.connectionId && !desk_.catalogs().state(fromQt(id), place_.database).isLoading) refresh();
    });
    connect(&Theme::current(), &Theme::changed, this, &ObjectPage::refresh);
    refresh();
}

void ObjectPage::refresh() {
    clearLayout(layout_);
    definition_ = nullptr;
    const auto state = desk_.catalogs().state(fromQt(place_.connectionId), place_.database);
    const catalog::ObjectName& wanted = place_.object;
    const catalog::Relation* relation = state.catalog ? state.catalog->find(wanted.schema, wanted.name) : nullptr;
    const catalog::Object* object =
        state.catalog ? state.catalog->findObject(wanted.schema, wanted.name, wanted.signature) : nullptr;
    if (relation != nullptr && wanted.kind <= catalog::ObjectKind::VirtualTable) {
        showRelation(*relation, *state.catalog);
    } else if (object != nullptr) {
        showObject(*object);
    } else {
        layout_->addWidget(makeLabel(state.error     ? toQt(*state.error)
                                     : state.catalog ? tr("There is no %1 here any more.").arg(toQt(wanted.name))
                                                     : tr("Reading the catalog…"),
                                     "quiet"));
    }
    layout_->addStretch();
}

void ObjectPage::showRelation(const catalog::Relation& relation, const catalog::Catalog& catalog) {
    QString facts = toQt(catalog::kindName(relation.kind));
    if (relation.rowEstimate) {
        facts += QStringLiteral(" · ≈ ") + toQt(base::counted(*relation.rowEstimate, "row", "rows"));
    }
    if (relation.sizeEstimate) {
        facts +=
            QStringLiteral(" · ≈ ") + toQt(base::readableBytes(static_cast<std::uint64_t>(*relation.sizeEstimate)));
    }
    if (!relation.partOf.empty()) facts += tr(" · part of %1").arg(toQt(relation.partOf));
    layout_->addWidget(makeHeader(facts, true));
    if (!relation.comment.empty()) addWrapped(layout_, toQt(relation.comment), "quiet");
    if (!relation.problem.empty()) addWrapped(layout_, toQt(relation.problem), "bad");
    layout_->addWidget(makeLabel(tr("Columns · %1").arg(relation.columns.size()), "section"));
    layout_->addWidget(makeColumns(relation));
    addKeys(layout_, relation, catalog);
    addFacts(layout_, relation);
    addDefinition(layout_);
}

void ObjectPage::showObject(const catalog::Object& object) {
    layout_->addWidget(makeHeader(toQt(catalog::kindName(object.kind)), false));
    if (!object.comment.empty()) addWrapped(layout_, toQt(object.comment), "quiet");
    if (!object.signature.empty()) {
        layout_->addWidget(makeLabel(tr("Parameters"), "section"));
        addWrapped(layout_, toQt(object.signature), "code");
    }
    if (!object.detail.empty()) {
        const bool isRoutine =
            object.kind == catalog::ObjectKind::Function || object.kind == catalog::ObjectKind::Aggregate;
        layout_->addWidget(makeLabel(isRoutine ? tr("Returns") : tr("What it is"), "section"));
        addWrapped(layout_, toQt(object.detail), "code");
    }
    addDefinition(layout_);
}

QWidget* ObjectPage::makeHeader(const QString& facts, bool hasRows) {
    auto* header = makeFrame("panel");
    auto* layout = new QHBoxLayout(header);
    layout->setContentsMargins(0, 0, 0, 4);
    layout->setSpacing(10);
    layout->addWidget(makeLabel(toQt(place_.object.name), "title"));
    QString words = facts;
    if (const db::ConnectionProfile* p = desk_.connections().profile(fromQt(place_.connectionId))) {
        words += QStringLiteral(" · ") + toQt(p->name) + QStringLiteral(" › ");
        if (!place_.database.empty()) words += toQt(place_.database) + QStringLiteral(" › ");
        words += toQt(place_.object.schema);
    }
    auto* label = makeLabel(words, "quiet");
    label->setAlignment(Qt::AlignBottom);
    layout->addWidget(label);
    layout->addStretch();
    if (!hasRows) return header;
    auto* rows =
        makeButton(tr("First rows"), "main", objectName::kObjectFirstRows, tr("Show the first rows in a sheet"));
    connect(rows, &QPushButton::clicked, this, [this] { Q_EMIT rowsRequested(place_); });
    layout->addWidget(rows);
    return header;
}

QWidget* ObjectPage::makeColumns(const catalog::Relation& relation) {
    auto* table = new QTableWidget(static_cast<int>(relation.columns.size()), 5);
    table->setProperty("look", "onCard");
    table->setAccessibleName(tr("Columns"));
    table->setHorizontalHeaderLabels({tr("Name"), tr("Type"), tr("Null"), tr("Default"), tr("Key")});
    table->verticalHeader()->hide();
    table->setShowGrid(false);
    table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table->setSelectionBehavior(QAbstractItemView::SelectRows);
    table->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    table->horizontalHeader()->setStretchLastSection(true);
    table->verticalHeader()->setDefaultSectionSize(Theme::px(kRowHeight));
    table->setItemDelegate(new GridDelegate(table));
    for (int i = 0; i < table->rowCount(); ++i) {
        const catalog::Column& c = relation.columns[static_cast<std::size_t>(i)];
        const catalog::ForeignKey* key = relation.foreignKeyOf(c.name);
        table->setItem(i, 0, cellItem(toQt(c.name)));
        table->setItem(i, 1, cellItem(toQt(base::toLower(c.typeName)), "juniper"));
        table->setItem(i, 2,
                       cellItem(c.isNullable && c.keyPosition == 0 ? tr("nullable") : tr("not null"), "quiet", false));
        table->setItem(i, 3, cellItem(toQt(c.defaultValue.value_or(c.isGenerated ? "generated" : "")), "cocoa"));
        QString keys = c.keyPosition > 0 ? tr("primary key") : QString();
        if (key != nullptr)
            keys += (keys.isEmpty() ? QString() : QStringLiteral(" · ")) + QStringLiteral("→ ") + toQt(key->relation);
        table->setItem(i, 4, cellItem(keys, "marigold", false));
    }
    table->resizeColumnsToContents();
    for (int c = 0; c < 4; ++c) table->setColumnWidth(c, std::clamp(table->columnWidth(c) + 26, 90, 260));
    table->setFixedHeight(table->rowCount() * Theme::px(kRowHeight) + Theme::px(32));
    table->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    return table;
}

/// Where its keys lead, and whose keys lead here; a click goes there.
void ObjectPage::addKeys(QVBoxLayout* layout, const catalog::Relation& relation, const catalog::Catalog& catalog) {
    const auto link = [&](const QString& words, const std::string& schema, const std::string& target) {
        auto* row = new QHBoxLayout;
        auto* button = makeButton(words, "link", "objectLink", words);
        button->setCursor(Qt::PointingHandCursor);
        connect(button, &QPushButton::clicked, this, [this, schema, target] {
            Q_EMIT objectRequested({place_.connectionId, place_.database, {.schema = schema, .name = target}});
        });
        row->setContentsMargins(0, 0, 0, 0);
        row->addWidget(button);
        row->addStretch();
        layout->addLayout(row);
    };
    if (!relation.foreignKeys.empty()) {
        layout->addWidget(makeLabel(tr("Refers to"), "section"));
        for (const auto& k : relation.foreignKeys) {
            link(tr("%1 → %2 (%3)").arg(joined(k.columns), toQt(k.relation), joined(k.referencedColumns)), k.schema,
                 k.relation);
        }
    }
    const auto& references = catalog.referencesTo(relation);
    if (references.empty()) return;
    layout->addWidget(makeLabel(tr("Referred to by"), "section"));
    for (const auto& r : references) {
        link(tr("%1 (%2)").arg(toQt(r.from->name), joined(r.key->columns)), r.from->schema, r.from->name);
    }
}

void ObjectPage::addFacts(QVBoxLayout* layout, const catalog::Relation& relation) {
    if (!relation.constraints.empty()) {
        layout->addWidget(makeLabel(tr("Constraints"), "section"));
        for (const auto& constraint : relation.constraints) {
            addWrapped(layout, QStringLiteral("%1  %2").arg(toQt(constraint.name), toQt(constraint.definition)),
                       "code");
        }
    }
    if (!relation.indexes.empty()) {
        layout->addWidget(makeLabel(tr("Indexes"), "section"));
        for (const auto& index : relation.indexes) {
            QString words = QStringLiteral("%1 (%2)").arg(toQt(index.name), joined(index.columns));
            if (index.isUnique) words += tr(" · unique");
            if (index.isPartial) words += tr(" · partial");
            layout->addWidget(makeLabel(words, "code"));
        }
    }
    if (!relation.triggers.empty()) {
        layout->addWidget(makeLabel(tr("Triggers"), "section"));
        for (const auto& trigger : relation.triggers) {
            auto* label = makeLabel(toQt(trigger.definition.empty() ? trigger.name : trigger.definition), "code");
            label->setTextInteractionFlags(Qt::TextSelectableByMouse);
            layout->addWidget(label);
        }
    }
}

/// The statements that make it, read when somebody looks: a query or a few of their own.
void ObjectPage::addDefinition(QVBoxLayout* layout) {
    layout->addWidget(makeLabel(tr("Definition"), "section"));
    definition_ = new QPlainTextEdit(tr("Reading…"));
    definition_->setProperty("look", "code");
    definition_->setReadOnly(true);
    definition_->setLineWrapMode(QPlainTextEdit::NoWrap);
    name(definition_, objectName::kObjectDefinition, tr("The statements that make it"));
    layout->addWidget(definition_);
    showDefinition(tr("Reading…"));
    desk_.catalogs().readDefinition(
        fromQt(place_.connectionId), place_.database, place_.object,
        whileThere(definition_, [this](const Result<catalog::Definition>& definition) {
            showDefinition(definition ? toQt(definition->whole()) : toQt(definition.error()));
        }));
}

void ObjectPage::showDefinition(const QString& text) {
    constexpr int kLineHeight = 17;
    constexpr int kMaxLines = 30;
    if (definition_ == nullptr) return;
    definition_->setPlainText(text.trimmed());
    const auto lines = static_cast<int>(text.trimmed().count(QLatin1Char('\n'))) + 1;
    definition_->setFixedHeight(std::min(lines, kMaxLines) * kLineHeight + 34);
}

}  // namespace pantry::app
