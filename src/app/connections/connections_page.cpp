#include "app/connections/connections_page.h"

#include <QAbstractButton>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>
#include <QScrollArea>
#include <QTimer>
#include <algorithm>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/base/widgets.h"
#include "app/theme/theme.h"
#include "core/base/text.h"

namespace pantry::app {
namespace {

constexpr int kCardHeight = 76;
constexpr int kColumns = 2;
constexpr int kCardMinimumWidth = 230;

/// A saved connection: colour at its edge, name, environment, where it leads, how it was used.
class ConnectionCard : public QAbstractButton {
public:
    ConnectionCard(const db::ConnectionProfile& profile, QString facts, std::function<QString()> usage, QWidget* parent)
        : QAbstractButton(parent), profile_(profile), facts_(std::move(facts)), usage_(std::move(usage)) {
        setCheckable(true);
        setMinimumWidth(kCardMinimumWidth);
        setFixedHeight(kCardHeight);
        setFocusPolicy(Qt::StrongFocus);
        name(this, "connectionCard",
             QObject::tr("%1, %2, %3").arg(toQt(profile.name), toQt(db::environmentWord(profile.environment)), facts_));
        setProperty("connection", toQt(profile.id));
        setToolTip(QObject::tr("Double click or Return opens a sheet on it"));
    }
    std::function<void()> open;

protected:
    void paintEvent(QPaintEvent*) override {
        const Theme& theme = Theme::current();
        const QColor colour = theme.connectionColour(profile_.colour);
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        const QRectF box = QRectF(rect()).adjusted(1, 1, -1, -1);
        painter.setPen(QPen(theme.colour(isChecked() || hasFocus() ? "juniper" : "line"), isChecked() ? 2 : 1));
        painter.setBrush(theme.colour(underMouse() ? "selection" : "card"));
        painter.drawRoundedRect(box, 7, 7);
        painter.setPen(Qt::NoPen);
        painter.setBrush(colour);
        painter.drawRoundedRect(QRectF(box.left() + 1, box.top() + 1, 5, box.height() - 2), 2.5, 2.5);
        const QRect area = rect().adjusted(19, 10, -14, -9);
        QFont strong = font();
        strong.setPixelSize(14);
        strong.setWeight(QFont::DemiBold);
        QFont small = font();
        small.setPixelSize(11);
        small.setWeight(QFont::Bold);
        const QString environment = toQt(db::environmentWord(profile_.environment)).toUpper();
        painter.setFont(small);
        painter.setPen(theme.colour(environmentRole()));
        painter.drawText(area, Qt::AlignTop | Qt::AlignRight, environment);
        painter.setFont(strong);
        painter.setPen(theme.colour("ink"));
        const int room = area.width() - 56;
        painter.drawText(area, Qt::AlignTop | Qt::AlignLeft,
                         QFontMetrics(strong).elidedText(toQt(profile_.name), Qt::ElideRight, room));
        QFont plain = font();
        plain.setPixelSize(12);
        painter.setFont(plain);
        painter.setPen(theme.colour("quiet"));
        const QFontMetrics metrics(plain);
        painter.drawText(area, Qt::AlignVCenter | Qt::AlignLeft,
                         metrics.elidedText(facts_, Qt::ElideMiddle, area.width()));
        painter.drawText(area, Qt::AlignBottom | Qt::AlignLeft,
                         metrics.elidedText(usage_(), Qt::ElideRight, area.width()));
    }

    void mouseDoubleClickEvent(QMouseEvent*) override { open(); }

    void keyPressEvent(QKeyEvent* event) override {
        if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) return open();
        QAbstractButton::keyPressEvent(event);
    }

private:
    [[nodiscard]] const char* environmentRole() const {
        switch (profile_.environment) {
            case db::Environment::Live: return "tomato";
            case db::Environment::Trial: return "marigold";
            case db::Environment::Local: break;
        }
        return "sage";
    }

