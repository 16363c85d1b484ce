#include "app/shell/notice_strip.h"

#include <QHBoxLayout>

#include "app/base/object_names.h"
#include "app/look/widgets.h"

namespace pantry::app {

NoticeStrip::NoticeStrip(QWidget* parent)
    : QFrame(parent),
      text_(makeLabel({}, "", this)),
      understood_(makeButton(tr("Understood"), "", "noticeClose", tr("Close the notice"), this)) {
    setProperty("look", "notice");
    name(this, objectName::kNotice, tr("Notice"));
    text_->setWordWrap(true);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(12, 6, 8, 6);
    row->addWidget(text_, 1);
    row->addWidget(understood_);
    connect(understood_, &QPushButton::clicked, this, [this] {
        waiting_.removeFirst();
        refresh();
    });
    hide();
}

void NoticeStrip::add(const QString& notice) {
    if (waiting_.contains(notice)) return;
    waiting_ << notice;
    refresh();
}

void NoticeStrip::refresh() {
    setVisible(!waiting_.isEmpty());
    if (waiting_.isEmpty()) return;
    text_->setText(waiting_.front());
    const auto behind = waiting_.size() - 1;
    understood_->setText(behind == 0 ? tr("Understood") : tr("Understood, %1 more").arg(behind));
}

}  // namespace pantry::app

#include "moc_notice_strip.cpp"
