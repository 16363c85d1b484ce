#include "app/pages/object/object_sections.h"

#include <QCoreApplication>
#include <QHeaderView>
#include <QMimeData>
#include <QVBoxLayout>
#include <algorithm>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/catalog/catalog_model.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/result/grid_delegate.h"
#include "core/base/text.h"
#include "core/base/time.h"
#include "core/sql/text/lexer.h"

namespace pantry::app {
namespace {

constexpr int kRowHeight = 24;
constexpr int kMaxRowsShown = 24;  // a longer table scrolls by itself

QString tr(const char* text) { return QCoreApplication::translate("ObjectSections", text); }

QString namesOf(const std::vector<std::string>& names) {
    QStringList list;
    for (const auto& n : names) list << toQt(n);
    return list.join(QStringLiteral(", "));
}

struct CellLook {
    const char* role = "ink";
    bool isCode = false;
    bool isNumber = false;
};

/// A small table to read: fitted to its content, up to a height.
class FactTable : public QTableWidget {
public:
    FactTable(const QStringList& headings, const QString& accessibleName, const char* objectName, int rows)
        : QTableWidget(rows, static_cast<int>(headings.size())) {
        name(this, objectName, accessibleName);
        setProperty("look", "onCard");
        setHorizontalHeaderLabels(headings);
        verticalHeader()->hide();
        setShowGrid(false);
        setEditTriggers(QAbstractItemView::NoEditTriggers);
        setSelectionBehavior(QAbstractItemView::SelectRows);
        horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
        horizontalHeader()->setStretchLastSection(true);
        verticalHeader()->setDefaultSectionSize(Theme::px(kRowHeight));
        setItemDelegate(new GridDelegate(this));
        setWordWrap(false);
        setTabKeyNavigation(false);  // Tab goes on in the page
    }

    void put(int row, int column, const QString& text, const CellLook& look = {}) {
        auto* item = new QTableWidgetItem(text);
        if (look.isCode) {
            QFont font(QStringLiteral("Hack"));
            font.setPixelSize(Theme::px(12));
            item->setFont(font);
        }
        item->setData(Qt::ForegroundRole, Theme::current().colour(look.role));
        item->setTextAlignment(Qt::AlignVCenter | (look.isNumber ? Qt::AlignRight : Qt::AlignLeft));
        item->setToolTip(text);
        setItem(row, column, item);
    }

    /// What is dragged out of it: of each chosen row what its first cell says, or stands for.
    void setDragged() {
        setDragEnabled(true);
        setDragDropMode(QAbstractItemView::DragOnly);
        setSelectionMode(QAbstractItemView::ExtendedSelection);
    }
    QMimeData* mimeData(const QList<QTableWidgetItem*>& items) const override {
        QStringList names;
        for (const QTableWidgetItem* item : items) {
            if (item->column() == 0) names += item->data(Qt::UserRole).toString();
        }
        auto* dragged = new QMimeData;
        dragged->setText(names.join(QStringLiteral(", ")));
        return dragged;
    }

