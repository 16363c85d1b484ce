#include "app/ledger/ledger_panel.h"

#include <QApplication>
#include <QClipboard>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMenu>
#include <QPainter>
#include <QScrollBar>
#include <QStyledItemDelegate>
#include <QVBoxLayout>
#include <utility>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/ledger/run_words.h"
#include "app/look/connection_colours.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/text.h"

namespace pantry::app {
namespace {

enum Role { EntryRole = Qt::UserRole, FactsRole, StatusRole, ColourRole, MoreRole };
constexpr int kDebounceMs = 120;
constexpr int kEntryHeight = 58;
constexpr int kShortHeight = 42;
constexpr int kSides = 37;  // of an entry, beside its text
constexpr int kDayHeight = 26;
constexpr std::size_t kShown = 300;

QFont codeFont() {
    QFont code(QStringLiteral("Hack"));
    code.setPixelSize(Theme::px(12));
    return code;
}

/// A run: two lines of its statement, then what became of it.
class EntryDelegate : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    /// As high as what is painted: the list's own width decides, as it does there.
    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        if (!index.data(EntryRole).isValid()) return {80, Theme::px(kDayHeight)};
        const auto* view = qobject_cast<const QAbstractItemView*>(option.widget);
        const int room = (view != nullptr ? view->viewport()->width() : 250) - kSides;
        const int wanted = QFontMetrics(codeFont()).horizontalAdvance(index.data().toString());
        return {80, Theme::px(wanted > room ? kEntryHeight : kShortHeight)};
    }
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        const Theme& theme = Theme::current();
        painter->save();
        painter->setRenderHint(QPainter::Antialiasing);
        QFont small = option.font;
        small.setPixelSize(Theme::px(12));
        if (!index.data(EntryRole).isValid()) {
            painter->setFont(small);
            painter->setPen(theme.colour("quiet"));
            painter->drawText(option.rect.adjusted(14, 4, -10, 0), Qt::AlignVCenter | Qt::TextWordWrap,
                              index.data().toString());
            return painter->restore();
        }
        const QRect box = option.rect.adjusted(8, 1, -8, -1);
        if (option.state.testFlag(QStyle::State_Selected)) {
            painter->setPen(option.state.testFlag(QStyle::State_HasFocus) ? QPen(theme.colour("juniper")) : Qt::NoPen);
            painter->setBrush(theme.colour("selection"));
            painter->drawRoundedRect(box, 4, 4);
        }
        painter->fillRect(QRect(box.left() + 5, box.top() + 6, 3, box.height() - 12),
                          index.data(ColourRole).value<QColor>());
        const QRect area = box.adjusted(15, 4, -6, -4);  // kSides in all
        const QFont code = codeFont();
        painter->setFont(code);
        painter->setPen(theme.colour("ink"));
        const QFontMetrics metrics(code);
        const QString text = index.data().toString();
        QString first = text;
        QString second;
        if (metrics.horizontalAdvance(text) > area.width()) {  // break at the last blank that fits
            qsizetype cut = 0;
            for (qsizetype at = text.indexOf(QLatin1Char(' ')); at >= 0; at = text.indexOf(QLatin1Char(' '), at + 1)) {
                if (metrics.horizontalAdvance(text.left(at)) > area.width()) break;
                cut = at;
            }
            if (cut > 0) {
                first = text.left(cut);
                second = text.mid(cut + 1);
            }
        }
        painter->drawText(area.left(), area.top() + 11, metrics.elidedText(first, Qt::ElideRight, area.width()));
        painter->drawText(area.left(), area.top() + 27, metrics.elidedText(second, Qt::ElideRight, area.width()));
        painter->setFont(small);
        painter->setPen(theme.colour(index.data(StatusRole).toString().toLatin1().constData()));
        painter->drawText(
            area, Qt::AlignBottom | Qt::AlignLeft,
            QFontMetrics(small).elidedText(index.data(FactsRole).toString(), Qt::ElideRight, area.width()));
        painter->restore();
    }
};

