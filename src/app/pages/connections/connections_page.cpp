#include "app/pages/connections/connections_page.h"

#include <QApplication>
#include <QFileDialog>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QMenu>
#include <QScrollArea>
#include <QTimer>
#include <algorithm>
#include <functional>
#include <utility>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/connection_colours.h"
#include "app/look/first_paint.h"
#include "app/look/theme.h"
#include "app/look/tool_row.h"
#include "app/look/widgets.h"
#include "app/pages/connections/group_heading.h"
#include "core/base/fuzzy.h"
#include "core/base/text.h"

namespace pantry::app {
namespace {

constexpr int kGap = 10;    // between cards
constexpr int kSides = 26;  // beside the cards

}  // namespace

QIcon ConnectionsPage::icon() const { return colourDot(Theme::current().colour("quiet")); }

ConnectionsPage::ConnectionsPage(Desk& desk, QWidget* parent)
    : Page(parent),
      desk_(desk),
      find_(new QLineEdit),
      new_(makeButton(tr("New connection"), "main", objectName::kNewConnection, tr("New connection"))),
      last_(new QWidget(this)),
      undo_(makeFrame("notice")),
      undoText_(makeLabel({}, "")),
      groups_(new QVBoxLayout),
      pages_(new QStackedWidget(this)),
      usual_(new QWidget(pages_)),
      left_(new QWidget),
      scroll_(new PlainScroll(left_, usual_)),
      side_(new QStackedWidget(usual_)),
      form_([this] { return makeForm(); }) {
    name(this, objectName::kConnectionsPage, tr("Connections"));
    auto* leftLayout = new QVBoxLayout(left_);
    leftLayout->setContentsMargins(kSides, 20, kSides, 20);
    leftLayout->setSpacing(8);
    leftLayout->addWidget(makeHead());
    leftLayout->addWidget(undo_);
    groups_->setSpacing(8);
    leftLayout->addLayout(groups_);
    leftLayout->addStretch();
    Theme::fit(this, [this] { side_->setFixedWidth(ConnectionForm::usualWidth()); });
    auto* layout = new QHBoxLayout(usual_);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(scroll_, 1);
    layout->addWidget(side_);
    pages_->addWidget(usual_);
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(pages_);
    refreshStart();
    connect(new_, &QPushButton::clicked, this, &ConnectionsPage::makeNew);
    connect(find_, &QLineEdit::textChanged, this, &ConnectionsPage::fill);
    connect(&desk_, &Desk::profilesChanged, this, [this] {
        refreshStart();
        fill();
    });
    connect(&Theme::current(), &Theme::changed, this, &ConnectionsPage::fitColumns, Qt::QueuedConnection);
    fill();
}

ConnectionForm* ConnectionsPage::makeForm() {
    auto* form = new ConnectionForm(desk_, side_);
    side_->addWidget(form);
    connect(form, &ConnectionForm::saved, this, [this](const QString& id) { choose(id); });
    connect(form, &ConnectionForm::openRequested, this, &ConnectionsPage::sheetRequested);
    connect(form, &ConnectionForm::duplicateRequested, this, &ConnectionsPage::duplicate);
    connect(form, &ConnectionForm::removed, this, &ConnectionsPage::showUndo);
    return form;
}

/// Only for somebody who has no connection yet.
void ConnectionsPage::makeStart() {
    start_ = new StartPage(desk_);
    pages_->addWidget(start_);
    connect(start_, &StartPage::addressGiven, this, [this](const QString& address) {
        makeFrom({});
        form_->takeAddress(address);
    });
    connect(start_, &StartPage::profileGiven, this, &ConnectionsPage::makeFrom);
    connect(start_, &StartPage::connectWanted, this, [this](const db::ConnectionProfile& found) {
        db::ConnectionProfile profile = found;
        profile.id = db::makeProfileId();
        profile.name = store::freeName(desk_.connections().list(), profile.name);
        desk_.connections().put(profile);
        Q_EMIT sheetRequested(toQt(profile.id));
    });
    connect(start_, &StartPage::fileChosen, this, &ConnectionsPage::fileRequested);
    connect(start_, &StartPage::importWanted, this, &ConnectionsPage::offerImport);
    connect(start_, &StartPage::practiceReady, this, &ConnectionsPage::sheetWithTextRequested);
    connect(start_, &StartPage::lookWanted, this, &ConnectionsPage::look);
    if (!found_.empty()) start_->setFound(found_);
}

/// Made when somebody first wants it.
TransferPanel* ConnectionsPage::transfer() {
    if (transfer_ != nullptr) return transfer_;
    transfer_ = new TransferPanel(desk_);
    side_->addWidget(transfer_);
    connect(transfer_, &TransferPanel::closed, this,
            [this] { form_.made() != nullptr ? side_->setCurrentWidget(form_.get()) : choose(chosen_); });
    return transfer_;
}

/// While nothing is saved, and nobody has begun to fill the form.
void ConnectionsPage::refreshStart() {
    const bool isEmpty = desk_.connections().list().profiles.empty() && !desk_.connections().lastRemoved();
    // What the form shows is not taken away when the last connection is removed elsewhere.
    isStartLeft_ = isEmpty && (isStartLeft_ || (isVisible() && !isAtStart()));
    const bool isShown = isEmpty && !isStartLeft_;
    if (isShown && start_ == nullptr) makeStart();
    if (isShown) {
        pages_->setCurrentWidget(start_);
    } else {
        pages_->setCurrentIndex(0);
    }
}

void ConnectionsPage::look() {
    if (start_ != nullptr) start_->noteLooking();
    desk_.connections().find(whileThere(this, [this](std::vector<store::FoundConnection> found) {
        found_ = std::move(found);
        if (start_ != nullptr) start_->setFound(found_);
        fill();
    }));
}

QWidget* ConnectionsPage::makeHead() {
    auto* head = new QWidget;
    auto* layout = new QVBoxLayout(head);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    auto* top = new QHBoxLayout;
    top->addWidget(makeLabel(tr("Connections"), "title"));
    top->addStretch();
    find_->setProperty("look", "find");
    find_->setPlaceholderText(tr("Find a connection"));
    find_->setClearButtonEnabled(true);
    find_->setMaximumWidth(210);
    name(find_, objectName::kConnectionsFind, tr("Find a connection"));
    top->addWidget(find_);
    layout->addLayout(top);
    layout->addWidget(makeLabel(tr("Double click one to open a sheet on it. Drag them into order."), "quiet"));
    auto* verbs = new ToolRow(head, 0);
    verbs->setObjectName(QStringLiteral("plainBox"));
    verbs->add(new_);
    int rank = 0;  // what stands first folds first
    const auto verb = [&](const QString& text, const char* objectName, const QString& tip, auto slot) {
        auto* button = makeButton(text, "", objectName, tip);
        button->setToolTip(tip);
        verbs->addFoldable(button, ++rank, [this, text, slot](QMenu* menu) {
            connect(menu->addAction(text), &QAction::triggered, this, slot);
        });
        connect(button, &QPushButton::clicked, this, slot);
    };
    verb(tr("New group"), objectName::kNewGroup, tr("Make a heading to put connections under"),
         &ConnectionsPage::makeGroup);
    verb(tr("New template"), objectName::kNewTemplate, tr("Make something that new connections begin with"),
         &ConnectionsPage::makeTemplate);
    verbs->addStretch();
    verb(tr("Import…"), objectName::kImportConnections, tr("Import connections from a file"),
         &ConnectionsPage::offerImport);
    verb(tr("Export…"), objectName::kExportConnections, tr("Write connections to a file, without passwords"),
         &ConnectionsPage::beginExport);
    layout->addWidget(verbs);
    last_->setObjectName(QStringLiteral("plainBox"));
    auto* lastLayout = new QHBoxLayout(last_);
    lastLayout->setContentsMargins(0, 0, 0, 0);
    lastLayout->setSpacing(6);
    layout->addWidget(last_);
    last_->hide();
    auto* undoLayout = new QHBoxLayout(undo_);
    undoLayout->setContentsMargins(12, 6, 12, 6);
    undoLayout->addWidget(undoText_);
    undoLayout->addStretch();
    auto* undo = makeButton(tr("Undo"), "link", objectName::kUndoRemoval, tr("Bring it back"));
    undoLayout->addWidget(undo);
    undo_->hide();
    connect(undo, &QPushButton::clicked, this, [this] {
        const QString id = desk_.connections().lastRemoved() ? toQt(desk_.connections().lastRemoved()->id) : QString();
        undo_->hide();
        desk_.connections().undoRemoval();
        choose(id);
    });
    return head;
}

/// As many cards beside each other as have room.
void ConnectionsPage::fitColumns() {
    const int room = scroll_->viewport()->width() - 2 * kSides;
    const int columns = room >= 2 * Theme::px(ConnectionCard::kMinimumWidth) + kGap ? 2 : 1;
    if (std::exchange(columns_, columns) != columns) fill();
}

void ConnectionsPage::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    QTimer::singleShot(0, this, &ConnectionsPage::fitColumns);  // when the parts have their room
}

