#include "app/shelf/shelf_panel.h"

#include <QApplication>
#include <QClipboard>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMenu>
#include <QScrollBar>
#include <utility>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/text.h"
#include "core/work/query_link.h"

namespace pantry::app {
namespace {

constexpr int kDebounceMs = 60;

}  // namespace

ShelfPanel::ShelfPanel(Desk& desk, ShelfVerbs& verbs, QWidget* parent)
    : QWidget(parent),
      desk_(desk),
      verbs_(verbs),
      find_(new QLineEdit(this)),
      menu_(makeButton(QStringLiteral("⋯"), "plain", objectName::kShelfMenu, tr("What can be done with the shelves"),
                       this)),
      list_(new QListView(this)),
      model_(new ShelfModel(desk, this)),
      empty_(makeLabel({}, "quiet", this)),
      undo_(makeButton(tr("Undo the removal"), "", objectName::kShelfUndo, tr("Put back what was removed last"), this)),
      stop_(makeButton(tr("Stop"), "", "shelfStop", tr("Give up what goes on with the remote"), this)),
      snippets_(makeButton(tr("Snippets"), "link", "shelfSnippets", tr("Templates to fill in"), this)),
      shared_(new QVBoxLayout) {
    name(find_, objectName::kShelfFind, tr("Find on the shelf"));
    name(list_, objectName::kShelfList, tr("Saved queries by folder"));
    empty_->setObjectName(QStringLiteral("shelfEmpty"));
    empty_->setWordWrap(true);
    empty_->setContentsMargins(14, 8, 12, 8);
    find_->setProperty("look", "find");
    find_->setPlaceholderText(tr("Find names, notes, text"));
    find_->setClearButtonEnabled(true);
    find_->installEventFilter(this);
    list_->setModel(model_);
    list_->setItemDelegate(new ShelfDelegate(list_));
    list_->setUniformItemSizes(true);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    list_->setContextMenuPolicy(Qt::CustomContextMenu);
    list_->setDragDropMode(QAbstractItemView::DragDrop);
    list_->setDefaultDropAction(Qt::MoveAction);
    list_->installEventFilter(this);
    undo_->hide();
    stop_->hide();
    auto* top = new QHBoxLayout;
    top->setContentsMargins(12, 10, 8, 4);
    top->setSpacing(4);
    top->addWidget(find_, 1);
    top->addWidget(menu_);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(2);
    layout->addLayout(top);
    layout->addWidget(empty_);
    layout->addWidget(list_, 1);
    auto* foot = new QHBoxLayout;
    foot->setContentsMargins(12, 2, 12, 6);
    foot->addWidget(snippets_);
    foot->addStretch();
    foot->addWidget(undo_);
    foot->addWidget(stop_);
    layout->addLayout(foot);
    layout->addLayout(shared_);
    debounce_.setSingleShot(true);
    debounce_.setInterval(kDebounceMs);
    connect(&debounce_, &QTimer::timeout, this, &ShelfPanel::search);
    connect(find_, &QLineEdit::textChanged, &debounce_, qOverload<>(&QTimer::start));
    connect(&desk_, &Desk::shelfChanged, this, [this] {
        search();
        showShared();
    });
    connect(&desk_, &Desk::settingsChanged, this, &ShelfPanel::search);  // snippets of one's own
    connect(&desk_, &Desk::profilesChanged, list_->viewport(), qOverload<>(&QWidget::update));
    connect(&Theme::current(), &Theme::changed, list_->viewport(), qOverload<>(&QWidget::update));
    connect(list_, &QListView::doubleClicked, this, [this] { carryOut(Qt::Key_Return, Qt::NoModifier); });
    connect(list_, &QWidget::customContextMenuRequested, this, &ShelfPanel::openMenu);
    connect(menu_, &QPushButton::clicked, this, [this] {
        auto* menu = new QMenu(this);
        menu->setObjectName(QStringLiteral("shelfMenuOpen"));
        menu->setAttribute(Qt::WA_DeleteOnClose);
        verbs_.fillShelfMenu(*menu);
        menu->popup(menu_->mapToGlobal(QPoint(0, menu_->height())));
    });
    connect(model_, &ShelfModel::moveRequested, this,
            [this](const store::QueryPlace& query, const QString& folder) { verbs_.moveTo(query, fromQt(folder)); });
    connect(stop_, &QPushButton::clicked, &verbs_, &ShelfVerbs::stopTalking);
    connect(&verbs_, &ShelfVerbs::talkingChanged, stop_, &QWidget::setVisible);
    connect(snippets_, &QPushButton::clicked, this, &ShelfPanel::snippetsRequested);
    connect(undo_, &QPushButton::clicked, &verbs_, &ShelfVerbs::undoRemove);
    connect(&verbs_, &ShelfVerbs::moved, this, [this](const store::QueryPlace& from, const store::QueryPlace& to) {
        const work::ShelvedQuery* one = chosen();
        if (one != nullptr && one->place == from) next_ = to;
    });
    connect(&verbs_, &ShelfVerbs::undoChanged, this, [this] { undo_->setVisible(verbs_.canUndo()); });
    show(desk_.shelf().queries());
    showShared();
}

void ShelfPanel::focusFind() {
    find_->setFocus();
    find_->selectAll();
}

void ShelfPanel::search() {
    ++asked_;
    if (find_->text().trimmed().isEmpty()) return show(desk_.shelf().queries());
    desk_.shelf().ask<std::vector<work::ShelvedQuery>>(
        [words = fromQt(find_->text())](work::Shelves& shelves) { return shelves.find(words); },
        whileThere(this, [this, asked = asked_](const Result<std::vector<work::ShelvedQuery>>& found) {
            if (asked == asked_ && found) show(*found);
        }));
}

void ShelfPanel::show(std::vector<work::ShelvedQuery> queries) {
    const work::ShelvedQuery* before = chosen();
    auto keep = before != nullptr ? std::optional(before->place) : std::nullopt;
    const int scrolled = list_->verticalScrollBar()->value();
    model_->show(std::move(queries), snippetsFound());
    if (next_ && model_->indexOf(*next_).isValid()) keep = std::exchange(next_, std::nullopt);
    if (keep) list_->setCurrentIndex(model_->indexOf(*keep));
    list_->verticalScrollBar()->setValue(scrolled);
    const bool isEmpty = model_->count() == 0;
    const bool isSearch = !find_->text().trimmed().isEmpty();
    empty_->setText(isSearch ? tr("Nothing on the shelf has all of these words.")
                             : tr("Nothing is saved yet. Ctrl+S puts the sheet in front on the shelf."));
    empty_->setVisible(isEmpty && desk_.shelf().isRead());
}

void ShelfPanel::setDialect(std::optional<sql::Dialect> dialect) {
    if (std::exchange(dialect_, dialect) != dialect) search();
}

/// Those with all the words that are looked for.
std::vector<snippet::Snippet> ShelfPanel::snippetsFound() const {
    if (!dialect_) return {};
    std::vector<snippet::Snippet> found = snippet::offeredIn(*dialect_, desk_.preferences().snippets());
    const std::string wanted = fromQt(find_->text());
    for (const std::string_view word : base::splitAt(wanted, ' ')) {
        std::erase_if(found, [word](const snippet::Snippet& one) {
            const std::string all = one.title + '\n' + one.trigger + '\n' + one.text;
            return base::findIgnoringCase(all, word) == std::string_view::npos;
        });
    }
    return found;
}

/// The shelves that are shared, or cannot be read.
void ShelfPanel::showShared() {
    clearLayout(shared_);
    for (const work::ShelfInfo& info : desk_.shelf().shelves()) {
        if (!info.remote.remote.empty() || info.problem) shared_->addWidget(makeShared(info));
    }
}

QWidget* ShelfPanel::makeShared(const work::ShelfInfo& info) {
    auto* box = new QWidget(this);
    box->setObjectName(QStringLiteral("shelfShared"));
    auto* title = makeLabel(info.name.empty() ? tr("My shelf") : toQt(info.name), "heading", box);
    QString state;
    if (info.problem) {
        state = toQt(*info.problem);
    } else if (info.remote.ahead + info.remote.behind == 0) {
        state = tr("as on %1").arg(toQt(info.remote.remote));
    } else {
        QStringList parts;
        const auto ahead = toQt(base::counted(static_cast<std::int64_t>(info.remote.ahead), "version", "versions"));
        if (info.remote.ahead > 0) parts << tr("%1 not pushed").arg(ahead);
        if (info.remote.behind > 0) parts << tr("%1 to bring in").arg(info.remote.behind);
        state = parts.join(QStringLiteral(" · "));
    }
    auto* label = makeLabel(state, "small", box);
    label->setWordWrap(true);
    label->setObjectName(QStringLiteral("shelfSharedState"));
    auto* verbs = new QHBoxLayout;
    verbs->setSpacing(10);
    verbs->addWidget(label, 1);
    if (!info.problem) {
        auto* pull = makeButton(tr("Pull"), "link", "shelfPull", tr("Fetch and merge the remote’s versions"), box);
        auto* push = makeButton(tr("Push"), "link", "shelfPush", tr("Push the versions that the remote lacks"), box);
        connect(pull, &QPushButton::clicked, this, [this, name = info.name] { verbs_.pull(name); });
        connect(push, &QPushButton::clicked, this, [this, name = info.name] { verbs_.push(name); });
        verbs->addWidget(pull);
        verbs->addWidget(push);
    }
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 8);
    layout->setSpacing(2);
    layout->addWidget(makeFrame("rule", box));
    auto* inside = new QVBoxLayout;
    inside->setContentsMargins(12, 6, 12, 0);
    inside->setSpacing(2);
    inside->addWidget(title);
    inside->addLayout(verbs);
    layout->addLayout(inside);
    return box;
}

