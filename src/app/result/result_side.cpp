#include "app/result/result_side.h"

#include <QHBoxLayout>

namespace pantry::app {

ResultSide::ResultSide(Desk& desk, Sheet& sheet, GridWishes grid, std::function<std::vector<Card*>()> cards,
                       QWidget* parent)
    : QWidget(parent), desk_(desk), sheet_(sheet), grid_(std::move(grid)), cards_(std::move(cards)) {
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
}

void ResultSide::openExport(Card* card) {
    if (compare_ != nullptr) compare_->hide();
    if (export_ == nullptr) {
        export_ = new ExportPanel(desk_, sheet_, grid_, this);
        layout()->addWidget(export_);
        connect(export_, &ExportPanel::sheetWanted, this, &ResultSide::sheetWanted);
    }
    export_->open(card);
}

void ResultSide::openCompare(Card* card, const std::vector<std::size_t>& primaryKey) {
    if (export_ != nullptr) export_->hide();
    if (compare_ == nullptr) {
        compare_ = new ComparePanel(sheet_, cards_, this);
        layout()->addWidget(compare_);
    }
    compare_->open(card, primaryKey);
}

void ResultSide::setCard(Card* card) {
    if (export_ != nullptr) export_->setCard(card);
}

void ResultSide::noteRows() {
    if (export_ != nullptr) export_->noteRows();
}

}  // namespace pantry::app