void ConnectionsPage::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    desk_.ledger().readUsage(whileThere(this, [this](const std::vector<store::Ledger::Usage>& usage) {
        usage_.clear();
        for (const auto& u : usage) usage_.insert(toQt(u.connectionId), u);
        for (ConnectionCard* card : cards_) card->update();
        fillLast();
    }));
    look();
    if (chosen_.isEmpty() && !desk_.connections().profiles().empty()) {
        const QString first = toQt(desk_.connections().profiles().front().id);
        markChosen(first);
        afterFirstPaint(this, [this, first] {  // the first picture does not wait for the form
            if (chosen_ == first && side_->currentWidget() == nullptr) choose(first);
        });
    }
    QTimer::singleShot(0, this, [this] {
        const QWidget* focus = QApplication::focusWidget();
        if (focus == nullptr || !side_->isAncestorOf(focus)) focusCards();  // else something there was asked for
    });
}

/// The way back to yesterday's work: the connections used last, the latest first, in one row.
void ConnectionsPage::fillLast() {
    constexpr std::size_t kMax = 4;
    constexpr std::size_t kWorthIt = 5;  // among fewer cards everybody finds the right one
    clearLayout(last_->layout());
    std::vector<const db::ConnectionProfile*> used;
    for (const auto& p : desk_.connections().profiles()) {
        if (usage_.contains(toQt(p.id))) used.push_back(&p);
    }
    std::ranges::sort(used, std::ranges::greater{}, [this](const auto* p) { return usage_[toQt(p->id)].last; });
    if (used.size() > kMax) used.resize(kMax);
    const bool isShown = desk_.connections().profiles().size() >= kWorthIt && !used.empty();
    last_->setVisible(isShown);
    if (!isShown) return;
    auto* row = qobject_cast<QHBoxLayout*>(last_->layout());
    row->addWidget(makeLabel(tr("Used last"), "small"));
    for (const db::ConnectionProfile* p : used) {
        const QString id = toQt(p->id);
        auto* button = makeButton({}, "chip", "usedLast", tr("Open a sheet on %1").arg(toQt(p->name)), last_);
        button->setIcon(markIcon(Theme::current().connectionColour(signalColour(*p))));
        button->setText(button->fontMetrics().elidedText(toQt(p->name), Qt::ElideRight, Theme::px(130)));
        button->setToolTip(tr("%1 · %2 · %3\nClick: open a sheet on it")
                               .arg(toQt(p->name), toQt(db::environmentWord(p->environment)), usageOf(p->id)));
        connect(button, &QPushButton::clicked, this, [this, id] { Q_EMIT sheetRequested(id); });
        row->addWidget(button);
    }
    row->addStretch();
}

