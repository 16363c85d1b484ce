#include "app/result/part_strip.h"

#include <QHBoxLayout>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/widgets.h"
#include "core/base/text.h"
#include "core/sql/write/ordered_query.h"

namespace pantry::app {

PartStrip::PartStrip(QWidget* parent)
    : QFrame(parent),
      label_(makeLabel({}, "", this)),
      allRows_(makeButton(tr("All rows"), "link", "partAllRows", tr("Read all rows of this result"), this)),
      sortOnServer_(makeButton(tr("Sort on the server"), "link", objectName::kSortOnServer,
                               tr("Run the statement with this order"), this)) {
    name(this, objectName::kPartStrip, tr("Only a part is here"));
    setProperty("look", "notice");
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(14, 2, 10, 2);
    layout->setSpacing(8);
    layout->addWidget(label_);
    layout->addWidget(allRows_);
    layout->addWidget(sortOnServer_);
    layout->addStretch();
    connect(allRows_, &QPushButton::clicked, this, &PartStrip::allRowsWanted);
    connect(sortOnServer_, &QPushButton::clicked, this, [this] { Q_EMIT statementWanted(statement_); });
    hide();
}

void PartStrip::show(const ResultSource* source) {
    const bool isPart = source != nullptr && source->result() && source->hasMore();
    const data::ViewRequest request = isPart ? source->viewRequest() : data::ViewRequest{};
    const bool isNarrowed = !request.filter.conditions.empty() || !request.filterText.empty();
    setVisible(isPart && (isNarrowed || !request.order.empty()));
    if (isHidden()) return;
    const QString rows = toQt(base::counted(static_cast<std::int64_t>(source->rowCount()), "row", "rows"));
    label_->setText(request.order.empty() ? tr("Filtered are only the first %1, which are here.").arg(rows)
                    : isNarrowed          ? tr("Sorted and filtered are only the first %1, which are here.").arg(rows)
                                          : tr("Sorted are only the first %1, which are here.").arg(rows));
    std::vector<std::string> names;
    for (const data::Column& column : source->result()->columns()) names.push_back(column.name);
    std::vector<sql::OrderWish> order;
    for (const data::SortKey& key : request.order) order.push_back({key.column, key.isDescending});
    const auto statement = sql::orderedQuery(source->statement().text(), source->language(), names, order);
    sortOnServer_->setVisible(statement.has_value());
    statement_ = toQt(statement.value_or(""));
    sortOnServer_->setToolTip(tr("Writes this below in the sheet and runs it:\n\n%1").arg(statement_));
}

}  // namespace pantry::app

#include "moc_part_strip.cpp"
