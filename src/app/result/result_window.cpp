#include "app/result/result_window.h"

#include <QIcon>
#include <QLabel>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/result/origin_band.h"

namespace pantry::app {

ResultWindow::ResultWindow(Desk& desk, Sheet& sheet, Card* card)
    : sheet_(&sheet), card_(card), wasPinned_(card->isPinned()), pane_(new ResultPane(desk, sheet, this)) {
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
    layout->addWidget(new OriginBand(desk, card->connectionId(), card->place(), this));
    layout->addWidget(pane_, 1);
    layout->addWidget(sums);
    connect(pane_, &ResultPane::selectionSummed, sums, &QLabel::setText);
    connect(card, &QObject::destroyed, this, &QWidget::close);
    connect(card, &Card::changed, this, &ResultWindow::refreshTitle);
    sheet.setPinned(card, true);
    pane_->setCard(card);
    refreshTitle();
    pane_->grid()->setFocus();
}

ResultWindow::~ResultWindow() {
    if (card_ && sheet_ && !wasPinned_) sheet_->setPinned(card_, false);
}

void ResultWindow::refreshTitle() {
    if (card_) setWindowTitle(tr("%1 · %2 — %3").arg(card_->number()).arg(card_->title(), card_->place()));
}

}  // namespace pantry::app