QString ConnectionsPage::factsOf(const db::ConnectionProfile& p) const {
    QString facts = toQt(db::engineName(p.engine)) + QStringLiteral(" · ") + toQt(db::placeOf(p));
    if (!p.user.empty()) facts += tr(" · as %1").arg(toQt(p.user));
    if (p.isReadOnly) facts += tr(" · read-only");
    return facts;
}

QString ConnectionsPage::usageOf(const std::string& id) const {
    const auto found = usage_.find(toQt(id));
    if (found == usage_.end()) return tr("not used yet");
    return tr("used %1 · %2")
        .arg(toQt(base::spoken(found->last, base::now())), toQt(base::counted(found->runs, "run", "runs")));
}

/// Whether the find field lets a connection through: by name, place, user, group or note.
bool ConnectionsPage::fits(const db::ConnectionProfile& p) const {
    const std::string pattern = fromQt(find_->text().trimmed());
    if (pattern.empty() || base::fuzzyScore(pattern, p.name)) return true;
    const std::string rest = db::placeOf(p) + " " + p.user + " " + p.group + " " + p.note;
    return base::findIgnoringCase(rest, pattern) != std::string_view::npos;
}

void ConnectionsPage::fill() {
    // What arrives while somebody types a group's name, such as a server that was found, waits until that is over.
    const auto headings = findChildren<GroupHeading*>();
    isFillDue_ = std::ranges::any_of(headings, &GroupHeading::isNaming);
    if (isFillDue_) return;
    const QWidget* focus = window()->focusWidget();  // also while another window is in front
    const bool hadFocus =
        focus != nullptr && isAncestorOf(focus) && focus->objectName() == QLatin1String("connectionCard");
    clearLayout(groups_);
    cards_.clear();
    tabStops_.clear();
    std::vector<std::string> names{std::string()};
    for (const auto& group : desk_.connections().list().groups) names.push_back(group.name);
    bool isNothing = true;
    for (const std::string& group : names) {
        std::vector<const db::ConnectionProfile*> members;
        for (const auto& p : desk_.connections().profiles()) {
            if (p.group == group && fits(p)) members.push_back(&p);
        }
        isNothing = isNothing && members.empty();
        const bool isShown = !members.empty() || (!group.empty() && find_->text().isEmpty());
        if (isShown) addSection(group, members);
    }
    if (isNothing) addEmpty();
    markDrafts();
    addTemplates();
    addFound();
    fillLast();
    orderTabs();
    if (hadFocus) focusCardsSoon();
}