QString factsOf(const store::LedgerEntry& e) {
    return toQt(base::localTime(e.startedAt).substr(0, 5)) + QStringLiteral(" · ") +
           (e.end.status == store::RunStatus::Succeeded ? QString() : statusSign(e.end.status)) + outcomeOf(e);
}

const char* colourOf(store::RunStatus status) {
    return status == store::RunStatus::Succeeded ? "quiet" : statusColour(status);
}

}  // namespace

LedgerPanel::LedgerPanel(Desk& desk, QWidget* parent)
    : QWidget(parent),
      desk_(desk),
      find_(new QLineEdit(this)),
      onlyThis_(new QCheckBox(tr("Only this connection"), this)),
      list_(new QListWidget(this)) {
    name(find_, objectName::kLedgerFind, tr("Find in the ledger"));
    name(onlyThis_, objectName::kLedgerScope, tr("Only runs of the chosen connection"));
    name(list_, objectName::kLedgerList, tr("Runs, newest first"));
    find_->setProperty("look", "find");
    find_->setPlaceholderText(tr("Find…  failed  slow  today  rows>1000"));
    find_->setClearButtonEnabled(true);
    find_->installEventFilter(this);
    list_->installEventFilter(this);
    list_->setItemDelegate(new EntryDelegate(list_));
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    list_->setContextMenuPolicy(Qt::CustomContextMenu);
    list_->setResizeMode(QListView::Adjust);
    auto* top = new QVBoxLayout;
    top->setContentsMargins(12, 10, 12, 4);
    top->setSpacing(8);
    top->addWidget(find_);
    top->addWidget(onlyThis_);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(2);
    layout->addLayout(top);
    layout->addWidget(list_, 1);
    restTimer_.setSingleShot(true);
    restTimer_.setInterval(kDebounceMs);
    connect(&restTimer_, &QTimer::timeout, this, &LedgerPanel::reload);
    connect(find_, &QLineEdit::textChanged, this, [this] {
        limit_ = kShown;
        isFromTop_ = true;
        restTimer_.start();
    });
    connect(onlyThis_, &QCheckBox::toggled, this, &LedgerPanel::reload);
    connect(&desk_, &Desk::ledgerChanged, &restTimer_, qOverload<>(&QTimer::start));
    connect(list_, &QListWidget::itemDoubleClicked, this, &LedgerPanel::openCurrent);
    connect(list_, &QListWidget::itemClicked, this, [this](const QListWidgetItem* item) {
        if (item->data(MoreRole).toBool()) openCurrent();
    });
    connect(list_, &QWidget::customContextMenuRequested, this, &LedgerPanel::showMenu);
    connect(&Theme::current(), &Theme::changed, this, [this] { fill(entries_); });
    reload();
}

void LedgerPanel::setConnection(const QString& id) {
    if (id == connectionId_) return;
    connectionId_ = id;
    if (onlyThis_->isChecked()) reload();
}

void LedgerPanel::focusFind() {
    find_->setFocus();
    find_->selectAll();
}

void LedgerPanel::reload() {
    store::LedgerQuery query{.search = store::parseLedgerSearch(fromQt(find_->text()), base::now()),
                             .limit = limit_ + 1};  // one more tells whether there are more
    if (onlyThis_->isChecked()) query.connections = {fromQt(connectionId_)};
    desk_.ledger().find(query, whileThere(this, [this](Result<std::vector<store::LedgerEntry>> entries) {
                            if (entries) fill(*entries);
                        }));
}

