#include "app/result/result_window.h"

#include <QIcon>
#include <QLabel>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/result/origin_band.h"

namespace pantry::app {

ResultWindow::ResultWindow(Desk& desk, ResultSource* source)
    : source_(source), wasPinned_(source->isPinned()), pane_(new ResultPane(desk, this)) {
    name(this, "resultWindow", tr("A result in a window of its own"));
    setAttribute(Qt::WA_DeleteOnClose);
    Theme::current().dress(this);
    setWindowIcon(QIcon(QStringLiteral(":/icons/agile-pantry.svg")));
    resize(900, 560);
    auto* sums = makeLabel({}, "small", this);
    sums->setMargin(5);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(new OriginBand(desk, source->connectionId(), source->place(), this));
    layout->addWidget(pane_, 1);
    layout->addWidget(sums);
    connect(pane_, &ResultPane::selectionSummed, sums, &QLabel::setText);
    connect(source, &QObject::destroyed, this, &QWidget::close);
    connect(source, &ResultSource::changed, this, &ResultWindow::refreshTitle);
    source->setPinned(true);
    pane_->setSource(source);
    refreshTitle();
    pane_->grid()->setFocus();
}

ResultWindow::~ResultWindow() {
    if (source_ && !wasPinned_) source_->setPinned(false);
}

void ResultWindow::refreshTitle() {
    if (!source_) return;
    const QString mark = source_->mark().isEmpty() ? QString() : source_->mark() + QStringLiteral(" · ");
    setWindowTitle(tr("%1%2 — %3").arg(mark, source_->title(), source_->place()));
}

}  // namespace pantry::app

#include "moc_result_window.cpp"