    db::ConnectionProfile profile_;
    QString facts_;
    std::function<QString()> usage_;
};

}  // namespace

ConnectionsPage::ConnectionsPage(Desk& desk, QWidget* parent)
    : QWidget(parent),
      desk_(desk),
      new_(makeButton(tr("New connection"), "main", objectName::kNewConnection, tr("New connection"))),
      groups_(new QVBoxLayout),
      form_(new ConnectionForm(desk, this)) {
    name(this, objectName::kConnectionsPage, tr("Connections"));
    auto* left = new QWidget;
    auto* leftLayout = new QVBoxLayout(left);
    leftLayout->setContentsMargins(26, 20, 26, 20);
    leftLayout->setSpacing(8);
    leftLayout->addWidget(makeLabel(tr("Connections"), "title"));
    leftLayout->addWidget(makeLabel(tr("Double click one to open a sheet on it."), "quiet"));
    auto* verbs = new QHBoxLayout;
    verbs->addWidget(new_);
    verbs->addStretch();
    leftLayout->addLayout(verbs);
    leftLayout->addSpacing(4);
    groups_->setSpacing(8);
    leftLayout->addLayout(groups_);
    leftLayout->addStretch();
    auto* scroll = new QScrollArea(this);
    scroll->setWidget(left);
    scroll->setWidgetResizable(true);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(scroll, 1);
    layout->addWidget(form_);
    connect(new_, &QPushButton::clicked, this, &ConnectionsPage::makeNew);
    connect(form_, &ConnectionForm::saved, this, [this](const QString& id) { choose(id); });
    connect(form_, &ConnectionForm::openRequested, this, &ConnectionsPage::sheetRequested);
    connect(form_, &ConnectionForm::duplicateRequested, this, &ConnectionsPage::duplicate);
    connect(&desk_, &Desk::profilesChanged, this, &ConnectionsPage::fill);
    connect(&Theme::current(), &Theme::changed, this, [this] { update(); });
    fill();
}

void ConnectionsPage::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    desk_.ledgerUsage(this, [this](const std::vector<workspace::Ledger::Usage>& usage) {
        usage_.clear();
        for (const auto& u : usage) usage_.insert(toQt(u.connectionId), u);
        for (QAbstractButton* card : cards()) card->update();
    });
    if (chosen_.isEmpty() && !desk_.profiles().empty()) choose(toQt(desk_.profiles().front().id));
    QTimer::singleShot(0, this, &ConnectionsPage::focusCards);
}

QString ConnectionsPage::factsOf(const db::ConnectionProfile& p) const {
    QString facts = toQt(db::engineName(p.engine)) + QStringLiteral(" · ") + toQt(db::placeOf(p));
    if (!p.user.empty()) facts += tr(" · as %1").arg(toQt(p.user));
    if (p.isReadOnly) facts += tr(" · reading only");
    return facts;
}

QString ConnectionsPage::usageOf(const std::string& id) const {
    const auto found = usage_.find(toQt(id));
    if (found == usage_.end()) return tr("not used yet");
    return tr("used %1 · %2")
        .arg(toQt(base::spoken(found->last, base::now())), toQt(base::counted(found->runs, "run", "runs")));
}

void ConnectionsPage::fill() {
    const QWidget* focus = window()->focusWidget();  // also while another window is in front
    const bool hadFocus =
        focus != nullptr && isAncestorOf(focus) && focus->objectName() == QLatin1String("connectionCard");
    clearLayout(groups_);
    std::vector<std::string> names;
    for (const auto& p : desk_.profiles()) {
        if (std::ranges::find(names, p.group) == names.end()) names.push_back(p.group);
    }
    for (const std::string& group : names) {
        std::vector<const db::ConnectionProfile*> members;
        for (const auto& p : desk_.profiles()) {
            if (p.group == group) members.push_back(&p);
        }
        addGroup(group.empty() ? tr("Without a group") : toQt(group), members);
    }
    if (desk_.profiles().empty()) {
        auto* empty = makeLabel(tr("None is saved yet. New connection asks for a name and a database file; "
                                   "an address such as sqlite:///srv/kitchen.db fills the form."),
                                "quiet");
        empty->setWordWrap(true);
        groups_->addWidget(empty);
    }
    orderTabs();
    if (hadFocus) focusCards();
}