const work::ShelvedQuery* ShelfPanel::chosen() const { return model_->queryAt(list_->currentIndex()); }

void ShelfPanel::openMenu(const QPoint& at) {
    if (const snippet::Snippet* snippet = model_->snippetAt(list_->indexAt(at))) return openSnippetMenu(*snippet, at);
    const work::ShelvedQuery* found = model_->queryAt(list_->indexAt(at));
    if (found == nullptr) return;
    const work::ShelvedQuery one = *found;
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const auto add = [&](const QString& text, std::function<void()> act) {
        connect(menu->addAction(text), &QAction::triggered, this, std::move(act));
    };
    add(tr("Open\tReturn"), [this, one] { Q_EMIT openRequested(one.place, false); });
    if (!one.item.isNotebook) {
        add(tr("Run\tCtrl+Return"), [this, one] { Q_EMIT openRequested(one.place, true); });
        add(tr("Run regularly"), [this, one] { Q_EMIT regularRequested(one.place); });
    }
    add(tr("Versions\tShift+Return"), [this, one] { Q_EMIT pageRequested(one.place); });
    menu->addSeparator();
    add(one.isStarred ? tr("Remove the star") : tr("Star"), [this, one] { verbs_.toggleStar(one); });
    add(tr("Rename…\tF2"), [this, one] { verbs_.rename(one); });
    add(tr("Move…"), [this, one] { verbs_.move(one); });
    add(tr("Duplicate"), [this, one] { verbs_.duplicate(one); });
    add(tr("Copy link"), [this, one] {
        QApplication::clipboard()->setText(toQt(work::queryLink(one.place, desk_.shelf().shelves())));
        Q_EMIT verbs_.remarked(tr("The link is copied."));
    });
    add(tr("Copy its path"),
        [this, one] { QApplication::clipboard()->setText(toQt(desk_.shelf().fileOf(one.place).string())); });
    menu->addSeparator();
    add(tr("Remove\tDelete"), [this, one] { verbs_.remove(one); });
    menu->popup(list_->viewport()->mapToGlobal(at));
}