    /// Columns as wide as they need, within bounds; as high as its rows.
    FactTable* fitted(int widest = 260) {
        for (int c = 0; c + 1 < columnCount(); ++c) {
            int needed = QFontMetrics(horizontalHeader()->font()).horizontalAdvance(horizontalHeaderItem(c)->text());
            for (int r = 0; r < rowCount(); ++r) {
                const QTableWidgetItem* cell = item(r, c);
                if (cell != nullptr)
                    needed = std::max(needed, QFontMetrics(cell->font()).horizontalAdvance(cell->text()));
            }
            setColumnWidth(c, std::clamp(needed + Theme::px(34), Theme::px(50), Theme::px(widest)));
        }
        const bool hasHeadings = !horizontalHeader()->isHidden();
        const int shown = std::min(rowCount(), kMaxRowsShown);
        setFixedHeight(shown * Theme::px(kRowHeight) + Theme::px(hasHeadings ? 32 : 6));
        setVerticalScrollBarPolicy(rowCount() > kMaxRowsShown ? Qt::ScrollBarAsNeeded : Qt::ScrollBarAlwaysOff);
        setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        return this;
    }
};

}  // namespace

QTableWidget* makeColumnsTable(const catalog::Relation& relation, sql::Dialect dialect) {
    const bool hasComments = std::ranges::any_of(relation.columns, [](const auto& c) { return !c.comment.empty(); });
    QStringList headings{tr("Name"), tr("Type"), tr("Null"), tr("Default"), tr("Key")};
    if (hasComments) headings += tr("Comment");
    auto* table = new FactTable(headings, tr("Columns"), "objectColumns", static_cast<int>(relation.columns.size()));
    for (int i = 0; i < table->rowCount(); ++i) {
        const catalog::Column& c = relation.columns[static_cast<std::size_t>(i)];
        const catalog::ForeignKey* key = relation.foreignKeyOf(c.name);
        const bool isIndexed = std::ranges::any_of(relation.indexes, [&](const catalog::Index& index) {
            return !index.columns.empty() && index.columns.front() == c.name && !index.isPrimaryKey;
        });
        table->put(i, 0, toQt(c.name), {.isCode = true});
        table->item(i, 0)->setData(Qt::UserRole, toQt(sql::quotedName(c.name, dialect)));
        table->put(i, 1, toQt(base::toLower(c.typeName)), {.role = "juniper", .isCode = true});
        table->put(i, 2, c.isNullable && c.keyPosition == 0 ? tr("nullable") : tr("not null"), {.role = "quiet"});
        table->put(i, 3, toQt(catalog::originOf(c)), {.role = "cocoa", .isCode = true});
        QStringList keys;
        if (c.keyPosition > 0) keys += tr("primary key");
        if (key != nullptr) keys += QStringLiteral("→ ") + toQt(key->relation);
        if (isIndexed && keys.isEmpty()) keys += tr("index");
        table->put(i, 4, keys.join(QStringLiteral(" · ")), {.role = "marigold"});
        if (hasComments) table->put(i, 5, toQt(c.comment), {.role = "quiet"});
    }
    table->setDragged();
    return table->fitted(220);
}

QWidget* makeIndexesTable(const catalog::Relation& relation, const catalog::ObjectDetails* details) {
    auto* table = new FactTable({tr("Name"), tr("Columns"), tr("Size"), tr("Reads"), tr("Kind")},
                                tr("Keys and indexes"), "objectIndexes", static_cast<int>(relation.indexes.size()));
    bool hasSizes = false;
    bool hasReads = false;
    for (int i = 0; i < table->rowCount(); ++i) {
        const catalog::Index& index = relation.indexes[static_cast<std::size_t>(i)];
        table->put(i, 0, toQt(index.name), {.isCode = true});
        table->put(i, 1, namesOf(index.columns), {.isCode = true});
        QStringList kind;
        if (index.isPrimaryKey) kind += tr("primary key");
        if (index.isUnique && !index.isPrimaryKey) kind += tr("unique");
        if (!index.method.empty()) kind += toQt(index.method);
        if (index.isPartial)
            kind += index.predicate.empty() ? tr("partial") : tr("where %1").arg(toQt(index.predicate));
        table->put(i, 4, kind.join(QStringLiteral(" · ")), {.role = "quiet"});
        if (details == nullptr) continue;
        const auto use = std::ranges::find(details->indexes, index.name, &catalog::IndexUse::name);
        if (use == details->indexes.end()) continue;
        if (use->bytes) {
            hasSizes = true;
            table->put(i, 2, toQt(base::readableBytes(static_cast<std::uint64_t>(*use->bytes))), {.isNumber = true});
        }
        if (use->reads) {
            hasReads = true;
            table->put(i, 3, toQt(base::grouped(*use->reads)),
                       {.role = *use->reads == 0 ? "marigold" : "ink", .isNumber = true});
        }
    }
    table->setColumnHidden(2, !hasSizes);
    table->setColumnHidden(3, !hasReads);
    return table->fitted(150);
}

QWidget* makeTextsList(const std::vector<std::pair<std::string, std::string>>& texts,
                       const std::function<void(const std::string&)>& edit) {
    auto* list = new QWidget;
    auto* layout = new QVBoxLayout(list);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(4);
    for (const auto& [label, text] : texts) {
        const bool saysName = text.find(label) != std::string::npos || label.empty();
        auto* line = makeLabel(toQt(saysName ? text : label + "  " + text), "code", list);
        line->setWordWrap(true);
        line->setTextInteractionFlags(Qt::TextSelectableByMouse);
        if (!edit) {
            layout->addWidget(line);
            continue;
        }
        auto* row = new QHBoxLayout;
        row->setSpacing(10);
        row->addWidget(line, 1);
        auto* verb = makeButton(tr("Edit"), "link", objectName::kObjectTextEdit, tr("Edit %1").arg(toQt(label)), list);
        QObject::connect(verb, &QPushButton::clicked, list, [edit, label = label] { edit(label); });
        row->addWidget(verb, 0, Qt::AlignTop);
        layout->addLayout(row);
    }
    return list;
}

QWidget* makeFactsTable(const std::vector<catalog::Fact>& facts) {
    auto* table = new FactTable({tr("Fact"), tr("Value")}, tr("Facts"), "objectFacts", static_cast<int>(facts.size()));
    table->horizontalHeader()->hide();
    for (int i = 0; i < table->rowCount(); ++i) {
        table->put(i, 0, toQt(facts[static_cast<std::size_t>(i)].label), {.role = "quiet"});
        table->put(i, 1, toQt(facts[static_cast<std::size_t>(i)].value));
    }
    return table->fitted(180);
}

QWidget* makeGrantsTable(const std::vector<catalog::Grant>& grants) {
    auto* table =
        new FactTable({tr("Who"), tr("May"), tr("On")}, tr("Rights"), "objectGrants", static_cast<int>(grants.size()));
    for (int i = 0; i < table->rowCount(); ++i) {
        const catalog::Grant& one = grants[static_cast<std::size_t>(i)];
        table->put(i, 0, toQt(one.grantee));
        table->put(i, 1, toQt(base::toLower(one.privileges)) + (one.canGrant ? tr(", and hand it on") : QString()));
        table->put(i, 2, one.column.empty() ? tr("all of it") : toQt(one.column), {.role = "quiet"});
    }
    return table->fitted(260);
}

QWidget* makePartitionsTable(const catalog::ObjectDetails& details) {
    auto* table = new FactTable({tr("Partition"), tr("Rows"), tr("Holds")}, tr("Partitions"), "objectPartitions",
                                static_cast<int>(details.partitions.size()));
    for (int i = 0; i < table->rowCount(); ++i) {
        const catalog::Partition& one = details.partitions[static_cast<std::size_t>(i)];
        table->put(i, 0, toQt(one.name), {.isCode = true});
        table->put(i, 1, one.rows ? QStringLiteral("≈ ") + toQt(base::grouped(*one.rows)) : QString(),
                   {.isNumber = true});
        table->put(i, 2, toQt(one.bounds), {.isCode = true});
    }
    return table->fitted();
}

QWidget* makeParametersTable(const catalog::ObjectDetails& details) {
    auto* table = new FactTable({tr("Name"), tr("Type"), tr("Direction"), tr("Default")}, tr("Parameters"),
                                "objectParameters", static_cast<int>(details.parameters.size()));
    const QString modes[] = {tr("in"), tr("out"), tr("in and out"), tr("several")};
    for (int i = 0; i < table->rowCount(); ++i) {
        const catalog::RoutineParameter& one = details.parameters[static_cast<std::size_t>(i)];
        table->put(i, 0, toQt(one.name), {.isCode = true});
        table->put(i, 1, toQt(one.typeName), {.role = "juniper", .isCode = true});
        table->put(i, 2, modes[static_cast<std::size_t>(one.mode)], {.role = "quiet"});
        table->put(i, 3, toQt(one.defaultValue.value_or("")), {.role = "cocoa", .isCode = true});
    }
    return table->fitted();
}

QTableWidget* makeFrequentTable(const work::ColumnShape& shape) {
    auto* table = new FactTable({tr("Most frequent"), tr("Rows"), tr("Share")}, tr("Most frequent values"),
                                "objectShape", static_cast<int>(shape.frequent.size()));
    for (int i = 0; i < table->rowCount(); ++i) {
        const auto& [value, rows] = shape.frequent[static_cast<std::size_t>(i)];
        const QString text = value ? toQt(base::oneLine(*value, 80)) : QStringLiteral("NULL");
        table->put(i, 0, text, {.role = value ? "ink" : "quiet", .isCode = true});
        table->put(i, 1, toQt(base::grouped(rows)), {.isNumber = true});
        const double share = shape.rows > 0 ? 100.0 * static_cast<double>(rows) / static_cast<double>(shape.rows) : 0;
        table->put(i, 2, QStringLiteral("%1 %").arg(share, 0, 'f', share < 10 ? 1 : 0), {.role = "quiet"});
    }
    return table->fitted(420);
}

QWidget* makeRunsTable(const std::vector<store::LedgerEntry>& runs) {
    auto* table = new FactTable({tr("When"), tr("Took"), tr("Statement")}, tr("Runs that named it"), "objectRuns",
                                static_cast<int>(runs.size()));
    table->horizontalHeader()->hide();
    for (int i = 0; i < table->rowCount(); ++i) {
        const store::LedgerEntry& one = runs[static_cast<std::size_t>(i)];
        const bool failed = one.end.status == store::RunStatus::Failed;
        table->put(i, 0, toQt(base::spoken(one.startedAt, base::now())), {.role = "quiet"});
        table->put(i, 1, failed ? tr("failed") : toQt(base::readable(one.end.duration)),
                   {.role = failed ? "tomato" : "ink", .isNumber = true});
        table->put(i, 2, toQt(base::oneLine(one.start.statement, 200)), {.isCode = true});
    }
    return table->fitted(150);
}

QWidget* makeLinks(const std::vector<ObjectLink>& links, const GoTo& go) {
    auto* list = new QWidget;
    auto* layout = new QVBoxLayout(list);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(2);
    for (const ObjectLink& link : links) {
        auto* row = new QHBoxLayout;
        row->setContentsMargins(0, 0, 0, 0);
        auto* button = makeButton(link.text, "link", "objectLink", link.text, list);
        button->setIcon(iconOf(link.object.kind));
        button->setCursor(Qt::PointingHandCursor);
        QObject::connect(button, &QPushButton::clicked, list, [go, object = link.object] { go(object); });
        row->addWidget(button);
        row->addWidget(makeLabel(link.detail, "small", list));
        row->addStretch();
        layout->addLayout(row);
    }
    return list;
}

std::vector<ObjectLink> linksFrom(const catalog::Relation& relation) {
    std::vector<ObjectLink> links;
    for (const catalog::ForeignKey& k : relation.foreignKeys) {
        QString detail = tr("%1 → %2").arg(namesOf(k.columns), namesOf(k.referencedColumns));
        if (!k.onDelete.empty() && k.onDelete != "NO ACTION" && k.onDelete != "RESTRICT") {
            detail += tr(" · on delete %1").arg(toQt(base::toLower(k.onDelete)));
        }
        links.push_back(
            {{.schema = k.schema.empty() ? relation.schema : k.schema, .name = k.relation}, toQt(k.relation), detail});
    }
    return links;
}

std::vector<ObjectLink> linksTo(const catalog::Relation& relation, const catalog::Catalog& catalog) {
    std::vector<ObjectLink> links;
    for (const auto& r : catalog.referencesTo(relation)) {
        links.push_back(
            {{.schema = r.from->schema, .name = r.from->name}, toQt(r.from->name), namesOf(r.key->columns)});
    }
    return links;
}

std::vector<ObjectLink> linksOf(const std::vector<catalog::Neighbour>& neighbours) {
    std::vector<ObjectLink> links;
    for (const catalog::Neighbour& one : neighbours) {
        QString text = toQt(one.object.name);
        if (!one.object.signature.empty()) text += QStringLiteral(" (%1)").arg(toQt(one.object.signature));
        links.push_back({one.object, text, toQt(one.how)});
    }
    return links;
}

}  // namespace pantry::app