/// The cards that stand; those of an earlier filling are hidden and about to go.
std::vector<QAbstractButton*> ConnectionsPage::cards() const {
    std::vector<QAbstractButton*> list;
    for (auto* card : findChildren<QAbstractButton*>(QStringLiteral("connectionCard"))) {
        if (!card->isHidden()) list.push_back(card);
    }
    return list;
}

/// New cards would come last in the round of the Tab key, after the form.
void ConnectionsPage::orderTabs() {
    QWidget* before = new_;
    for (QAbstractButton* card : cards()) {
        setTabOrder(before, card);
        before = card;
    }
    setTabOrder(before, form_->firstField());
}

void ConnectionsPage::focusCards() {
    for (QAbstractButton* card : cards()) {
        if (card->property("connection").toString() == chosen_) return card->setFocus(Qt::TabFocusReason);
    }
    new_->setFocus(Qt::TabFocusReason);
}

void ConnectionsPage::addGroup(const QString& title, const std::vector<const db::ConnectionProfile*>& members) {
    auto* heading = new QHBoxLayout;
    heading->addWidget(makeLabel(title, "section"));
    heading->addStretch();
    heading->addWidget(makeLabel(QString::number(members.size()), "small"));
    groups_->addLayout(heading);
    groups_->addWidget(makeFrame("rule"));
    auto* grid = new QGridLayout;
    grid->setSpacing(10);
    for (std::size_t i = 0; i < members.size(); ++i) {
        const db::ConnectionProfile& p = *members[i];
        auto* card = new ConnectionCard(
            p, factsOf(p), [this, id = p.id] { return usageOf(id); }, this);
        const QString id = toQt(p.id);
        card->setChecked(id == chosen_);
        card->open = [this, id] { Q_EMIT sheetRequested(id); };
        connect(card, &QAbstractButton::clicked, this, [this, id] { choose(id); });
        grid->addWidget(card, static_cast<int>(i) / kColumns, static_cast<int>(i) % kColumns);
        card->show();  // now, not with the next layout: the focus may be waiting for it
    }
    for (int c = 0; c < kColumns; ++c) {
        grid->setColumnStretch(c, 1);
        grid->setColumnMinimumWidth(c, kCardMinimumWidth);
    }
    if (members.size() == 1) {  // as wide as one of two
        auto* nothing = new QWidget;
        nothing->setMinimumWidth(kCardMinimumWidth);
        grid->addWidget(nothing, 0, 1);
    }
    groups_->addLayout(grid);
}

void ConnectionsPage::choose(const QString& id) {
    chosen_ = id;
    for (QAbstractButton* card : cards()) card->setChecked(card->property("connection").toString() == id);
    if (const auto* p = desk_.profile(id)) form_->show(*p, false);
    Q_EMIT selectionChanged();
}

void ConnectionsPage::makeNew() {
    db::ConnectionProfile p;
    p.id = db::makeProfileId();
    if (const auto* like = desk_.profile(chosen_)) p.group = like->group;
    choose({});
    form_->show(p, true);
    form_->focusFirst();
}

void ConnectionsPage::duplicate(const QString& id) {
    const auto* original = desk_.profile(id);
    if (original == nullptr) return;
    db::ConnectionProfile copy = *original;
    copy.id = db::makeProfileId();
    copy.name = fromQt(tr("Copy of %1").arg(toQt(original->name)));
    choose({});
    form_->show(copy, true);
}

}  // namespace pantry::app