void ConnectionsPage::addEmpty() {
    auto* empty = makeLabel(find_->text().isEmpty()
                                ? tr("None is saved yet. New connection asks for a name and where it leads; an address "
                                     "such as postgresql://me@host/orchard fills the form, and a database file can be "
                                     "dropped here.")
                                : tr("No connection fits “%1”.").arg(find_->text()),
                            "quiet");
    empty->setWordWrap(true);
    groups_->addWidget(empty);
}

/// New headings and cards would come last in the round of the Tab key, after the form.
void ConnectionsPage::orderTabs() {
    QWidget* before = new_;
    for (QWidget* stop : tabStops_) {
        setTabOrder(before, stop);
        before = stop;
    }
}

/// Whether it was put into a layout that has not shown it yet.
bool ConnectionsPage::isComing(const QWidget& card) const {
    for (const QWidget* w = &card; w != nullptr && w != this; w = w->parentWidget()) {
        if (w->isHidden()) return !w->testAttribute(Qt::WA_WState_ExplicitShowHide);
    }
    return false;
}

/// Cards that were only just made take no focus before they show; until then Qt gives it to a button. Where somebody
/// writes or went meanwhile, it stays.
void ConnectionsPage::focusCardsSoon() {
    QTimer::singleShot(0, this, [this] {
        const QWidget* focus = QApplication::focusWidget();
        const bool isElsewhere = focus != nullptr && (!isAncestorOf(focus) || side_->isAncestorOf(focus) ||
                                                      qobject_cast<const QLineEdit*>(focus) != nullptr);
        if (!isElsewhere) focusCards();
    });
}

