#include "app/pages/sheet/ran_before.h"

#include <QKeyEvent>
#include <QVBoxLayout>
#include <algorithm>
#include <utility>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/command/command.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/text.h"

namespace pantry::app {
namespace {

constexpr int kDebounceMs = 30;
constexpr int kWidest = 820;
constexpr int kRows = 7;
constexpr std::size_t kLongestError = 80;  // bytes of a complaint that are shown
constexpr int kRowHeight = 24;
constexpr std::size_t kShown = 30;
constexpr std::size_t kWholeLines = 12;

/// The first lines of a statement, and a sign that there are more.
QString firstLines(const std::string& statement) {
    QString text;
    std::size_t lines = 0;
    for (const std::string_view line : base::splitAt(statement, '\n')) {
        if (++lines > kWholeLines) return text + QStringLiteral("…");
        text += toQt(base::oneLine(line, 160)) + QLatin1Char('\n');
    }
    return text.trimmed();
}

}  // namespace

RanBefore::RanBefore(Desk& desk, Sheet& sheet, SqlEditor& editor, QWidget* parent)
    : QFrame(parent),
      desk_(desk),
      sheet_(sheet),
      editor_(editor),
      find_(new QLineEdit(this)),
      list_(new QListWidget(this)),
      whole_(makeLabel({}, "code", this)),
      hint_(makeLabel({}, "small", this)) {
    setProperty("look", "float");
    name(this, "ranBefore", tr("What ran before"));
    name(find_, "ranBeforeFind", tr("Search what ran before"));
    name(list_, "ranBeforeList", tr("What ran before, the newest first"));
    whole_->setObjectName(QStringLiteral("ranBeforeWhole"));
    find_->setPlaceholderText(tr("Search what ran before"));
    find_->installEventFilter(this);
    list_->setFocusPolicy(Qt::NoFocus);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    QFont code(QStringLiteral("Hack"));
    code.setPixelSize(Theme::px(12));
    list_->setFont(code);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(10, 10, 10, 8);
    layout->setSpacing(6);
    layout->addWidget(find_);
    layout->addWidget(list_);
    layout->addWidget(makeFrame("rule"));
    layout->addWidget(whole_);
    layout->addWidget(hint_);
    debounce_.setSingleShot(true);
    debounce_.setInterval(kDebounceMs);
    connect(&debounce_, &QTimer::timeout, this, &RanBefore::search);
    connect(find_, &QLineEdit::textChanged, &debounce_, qOverload<>(&QTimer::start));
    connect(list_, &QListWidget::currentRowChanged, this, &RanBefore::showChosen);
    connect(list_, &QListWidget::itemClicked, this, [this] { find_->setFocus(); });
    hide();
}

void RanBefore::open() {
    if (isVisible()) return step(1);
    const std::string selected = editor_.selection();
    const bool isOneLine = selected.find('\n') == std::string::npos;
    find_->setText(isOneLine ? toQt(selected) : QString());
    search();
    place();
    show();
    raise();
    find_->setFocus();
    find_->selectAll();
}

void RanBefore::place() {
    const QPoint corner = editor_.mapTo(parentWidget(), QPoint(0, 0));
    const int width = std::min(editor_.width() - 40, Theme::px(kWidest));
    setFixedWidth(std::max(width, 280));
    adjustSize();
    move(corner + QPoint(std::max(0, (editor_.width() - this->width()) / 2), 8));
}

/// What is shown stays until the answer comes, so that the list does not flicker. An answer to letters that are other
/// ones by now is dropped.
void RanBefore::search() {
    debounce_.stop();
    const std::string connection = fromQt(sheet_.connectionId());
    store::LedgerQuery query{.connections = {connection},
                             .search = store::parseLedgerSearch(fromQt(find_->text()), base::now()),
                             .limit = kShown};
    const auto ask = [&](bool isOwn) {
        desk_.ledger().findFolded(
            query, whileThere(this, [this, isOwn, asked = asked_](const Result<store::LedgerPage>& page) {
                if (asked == asked_) add(page ? page->folds : std::vector<store::LedgerFold>{}, isOwn);
            }));
    };
    ++asked_;
    isSearching_ = true;
    ask(true);
    query.connections.clear();
    ask(false);
}

/// The answers come in the order of the questions: that of the sheet's own connection first. With the second the list
/// is that of the letters, and a key that waited for it is carried out.
void RanBefore::add(const std::vector<store::LedgerFold>& folds, bool isOwn) {
    if (isOwn) {
        list_->setCurrentRow(0);
        own_ = folds;
        others_.clear();
    } else {
        others_ = folds;
        const std::string connection = fromQt(sheet_.connectionId());
        std::erase_if(others_, [&](const store::LedgerFold& one) { return one.last.start.connectionId == connection; });
    }
    showList();
    if (isOwn) return;
    isSearching_ = false;
    if (const auto how = std::exchange(due_, std::nullopt)) take(*how);
}

void RanBefore::showList() {
    const int row = std::max(0, list_->currentRow());
    const QSignalBlocker quiet(list_);
    list_->clear();
    shown_.clear();
    for (const auto* folds : {&own_, &others_}) {
        for (const store::LedgerFold& one : *folds) shown_.push_back(&one);
    }
    const std::string connection = fromQt(sheet_.connectionId());
    for (const store::LedgerFold* one : shown_) {
        const store::LedgerEntry& last = one->last;
        QString text = toQt(base::oneLine(last.start.statement, 300));
        if (last.start.connectionId != connection)
            text.prepend(QStringLiteral("%1 · ").arg(toQt(last.start.connectionName)));
        auto* item = new QListWidgetItem(text, list_);
        item->setSizeHint({0, Theme::px(kRowHeight)});
        if (last.end.status == store::RunStatus::Failed) item->setForeground(Theme::current().colour("tomato"));
    }
    list_->setFixedHeight(std::clamp(list_->count(), 1, kRows) * Theme::px(kRowHeight) + 4);
    list_->setCurrentRow(list_->count() == 0 ? -1 : std::min(row, list_->count() - 1));
    showChosen();
}

const store::LedgerEntry* RanBefore::chosen() const {
    const int row = list_->currentRow();
    return row < 0 || row >= static_cast<int>(shown_.size()) ? nullptr : &shown_[static_cast<std::size_t>(row)]->last;
}

void RanBefore::showChosen() {
    const store::LedgerEntry* one = chosen();
    whole_->setText(one != nullptr ? firstLines(one->start.statement) : QString());
    whole_->setVisible(one != nullptr);
    if (one == nullptr) {
        hint_->setText(tr("Nothing that ran fits. Esc closes"));
    } else {
        const auto runs = shown_[static_cast<std::size_t>(list_->currentRow())]->runs;
        QString when = toQt(base::spoken(one->startedAt, base::now()));
        if (one->end.status == store::RunStatus::Failed)
            when += QStringLiteral(" · ") + tr("failed: %1").arg(toQt(base::oneLine(one->end.error, kLongestError)));
        hint_->setText(
            tr("%1 · %2 · %3 takes it, Tab to edit, %4 older, Esc closes")
                .arg(when, toQt(base::counted(runs, "run", "runs")), tr("Return"), keyText("sheet.ranBefore")));
    }
    place();
}

void RanBefore::step(int by) {
    if (list_->count() == 0) return;
    list_->setCurrentRow(std::clamp(list_->currentRow() + by, 0, list_->count() - 1));
}

void RanBefore::close() {
    due_.reset();
    hide();
    editor_.setFocus();
}

void RanBefore::take(Take how) {
    if (debounce_.isActive()) search();
    if (isSearching_) {
        due_ = how;
        return;
    }
    const store::LedgerEntry* one = chosen();
    if (one == nullptr) return;
    const std::string statement = one->start.statement;
    close();
    if (how == Take::Run) {
        Q_EMIT runRequested(statement);
    } else {
        Q_EMIT taken(statement, how == Take::Edit);
    }
}

bool RanBefore::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::FocusOut && watched == find_ && isVisible()) {
        due_.reset();
        hide();
    }
    if (claimsReturn(event)) return true;
    if (event->type() != QEvent::KeyPress) return QFrame::eventFilter(watched, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    const bool isReturn = key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter;
    if (key->key() == Qt::Key_Escape) {
        close();
        return true;
    }
    if (key->key() == Qt::Key_Down || key->key() == Qt::Key_Up) {
        step(key->key() == Qt::Key_Down ? 1 : -1);
        return true;
    }
    if (!isReturn && key->key() != Qt::Key_Tab) return QFrame::eventFilter(watched, event);
    const bool isRun = isReturn && key->modifiers().testFlag(Qt::ControlModifier);
    take(isRun ? Take::Run : isReturn ? Take::Put : Take::Edit);
    return true;
}

}  // namespace pantry::app

#include "moc_ran_before.cpp"
