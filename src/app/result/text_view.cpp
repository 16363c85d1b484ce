#include "app/result/text_view.h"

#include <QApplication>
#include <QClipboard>
#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/base/background.h"
#include "app/base/text.h"
#include "app/look/widgets.h"
#include "app/result/result_names.h"
#include "core/base/text.h"
#include "core/exchange/view_text.h"

namespace pantry::app {
namespace {

constexpr std::size_t kShownRows = 1000;  // more would only slow scrolling down

}  // namespace

TextView::TextView(QWidget* parent)
    : QWidget(parent), facts_(makeLabel({}, "small", this)), text_(new QPlainTextEdit(this)) {
    setObjectName(QStringLiteral("plainBox"));
    name(text_, resultName::kPlainText, tr("The rows as text"));
    text_->setReadOnly(true);
    text_->setLineWrapMode(QPlainTextEdit::NoWrap);
    text_->setProperty("look", "code");
    auto* copy =
        makeButton(tr("Copy all"), "plain", resultName::kPlainTextCopy, tr("Copy all rows in this form"), this);
    auto* row = new QHBoxLayout;
    row->setContentsMargins(12, 2, 12, 2);
    row->addWidget(copy);
    row->addWidget(facts_);
    row->addStretch();
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(row);
    layout->addWidget(text_, 1);
    setFocusProxy(text_);
    connect(copy, &QPushButton::clicked, this, &TextView::copyAll);
}

void TextView::show(const data::ResultView& view, const std::vector<std::size_t>& columns, Form form) {
    view_ = view;
    columns_ = columns;
    form_ = form;
    cancellation_.request();
    cancellation_ = base::Cancellation();
    const auto rows = static_cast<std::int64_t>(view.rowCount());
    facts_->setText(view.rowCount() > kShownRows
                        ? tr("The first %1 of %2 show; copying takes all.")
                              .arg(toQt(base::grouped(kShownRows)), toQt(base::counted(rows, "row", "rows")))
                        : toQt(base::counted(rows, "row", "rows")));
    inBackground(
        this,
        [view, columns, form, cancellation = cancellation_] {
            return form == Form::Json ? exchange::jsonOf(view, columns, kShownRows, cancellation)
                                      : exchange::alignedText(view, columns, kShownRows, cancellation);
        },
        [this](const std::optional<std::string>& text) {
            if (text) text_->setPlainText(toQt(*text));
        });
}

void TextView::copyAll() {
    if (!view_) return;
    inBackground(
        this,
        [view = *view_, columns = columns_, form = form_] {
            return form == Form::Json ? exchange::jsonOf(view, columns, view.rowCount(), {})
                                      : exchange::alignedText(view, columns, view.rowCount(), {});
        },
        [this](const std::optional<std::string>& text) {
            QApplication::clipboard()->setText(toQt(*text));
            Q_EMIT remarked(tr("Copied %1").arg(toQt(base::readableBytes(text->size()))));
        });
}

void TextView::setTextSize(int points) {
    text_->setStyleSheet(
        QStringLiteral("QPlainTextEdit { font-family: Hack; font-size: %1pt; border: none; }").arg(points));
}

}  // namespace pantry::app

#include "moc_text_view.cpp"