void ConnectionsPage::focusCards() {
    if (!isVisible()) return;  // another page is in front by now, and Qt would give it to a card that nobody sees
    if (isAtStart()) return start_->focusAddress();
    for (ConnectionCard* card : cards_) {
        if (card->property("connection").toString() != chosen_) continue;
        if (!isComing(*card)) return card->setFocus(Qt::TabFocusReason);
        return QTimer::singleShot(0, this, &ConnectionsPage::focusCards);
    }
    new_->setFocus(Qt::TabFocusReason);
}

void ConnectionsPage::addSection(const std::string& group, const std::vector<const db::ConnectionProfile*>& members) {
    const auto& groups = desk_.connections().list().groups;
    if (!group.empty() || !groups.empty()) {
        auto* heading = new GroupHeading(desk_, group, members.size());
        groups_->addWidget(heading);
        const auto fillIfDue = [this] {
            if (isFillDue_) fill();
        };
        connect(heading, &GroupHeading::namingEnded, this, fillIfDue, Qt::QueuedConnection);
        for (auto* button : heading->findChildren<QPushButton*>()) tabStops_.push_back(button);
    }
    const auto known = std::ranges::find(groups, group, &store::ConnectionGroup::name);
    const bool isCollapsed = known != groups.end() && known->isCollapsed && find_->text().isEmpty();
    if (isCollapsed) return;
    if (members.empty()) {
        groups_->addWidget(makeLabel(tr("Nothing is here yet. Drop a connection on the heading."), "small"));
    } else {
        addCards(members);
    }
}

void ConnectionsPage::addCards(const std::vector<const db::ConnectionProfile*>& members) {
    auto* grid = new QGridLayout;
    grid->setSpacing(kGap);
    for (std::size_t i = 0; i < members.size(); ++i) {
        const db::ConnectionProfile& p = *members[i];
        auto* card = new ConnectionCard(
            desk_, p, factsOf(p),
            [this, id = p.id, isTemplate = p.isTemplate] { return isTemplate ? QString() : usageOf(id); }, this);
        const QString id = toQt(p.id);
        card->setChecked(id == chosen_);
        connect(card, &ConnectionCard::openRequested, this, [this, id, isTemplate = p.isTemplate] {
            if (isTemplate) return choose(id);
            Q_EMIT sheetRequested(id);
        });
        connect(card, &QAbstractButton::clicked, this, [this, id] { choose(id); });
        connect(card, &ConnectionCard::menuRequested, this, [this, id = p.id](const QPoint& at) { showMenu(id, at); });
        connect(card, &ConnectionCard::moveRequested, this, [this, id = p.id](int by) { moveBy(id, by); });
        grid->addWidget(card, static_cast<int>(i) / columns_, static_cast<int>(i) % columns_);
        card->show();  // now, not with the next layout: the focus may be waiting for it
        cards_.push_back(card);
        tabStops_.push_back(card);
    }
    for (int c = 0; c < columns_; ++c) {
        grid->setColumnStretch(c, 1);
    }
    if (members.size() == 1 && columns_ > 1) {  // as wide as one of two
        grid->addWidget(new QWidget, 0, 1);
    }
    groups_->addLayout(grid);
}

void ConnectionsPage::addTemplates() {
    std::vector<const db::ConnectionProfile*> templates;
    for (const auto& p : desk_.connections().list().profiles) {
        if (p.isTemplate && fits(p)) templates.push_back(&p);
    }
    if (templates.empty()) return;
    groups_->addSpacing(6);
    groups_->addWidget(makeLabel(tr("Templates"), "section"));
    groups_->addWidget(makeFrame("rule"));
    addCards(templates);
}

