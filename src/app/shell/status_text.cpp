#include "app/shell/status_text.h"

namespace pantry::app {

StatusText::StatusText(QLabel* label, QObject* parent) : QObject(parent), label_(label) {
    constexpr int kStaysMs = 15'000;
    timer_.setSingleShot(true);
    timer_.setInterval(kStaysMs);
    connect(&timer_, &QTimer::timeout, this, [this] {
        remark_.clear();
        show();
    });
}

void StatusText::say(const QString& remark, const QObject* about) {
    if (remark.isEmpty()) return;
    remark_ = remark;
    about_ = about;
    timer_.start();
    show();
}

void StatusText::setFacts(const QString& facts) {
    facts_ = facts;
    if (!facts.isEmpty()) {
        remark_.clear();
        timer_.stop();
    }
    show();
}

void StatusText::followPage(const QObject* page) {
    facts_.clear();
    if (about_ != page) remark_.clear();
    show();
}

void StatusText::show() { label_->setText(remark_.isEmpty() ? facts_ : remark_); }

}  // namespace pantry::app

#include "moc_status_text.cpp"
