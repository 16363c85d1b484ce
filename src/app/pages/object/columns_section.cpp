#include "app/pages/object/columns_section.h"

#include <QHBoxLayout>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/widgets.h"
#include "app/pages/object/object_sections.h"
#include "core/db/engine_traits.h"
#include "core/sql/write/shape_query.h"

namespace pantry::app {

ShapeReader::ShapeReader(Desk& desk, ObjectPlace place, QObject* parent)
    : QObject(parent), desk_(desk), place_(std::move(place)) {
    if (const db::ConnectionProfile* profile = desk_.connections().profile(fromQt(place_.connectionId))) {
        dialect_ = db::dialectOf(profile->engine);
    }
}

ShapeReader::~ShapeReader() {
    if (isReading_) reading_.cancel();
}

void ShapeReader::read(const catalog::Relation& relation, const catalog::Column& column) {
    if (isReading_) return;
    isReading_ = true;
    shape_.reset();
    column_ = column.name;
    text_ = tr("Reading all values of %1…").arg(toQt(column.name));
    const sql::Statement query(sql::shapeQuery(relation, column, dialect_), dialect_);
    reading_ = desk_.catalogs().readAtLength(
        fromQt(place_.connectionId), place_.database, query, sql::kFrequentValues + 1,
        whileThere(this, [this, name = column.name](const Result<data::ResultSetPtr>& rows) { note(name, rows); }));
    Q_EMIT changed();
}

void ShapeReader::note(const std::string& column, const Result<data::ResultSetPtr>& rows) {
    isReading_ = false;
    const Result<work::ColumnShape> shape = rows ? work::shapeOf(**rows) : Result<work::ColumnShape>(rows.error());
    if (shape) shape_ = *shape;
    text_ = QStringLiteral("%1: %2").arg(toQt(column), shape ? toQt(shape->summary()) : toQt(shape.error()));
    Q_EMIT changed();
}

ColumnsSection::ColumnsSection(ShapeReader& reader, const catalog::Relation& relation, QWidget* parent)
    : QWidget(parent),
      reader_(reader),
      relation_(relation),
      table_(makeColumnsTable(relation_, reader.dialect())),
      verb_(makeButton({}, "link", objectName::kShapeVerb, tr("Read the shape of the column's values"), this)),
      summary_(makeLabel({}, "small", this)),
      layout_(new QVBoxLayout(this)) {
    name(summary_, objectName::kShapeSummary, tr("The shape of the values"));
    summary_->setWordWrap(true);
    summary_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    layout_->setContentsMargins(0, 0, 0, 0);
    layout_->setSpacing(4);
    layout_->addWidget(table_);
    auto* row = new QHBoxLayout;
    row->setSpacing(10);
    row->addWidget(verb_, 0, Qt::AlignTop);
    row->addWidget(summary_, 1);
    layout_->addLayout(row);
    connect(verb_, &QPushButton::clicked, this, [this] { reader_.isReading() ? reader_.stop() : readChosen(); });
    for (int i = 0; i < table_->rowCount(); ++i) {
        if (relation_.columns[static_cast<std::size_t>(i)].name == reader_.chosen) table_->setCurrentCell(i, 0);
    }
    connect(table_, &QTableWidget::itemSelectionChanged, this, [this] {
        if (const catalog::Column* column = chosen()) reader_.chosen = column->name;
        refresh();
    });
    connect(table_, &QTableWidget::itemActivated, this, &ColumnsSection::readChosen);
    connect(&reader_, &ShapeReader::changed, this, &ColumnsSection::refresh);
    refresh();
}

const catalog::Column* ColumnsSection::chosen() const {
    const int row = table_->currentRow();
    return row >= 0 && row < static_cast<int>(relation_.columns.size())
               ? &relation_.columns[static_cast<std::size_t>(row)]
               : nullptr;
}

void ColumnsSection::readChosen() {
    if (const catalog::Column* column = chosen()) reader_.read(relation_, *column);
}

void ColumnsSection::refresh() {
    const catalog::Column* column = chosen();
    const bool isKnown = column != nullptr && reader_.shape() && reader_.column() == column->name;
    verb_->setVisible(reader_.isReading() || (column != nullptr && !isKnown));
    if (reader_.isReading()) {
        verb_->setText(tr("Stop"));
    } else if (column != nullptr) {
        verb_->setText(tr("Values of %1").arg(toQt(column->name)));
    }
    const bool isAsked = column != nullptr || !reader_.text().isEmpty();
    summary_->setText(isAsked ? reader_.text() : tr("Choose a column to see the shape of its values."));
    if (frequent_ != nullptr) frequent_->deleteLater();
    frequent_ = nullptr;
    if (!reader_.shape()) return;
    frequent_ = makeFrequentTable(*reader_.shape());
    layout_->addWidget(frequent_);
    frequent_->show();
}

}  // namespace pantry::app

#include "moc_columns_section.cpp"