/// What could be connected to, with one click into the form.
void ConnectionsPage::addFound() {
    if (found_.empty() || !find_->text().isEmpty()) return;
    groups_->addSpacing(6);
    groups_->addWidget(makeLabel(tr("Found on this machine"), "section"));
    groups_->addWidget(makeFrame("rule"));
    for (const store::FoundConnection& f : found_) {
        auto* row = new QHBoxLayout;
        auto* button = makeButton(toQt(f.profile.name), "link", objectName::kFoundConnection,
                                  tr("Fill the form with %1").arg(toQt(f.profile.name)));
        row->addWidget(button);
        auto* where = makeLabel(toQt(f.where), "small");
        where->setTextInteractionFlags(Qt::NoTextInteraction);
        row->addWidget(where, 1);
        groups_->addLayout(row);
        connect(button, &QPushButton::clicked, this, [this, profile = f.profile] { makeFrom(profile); });
    }
}

void ConnectionsPage::markChosen(const QString& id) {
    chosen_ = id;
    for (ConnectionCard* card : cards_) card->setChecked(card->property("connection").toString() == id);
}

void ConnectionsPage::choose(const QString& id) {
    markChosen(id);
    side_->setCurrentWidget(form_.get());
    const auto& all = desk_.connections().list().profiles;
    const auto found = std::ranges::find(all, fromQt(id), &db::ConnectionProfile::id);
    if (found != all.end()) form_->show(*found, false);
    markDrafts();
    Q_EMIT selectionChanged();
}

void ConnectionsPage::markDrafts() {
    if (form_.made() == nullptr) return;
    for (ConnectionCard* card : cards_) card->setDraft(form_->hasDraft(card->property("connection").toString()));
}

void ConnectionsPage::makeNew() {
    if (form_->resumeNew()) {
        chosen_.clear();
        for (ConnectionCard* card : cards_) card->setChecked(false);
        side_->setCurrentWidget(form_.get());
        return markDrafts();
    }
    db::ConnectionProfile p;
    if (const auto* like = desk_.connections().profile(fromQt(chosen_))) p.group = like->group;
    makeFrom(p);
}

void ConnectionsPage::makeFrom(const db::ConnectionProfile& profile) {
    isStartLeft_ = true;
    refreshStart();
    db::ConnectionProfile fresh = profile;
    fresh.id = db::makeProfileId();
    if (!fresh.name.empty()) fresh.name = store::freeName(desk_.connections().list(), fresh.name);
    choose({});
    form_->show(fresh, true);
    form_->focusFirst();
}

void ConnectionsPage::makeTemplate() {
    db::ConnectionProfile p;
    p.isTemplate = true;
    p.engine = db::Engine::Postgres;
    makeFrom(p);
}

void ConnectionsPage::duplicate(const QString& id) {
    const auto& all = desk_.connections().list().profiles;
    const auto original = std::ranges::find(all, fromQt(id), &db::ConnectionProfile::id);
    if (original == all.end()) return;
    db::ConnectionProfile copy = *original;
    copy.name = fromQt(tr("Copy of %1").arg(toQt(original->name)));
    makeFrom(copy);
}

/// A group begins empty, with its name ready to be typed over.
void ConnectionsPage::makeGroup() {
    isStartLeft_ = true;
    refreshStart();
    std::string wanted = fromQt(tr("New group"));
    const auto& groups = desk_.connections().list().groups;
    for (int i = 2; std::ranges::find(groups, wanted, &store::ConnectionGroup::name) != groups.end(); ++i) {
        wanted = fromQt(tr("New group %1").arg(i));
    }
    desk_.connections().change([wanted](store::ConnectionList& list) { list.groups.push_back({.name = wanted}); });
    for (auto* button : findChildren<QPushButton*>(QLatin1String(objectName::kGroupHeading))) {
        if (button->isHidden() || fromQt(button->property("group").toString()) != wanted) continue;
        if (auto* heading = qobject_cast<GroupHeading*>(button->parentWidget())) heading->beginRename();
    }
}

