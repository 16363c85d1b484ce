#include "app/pages/object/overview_page.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/widgets.h"
#include "app/pages/object/object_sections.h"
#include "core/base/text.h"
#include "core/catalog/overview.h"
#include "core/db/engine_traits.h"
#include "core/sql/write/server_queries.h"

namespace pantry::app {
namespace {

constexpr std::size_t kListed = 10;

QString amountOf(const catalog::Relation& relation) {
    QStringList parts;
    if (relation.rowEstimate) parts += QStringLiteral("≈ ") + toQt(base::counted(*relation.rowEstimate, "row", "rows"));
    if (relation.sizeEstimate) parts += toQt(base::readableBytes(static_cast<std::uint64_t>(*relation.sizeEstimate)));
    return parts.join(QStringLiteral(" · "));
}

std::vector<ObjectLink> linksTo(const std::vector<const catalog::Relation*>& relations, bool saysSchema) {
    std::vector<ObjectLink> links;
    for (const catalog::Relation* one : relations) {
        const std::string name = saysSchema ? one->schema + "." + one->name : one->name;
        links.push_back({{.kind = one->kind, .schema = one->schema, .name = one->name}, toQt(name), amountOf(*one)});
    }
    return links;
}

void addSectionTo(QVBoxLayout* column, const QString& title, QWidget* content) {
    QLabel* label = makeLabel(title, "section", content->parentWidget());
    for (QWidget* part : {static_cast<QWidget*>(label), content}) {
        part->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);  // what is left over stays below
    }
    column->addWidget(label);
    column->addWidget(content);
    column->addSpacing(10);
}

}  // namespace

OverviewPage::OverviewPage(Desk& desk, ObjectPlace place, QWidget* parent)
    : PlacePage(desk, std::move(place), parent), schema_(new QComboBox(this)), scroll_(new QScrollArea(this)) {
    name(this, objectName::kOverviewPage, tr("Overview"));
    name(schema_, "overviewSchema", tr("Of which schema"));
    scroll_->setWidgetResizable(true);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(26, 16, 26, 8);
    head->setSpacing(12);
    head->addWidget(makeLabel(title(), "title", this));
    head->addWidget(schema_);
    head->addStretch();
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(head);
    layout->addWidget(scroll_, 1);
    connect(schema_, &QComboBox::activated, this, [this] {
        place_.object.schema = fromQt(schema_->currentData().toString());
        refresh();
    });
    connect(&desk_, &Desk::catalogChanged, this, [this](const QString& id) {
        if (id == place_.connectionId && !desk_.catalogs().state(fromQt(id), place_.database).isLoading) refresh();
    });
    refresh();
}

QString OverviewPage::title() const {
    const db::ConnectionProfile* p = profile();
    return p == nullptr ? tr("Overview")
                        : tr("Overview of %1").arg(toQt(place_.database.empty() ? p->name : place_.database));
}

QIcon OverviewPage::icon() const { return QIcon(QStringLiteral(":/icons/table.svg")); }

void OverviewPage::refresh() {
    auto* inner = new QWidget;
    auto* all = new QVBoxLayout(inner);
    all->setContentsMargins(26, 4, 26, 24);
    all->setSpacing(12);
    const catalog::CatalogPtr catalog = catalogState().catalog;
    if (!catalog) {
        all->addWidget(makeLabel(tr("Reading the catalog…"), "quiet", inner));
        all->addStretch();
        return scroll_->setWidget(inner);
    }
    schema_->clear();
    schema_->addItem(tr("all schemas"), QString());
    for (const catalog::SchemaPtr& one : catalog->schemas()) {
        if (one->isLoaded && !one->isOwn) schema_->addItem(toQt(one->name), toQt(one->name));
    }
    schema_->setVisible(schema_->count() > 2);
    schema_->setCurrentIndex(std::max(0, schema_->findData(toQt(place_.object.schema))));
    const catalog::Overview overview = catalog::overviewOf(*catalog, place_.object.schema, kListed);
    QStringList counts;
    for (const auto& [kind, count] : overview.counts) {
        counts +=
            tr("%1 %2").arg(toQt(base::grouped(static_cast<std::int64_t>(count))),
                            toQt(base::toLower(count == 1 ? catalog::kindName(kind) : catalog::kindHeading(kind))));
    }
    if (overview.rows > 0) counts += QStringLiteral("≈ ") + toQt(base::counted(overview.rows, "row", "rows"));
    if (overview.bytes > 0) counts += toQt(base::readableBytes(static_cast<std::uint64_t>(overview.bytes)));
    auto* sum =
        makeLabel(counts.isEmpty() ? tr("Nothing is in it yet.") : counts.join(QStringLiteral(" · ")), "", inner);
    sum->setObjectName(QLatin1String(objectName::kOverviewSum));
    sum->setWordWrap(true);
    all->addWidget(sum);
    const GoTo go = [this](const catalog::ObjectName& object) {
        Q_EMIT objectRequested({place_.connectionId, place_.database, object});
    };
    auto* columns = new QHBoxLayout;
    columns->setSpacing(28);
    auto* left = new QVBoxLayout;
    auto* right = new QVBoxLayout;
    for (QVBoxLayout* column : {left, right}) column->setSpacing(4);  // by itself it would be that of the columns
    columns->addLayout(left, 1);
    columns->addLayout(right, 1);
    all->addLayout(columns);
    const bool saysSchema = place_.object.schema.empty() && catalog->relationSchemas().size() > 1;
    const auto add = [&](QVBoxLayout* column, const QString& text,
                         const std::vector<const catalog::Relation*>& relations) {
        if (!relations.empty()) addSectionTo(column, text, makeLinks(linksTo(relations, saysSchema), go));
    };
    add(left, tr("Largest"), overview.largest);
    add(left, tr("Newest"), overview.newest);
    add(right, tr("Without a key"), overview.withoutKey);
    add(right, tr("Empty, by the estimate"), overview.empty);
    add(right, tr("Without foreign keys from or to it"), overview.alone);
    addSectionTo(right, tr("About the server"), makeQueries(inner));
    left->addStretch();
    right->addStretch();
    all->addStretch(1);  // all that is left over
    scroll_->setWidget(inner);
}

/// Each opens the server's page.
QWidget* OverviewPage::makeQueries(QWidget* parent) {
    auto* list = new QWidget(parent);
    auto* layout = new QVBoxLayout(list);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(2);
    for (const sql::ServerQuery& one : sql::serverQueries(dialect_)) {
        auto* button = makeButton(toQt(one.label), "link", objectName::kOverviewQuery, toQt(one.label), list);
        connect(button, &QPushButton::clicked, this, [this, one] { Q_EMIT serverRequested(place_, toQt(one.id)); });
        layout->addWidget(button, 0, Qt::AlignLeft);
    }
    return list;
}

}  // namespace pantry::app

#include "moc_overview_page.cpp"
