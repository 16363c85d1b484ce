#include "app/result/result_side.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QKeyEvent>

namespace pantry::app {

ResultSide::ResultSide(Desk& desk, GridWishes grid, std::function<std::vector<ResultSource*>()> sources,
                       QWidget* parent)
    : QWidget(parent), desk_(desk), grid_(std::move(grid)), sources_(std::move(sources)) {
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
}

void ResultSide::openExport(ResultSource* source) {
    if (compare_ != nullptr) compare_->hide();
    if (export_ == nullptr) {
        export_ = new ExportPanel(desk_, grid_, this);
        layout()->addWidget(export_);
        connect(export_, &ExportPanel::sheetWanted, this, &ResultSide::sheetWanted);
        connect(export_, &ExportPanel::closeRequested, this, [this] { closePanel(export_); });
    }
    export_->open(source);
}

void ResultSide::openCompare(ResultSource* source, const std::vector<std::size_t>& primaryKey) {
    if (export_ != nullptr) export_->hide();
    if (compare_ == nullptr) {
        compare_ = new ComparePanel(sources_, this);
        connect(compare_, &ComparePanel::compared, this, &ResultSide::compared);
        layout()->addWidget(compare_);
        connect(compare_, &ComparePanel::closeRequested, this, [this] { closePanel(compare_); });
    }
    compare_->open(source, primaryKey);
}

/// First the focus, then the panel: a panel that takes the focus with it gives it to whatever is next in the window.
void ResultSide::closePanel(QWidget* panel) {
    if (panel->isAncestorOf(QApplication::focusWidget())) Q_EMIT left();
    panel->hide();
}

void ResultSide::keyPressEvent(QKeyEvent* event) {
    if (event->key() != Qt::Key_Escape) return QWidget::keyPressEvent(event);
    for (QWidget* panel : {static_cast<QWidget*>(export_), static_cast<QWidget*>(compare_)}) {
        if (panel != nullptr && panel->isVisible()) return closePanel(panel);
    }
}

void ResultSide::setSource(ResultSource* source) {
    if (export_ != nullptr) export_->setSource(source);
}

void ResultSide::noteRows() {
    if (export_ != nullptr) export_->noteRows();
}

}  // namespace pantry::app

#include "moc_result_side.cpp"