void ConnectionsPage::moveBy(const std::string& id, int by) {
    std::vector<std::string> members;
    const auto* moved = desk_.connections().profile(id);
    if (moved == nullptr) return;
    const std::string group = moved->group;
    for (const auto& p : desk_.connections().profiles()) {
        if (p.group == group) members.push_back(p.id);
    }
    const auto at = std::ranges::find(members, id) - members.begin();
    const auto size = static_cast<std::ptrdiff_t>(members.size());
    if ((by < 0 && at == 0) || (by > 0 && at + 1 == size)) return;
    const std::ptrdiff_t before = by < 0 ? at - 1 : at + 2;
    const std::string beforeId = before < size ? members[static_cast<std::size_t>(before)] : std::string();
    desk_.connections().change([=](store::ConnectionList& list) { store::moveProfile(list, id, group, beforeId); });
}

void ConnectionsPage::showMenu(const std::string& id, const QPoint& at) {
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    name(menu, objectName::kCardMenu, tr("What to do with this connection"));
    const QString chosen = toQt(id);
    choose(chosen);
    const bool isConnection = desk_.connections().profile(fromQt(chosen)) != nullptr;
    if (isConnection) {
        connect(menu->addAction(tr("Open a sheet\tReturn")), &QAction::triggered, this,
                [this, chosen] { Q_EMIT sheetRequested(chosen); });
    }
    connect(menu->addAction(tr("Duplicate")), &QAction::triggered, this, [this, chosen] { duplicate(chosen); });
    if (isConnection) {
        auto* groups = menu->addMenu(tr("Move to"));
        std::vector<std::string> names{std::string()};
        for (const auto& g : desk_.connections().list().groups) names.push_back(g.name);
        for (const std::string& group : names) {
            QAction* action = groups->addAction(group.empty() ? tr("No group") : toQt(group));
            connect(action, &QAction::triggered, this, [this, id, group] {
                desk_.connections().change(
                    [=](store::ConnectionList& list) { store::moveProfile(list, id, group, {}); });
            });
        }
        connect(menu->addAction(tr("Further up\tAlt+Up")), &QAction::triggered, this, [this, id] { moveBy(id, -1); });
        connect(menu->addAction(tr("Further down\tAlt+Down")), &QAction::triggered, this,
                [this, id] { moveBy(id, 1); });
    }
    menu->addSeparator();
    connect(menu->addAction(tr("Remove")), &QAction::triggered, this, [this, chosen] {
        form_->showNothing();
        desk_.connections().remove(fromQt(chosen));
        showUndo();
    });
    menu->popup(at);
}

/// What was removed can be had back until something else is removed.
void ConnectionsPage::showUndo() {
    if (!desk_.connections().lastRemoved()) return;
    undoText_->setText(
        tr("Removed %1. The database itself was not touched.").arg(toQt(desk_.connections().lastRemoved()->name)));
    undo_->show();
}

void ConnectionsPage::beginExport() {
    isStartLeft_ = true;
    refreshStart();
    transfer()->beginExport();
    side_->setCurrentWidget(transfer());
}

void ConnectionsPage::offerImport() {
    auto* dialog = new QFileDialog(this, tr("Import connections"), {}, tr("Connections (*.json);;All files (*)"));
    dialog->setFileMode(QFileDialog::ExistingFile);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &QFileDialog::fileSelected, this, &ConnectionsPage::beginImport);
    dialog->open();
}

void ConnectionsPage::beginImport(const QString& path) {
    isStartLeft_ = true;
    refreshStart();
    transfer()->beginImport(path);
    side_->setCurrentWidget(transfer());
}

}  // namespace pantry::app

#include "moc_connections_page.cpp"