void ShelfPanel::openSnippetMenu(const snippet::Snippet& one, const QPoint& at) {
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    connect(menu->addAction(tr("Fill in at the caret\tReturn")), &QAction::triggered, this,
            [this, one] { Q_EMIT snippetRequested(one); });
    connect(menu->addAction(tr("All snippets")), &QAction::triggered, this, &ShelfPanel::snippetsRequested);
    menu->popup(list_->viewport()->mapToGlobal(at));
}

/// What a key does with the chosen query or snippet; false for a key that does nothing.
bool ShelfPanel::carryOut(int key, Qt::KeyboardModifiers modifiers) {
    const bool isReturn = key == Qt::Key_Return || key == Qt::Key_Enter;
    if (const snippet::Snippet* snippet = model_->snippetAt(list_->currentIndex())) {
        if (isReturn) Q_EMIT snippetRequested(snippet::Snippet(*snippet));
        return isReturn;
    }
    const work::ShelvedQuery* found = chosen();
    if (found == nullptr) return false;
    const work::ShelvedQuery one = *found;
    switch (key) {
        case Qt::Key_Return:
        case Qt::Key_Enter:
            if (modifiers.testFlag(Qt::ShiftModifier)) {
                Q_EMIT pageRequested(one.place);
            } else {
                Q_EMIT openRequested(one.place, modifiers.testFlag(Qt::ControlModifier) && !one.item.isNotebook);
            }
            return true;
        case Qt::Key_F2: verbs_.rename(one); return true;
        case Qt::Key_Delete: verbs_.remove(one); return true;
        default: return false;
    }
}

bool ShelfPanel::eventFilter(QObject* watched, QEvent* event) {
    if (watched == list_ && claimsReturn(event)) return true;
    if (event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    if (watched == list_) {
        if (key->key() == Qt::Key_Slash) {
            focusFind();
            return true;
        }
        return carryOut(key->key(), key->modifiers()) || QWidget::eventFilter(watched, event);
    }
    const bool isReturn = key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter;
    if (key->key() == Qt::Key_Down || isReturn) {
        if (chosen() == nullptr) list_->setCurrentIndex(model_->firstQuery());
        list_->setFocus();
        return true;
    }
    if (key->key() == Qt::Key_Escape && !find_->text().isEmpty()) {
        find_->clear();
        return true;
    }
    return QWidget::eventFilter(watched, event);
}

}  // namespace pantry::app

#include "moc_shelf_panel.cpp"
