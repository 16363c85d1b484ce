#include "app/catalog/object_card.h"

#include <QHBoxLayout>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/base/widgets.h"
#include "app/theme/theme.h"
#include "core/base/text.h"

namespace pantry::app {
namespace {

constexpr std::size_t kColumnsShown = 9;

}  // namespace

ObjectCard::ObjectCard(QWidget* parent)
    : QFrame(parent),
      name_(makeLabel({}, "heading", this)),
      size_(makeLabel({}, "small", this)),
      columns_(new QVBoxLayout) {
    name(this, objectName::kObjectCard, tr("The chosen table or view"));
    auto* top = new QHBoxLayout;
    top->addWidget(name_);
    top->addStretch();
    top->addWidget(size_);
    columns_->setSpacing(2);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 8, 12, 8);
    layout->setSpacing(5);
    layout->addLayout(top);
    layout->addLayout(columns_);
    hide();
}

void ObjectCard::show(const db::CatalogRelation* relation) {
    clearLayout(columns_);
    setVisible(relation != nullptr);
    if (relation == nullptr) return;
    name_->setText(QFontMetrics(name_->font()).elidedText(toQt(relation->name), Qt::ElideRight, 150));
    size_->setText(relation->rowEstimate
                       ? QStringLiteral("≈ ") + toQt(base::counted(*relation->rowEstimate, "row", "rows"))
                       : toQt(db::kindName(relation->kind)));
    for (std::size_t i = 0; i < relation->columns.size() && i < kColumnsShown; ++i) {
        const db::CatalogColumn& c = relation->columns[i];
        const db::CatalogForeignKey* key = relation->foreignKeyOf(c.name);
        auto* row = new QHBoxLayout;
        auto* sign = makeLabel(c.keyPosition > 0 ? QStringLiteral("●")
                               : key != nullptr  ? QStringLiteral("↗")
                                                 : QString(),
                               "small");
        sign->setFixedWidth(12);
        sign->setToolTip(c.keyPosition > 0 ? tr("part of the primary key")
                         : key != nullptr  ? tr("refers to %1").arg(toQt(key->relation))
                                           : QString());
        sign->setStyleSheet(QStringLiteral("color: %1").arg(Theme::current().colour("marigold").name()));
        auto* columnName = makeLabel({}, "code");
        columnName->setText(columnName->fontMetrics().elidedText(toQt(c.name), Qt::ElideRight, 128));
        auto* type = makeLabel(
            toQt(base::toLower(c.typeName)) + (c.isNullable && c.keyPosition == 0 ? QStringLiteral(" ?") : QString()),
            "small");
        type->setToolTip(c.isNullable ? tr("may be null") : tr("never null"));
        row->addWidget(sign);
        row->addWidget(columnName);
        row->addStretch();
        row->addWidget(type);
        columns_->addLayout(row);
    }
    if (relation->columns.size() > kColumnsShown) {
        columns_->addWidget(makeLabel(
            tr("and %1 more; Return opens the details").arg(relation->columns.size() - kColumnsShown), "small"));
    }
    if (!relation->problem.empty()) {
        auto* problem = makeLabel(toQt(relation->problem), "bad");
        problem->setWordWrap(true);
        columns_->addWidget(problem);
    }
}

}  // namespace pantry::app
