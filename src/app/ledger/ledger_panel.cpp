#include "app/ledger/ledger_panel.h"

#include <QApplication>
#include <QClipboard>
#include <QKeyEvent>
#include <QMenu>
#include <QVBoxLayout>
#include <utility>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/text.h"

namespace pantry::app {
namespace {

constexpr int kDebounceMs = 60;

}  // namespace

LedgerPanel::LedgerPanel(Desk& desk, QWidget* parent)
    : QWidget(parent),
      desk_(desk),
      find_(new QLineEdit(this)),
      onlyThis_(new QCheckBox(tr("Only this connection"), this)),
      list_(new QListView(this)),
      model_(new FoldModel(desk, this)),
      state_(makeLabel({}, "quiet", this)),
      undo_(makeButton(tr("Undo the removal"), "", "ledgerPanelUndo", tr("Put the removed run back"), this)) {
    name(find_, objectName::kLedgerFind, tr("Find in the ledger"));
    name(onlyThis_, objectName::kLedgerScope, tr("Only runs of the chosen connection"));
    name(list_, objectName::kLedgerList, tr("Runs by day, equal ones as one"));
    state_->setObjectName(QStringLiteral("ledgerPanelState"));
    state_->setWordWrap(true);
    state_->setContentsMargins(14, 6, 12, 6);
    find_->setProperty("look", "find");
    find_->setPlaceholderText(tr("Find…  failed  slow  today  rows>1000"));
    find_->setClearButtonEnabled(true);
    find_->installEventFilter(this);
    list_->installEventFilter(this);
    list_->setModel(model_);
    list_->setItemDelegate(new NarrowFoldDelegate(list_));
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    list_->setContextMenuPolicy(Qt::CustomContextMenu);
    list_->setResizeMode(QListView::Adjust);
    undo_->hide();
    auto* top = new QVBoxLayout;
    top->setContentsMargins(12, 10, 12, 4);
    top->setSpacing(8);
    top->addWidget(find_);
    top->addWidget(onlyThis_);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(2);
    layout->addLayout(top);
    layout->addWidget(state_);
    layout->addWidget(list_, 1);
    layout->addWidget(undo_, 0, Qt::AlignHCenter);
    debounce_.setSingleShot(true);
    debounce_.setInterval(kDebounceMs);
    connect(&debounce_, &QTimer::timeout, this, &LedgerPanel::search);
    connect(find_, &QLineEdit::textChanged, &debounce_, qOverload<>(&QTimer::start));
    connect(onlyThis_, &QCheckBox::toggled, this, &LedgerPanel::search);
    connect(&desk_, &Desk::ledgerChanged, this, [this] { model_->list().again(); });
    connect(model_, &QAbstractItemModel::modelAboutToBeReset, this, [this] {
        if (const store::LedgerFold* fold = chosen()) kept_ = fold->last;
    });
    connect(model_, &FoldModel::filled, this, &LedgerPanel::noteFilled);
    connect(model_, &FoldModel::rested, this, &LedgerPanel::noteRested);
    connect(list_, &QListView::doubleClicked, this, &LedgerPanel::openChosen);
    connect(list_, &QWidget::customContextMenuRequested, this, &LedgerPanel::showMenu);
    connect(&Theme::current(), &Theme::changed, list_->viewport(), qOverload<>(&QWidget::update));
    connect(undo_, &QPushButton::clicked, this, [this] {
        desk_.ledger().restore(std::exchange(removed_, {}));
        undo_->hide();
    });
    search();
}

void LedgerPanel::setConnection(const QString& id) {
    if (id == connectionId_) return;
    connectionId_ = id;
    if (onlyThis_->isChecked()) search();
}

void LedgerPanel::focusFind() {
    find_->setFocus();
    find_->selectAll();
}

void LedgerPanel::search() {
    std::vector<std::string> connections;
    if (onlyThis_->isChecked()) connections = {fromQt(connectionId_)};
    kept_.reset();
    model_->list().search(std::move(connections), store::parseLedgerSearch(fromQt(find_->text()), base::now()));
    noteRested();
}

/// What was chosen stays so while it is there.
void LedgerPanel::noteFilled(bool isAnew) {
    if (!isAnew || !kept_) return;
    if (const auto row = model_->rowOf(*kept_)) list_->setCurrentIndex(model_->index(*row));
}

void LedgerPanel::noteRested() {
    const work::LedgerList& found = model_->list();
    QString text;
    if (!found.asked().problems.empty()) {
        text = toQt(found.asked().problems.front().message);
    } else if (found.problem()) {
        text = toQt(found.problem()->text());
    } else if (!found.isReading() && found.folds().empty()) {
        text = find_->text().isEmpty() ? tr("Nothing ran yet.") : tr("No run fits “%1”.").arg(find_->text());
    }
    state_->setText(text);
    state_->setVisible(!text.isEmpty());
}

void LedgerPanel::openChosen() {
    if (const store::LedgerFold* fold = chosen())
        Q_EMIT statementRequested(toQt(fold->last.start.connectionId), toQt(fold->last.start.statement));
}

/// The run that the row is about; those before it stay.
void LedgerPanel::removeChosen() {
    const store::LedgerFold* fold = chosen();
    if (fold == nullptr) return;
    desk_.ledger().remove(std::vector<std::int64_t>{fold->last.id},
                          whileThere(this, [this](std::vector<store::LedgerEntry> gone) {
                              if (gone.empty()) return;
                              removed_ = std::move(gone);
                              undo_->show();
                          }));
}

void LedgerPanel::showMenu(const QPoint& at) {
    const QModelIndex index = list_->indexAt(at);
    const store::LedgerFold* fold = model_->foldAt(index);
    if (fold == nullptr) return;
    list_->setCurrentIndex(index);
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    connect(menu->addAction(tr("Insert into a sheet\tReturn")), &QAction::triggered, this, &LedgerPanel::openChosen);
    connect(menu->addAction(tr("Copy the statement")), &QAction::triggered, this,
            [statement = toQt(fold->last.start.statement)] { QApplication::clipboard()->setText(statement); });
    menu->addSeparator();
    connect(menu->addAction(tr("Remove from the ledger\tDelete")), &QAction::triggered, this,
            &LedgerPanel::removeChosen);
    menu->popup(list_->viewport()->mapToGlobal(at));
}

bool LedgerPanel::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    const bool isReturn = key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter;
    if (watched == find_ && (key->key() == Qt::Key_Down || isReturn)) {
        list_->setFocus();
        if (chosen() == nullptr) list_->setCurrentIndex(model_->firstFold());
        return true;
    }
    if (watched == find_ && key->key() == Qt::Key_Escape && !find_->text().isEmpty()) {
        find_->clear();
        return true;
    }
    if (watched == list_ && key->key() == Qt::Key_Delete) {
        removeChosen();
        return true;
    }
    if (watched == list_ && isReturn) {
        openChosen();
        return true;
    }
    return QWidget::eventFilter(watched, event);
}

}  // namespace pantry::app

#include "moc_ledger_panel.cpp"