void LedgerPanel::fill(const std::vector<store::LedgerEntry>& entries) {
    const int scrolled = list_->verticalScrollBar()->value();
    const std::int64_t keep = list_->currentItem() != nullptr ? list_->currentItem()->data(EntryRole).toLongLong() : 0;
    if (&entries != &entries_) entries_ = entries;
    list_->clear();
    QString day;
    const auto plain = [this](const QString& text) {
        auto* item = new QListWidgetItem(text, list_);
        item->setFlags(Qt::NoItemFlags);
    };
    std::size_t count = 0;
    for (const store::LedgerEntry& e : entries_) {
        if (count++ == limit_) break;
        const QString thisDay = toQt(base::spokenDay(e.startedAt, base::now()));
        if (thisDay != day) plain(thisDay);
        day = thisDay;
        auto* item = new QListWidgetItem(toQt(base::oneLine(e.start.statement, 200)), list_);
        item->setData(EntryRole, static_cast<qlonglong>(e.id));
        item->setData(FactsRole, factsOf(e) + QStringLiteral(" · ") + toQt(e.start.connectionName));
        item->setData(StatusRole, QLatin1String(colourOf(e.end.status)));
        const auto* p = desk_.connections().profile(e.start.connectionId);
        item->setData(ColourRole, p != nullptr ? Theme::current().connectionColour(signalColour(*p))
                                               : Theme::current().colour("line"));
        const QString with = e.start.parameters.empty() ? QString() : tr("\n\nwith %1").arg(toQt(e.start.parameters));
        item->setToolTip(toQt(std::string_view(e.start.statement).substr(0, 1500)) + with);
        if (e.id == keep) list_->setCurrentItem(item);
    }
    if (entries_.size() > limit_) {
        auto* more = new QListWidgetItem(tr("Older runs: show %1 more").arg(kShown), list_);
        more->setData(MoreRole, true);
    }
    list_->verticalScrollBar()->setValue(std::exchange(isFromTop_, false) ? 0 : scrolled);
    if (entries_.empty()) {
        plain(find_->text().isEmpty() ? tr("Nothing ran yet.") : tr("No run fits “%1”.").arg(find_->text()));
    }
}

void LedgerPanel::openCurrent() {
    const auto* item = list_->currentItem();
    if (item != nullptr && item->data(MoreRole).toBool()) {
        limit_ += kShown;
        return reload();
    }
    if (item == nullptr || !item->data(EntryRole).isValid()) return;
    for (const auto& e : entries_) {
        if (e.id == item->data(EntryRole).toLongLong()) {
            return Q_EMIT statementRequested(toQt(e.start.connectionId), toQt(e.start.statement));
        }
    }
}

void LedgerPanel::showMenu(const QPoint& at) {
    const auto* item = list_->itemAt(at);
    if (item == nullptr || !item->data(EntryRole).isValid()) return;
    const auto id = item->data(EntryRole).toLongLong();
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    connect(menu->addAction(tr("Insert into a sheet\tReturn")), &QAction::triggered, this, &LedgerPanel::openCurrent);
    connect(menu->addAction(tr("Copy the statement")), &QAction::triggered, this, [this, id] {
        for (const auto& e : entries_) {
            if (e.id == id) QApplication::clipboard()->setText(toQt(e.start.statement));
        }
    });
    menu->addSeparator();
    connect(menu->addAction(tr("Remove from the ledger\tDelete")), &QAction::triggered, this,
            [this, id] { desk_.ledger().remove(id); });
    menu->popup(list_->viewport()->mapToGlobal(at));
}

bool LedgerPanel::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
    auto* key = static_cast<QKeyEvent*>(event);
    const bool isReturn = key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter;
    if (watched == find_ && (key->key() == Qt::Key_Down || isReturn)) {
        list_->setFocus();
        for (int i = 0; i < list_->count() && list_->currentRow() < 0; ++i) {
            if (list_->item(i)->data(EntryRole).isValid()) list_->setCurrentRow(i);
        }
        return true;
    }
    if (watched == find_ && key->key() == Qt::Key_Escape) {
        find_->clear();
        return true;
    }
    if (watched == list_ && key->key() == Qt::Key_Delete) {
        const auto* item = list_->currentItem();
        if (item != nullptr && item->data(EntryRole).isValid())
            desk_.ledger().remove(item->data(EntryRole).toLongLong());
        return true;
    }
    if (watched == list_ && isReturn) {
        openCurrent();
        return true;
    }
    return QWidget::eventFilter(watched, event);
}

}  // namespace pantry::app
