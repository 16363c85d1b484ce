#include "app/pages/server/server_page.h"

#include <QMenu>
#include <QVBoxLayout>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/elided_label.h"
#include "app/look/widgets.h"
#include "core/db/engine_traits.h"
#include "core/sql/forms/form.h"

namespace pantry::app {
namespace {

/// The forms that change what a subject shows.
std::vector<sql::FormGroup> groupsOf(std::string_view subject) {
    if (subject == "roles") return {sql::FormGroup::Role, sql::FormGroup::Right};
    if (subject == "rights") return {sql::FormGroup::Right};
    if (subject == "databases") return {sql::FormGroup::Schema, sql::FormGroup::Database};
    return {};
}

}  // namespace

ServerPage::ServerPage(Desk& desk, ObjectPlace place, const QString& subject, ChangeChoices choices, QWidget* parent)
    : PlacePage(desk, std::move(place), parent),
      choices_(std::move(choices)),
      change_(makeButton(tr("Change ▾"), "", objectName::kServerChange, tr("Change it by a form"), this)),
      stop_(makeButton(tr("Stop"), "", "serverStop", tr("Stop reading"), this)),
      pane_(new ResultPane(desk, this)),
      runs_(new PlaceRuns(desk, {.connection = fromQt(place_.connectionId), .database = place_.database},
                          tr("The server"), this)) {
    name(this, objectName::kServerPage, tr("The server"));
    change_->setMenu(new QMenu(change_));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(26, 16, 26, 10);
    layout->setSpacing(8);
    layout->addWidget(makeHeader());
    layout->addWidget(pane_, 1);
    stop_->hide();
    connect(stop_, &QPushButton::clicked, this, [this] { runs_->stop(); });
    connect(runs_, &PlaceRuns::currentChanged, pane_, &ResultPane::setSource);
    connect(runs_, &PlaceRuns::runningChanged, this, [this] { stop_->setVisible(runs_->isRunning()); });
    connect(pane_, &ResultPane::statementWanted, this,
            [this](const QString& statement) { runs_->show(fromQt(statement)); });
    connect(pane_, &ResultPane::sheetWanted, this,
            [this](const QString& title, const QString& text) { Q_EMIT sheetRequested(place_, title, text); });
    show(subject);
}

QString ServerPage::title() const {
    const db::ConnectionProfile* profile = this->profile();
    return tr("Server of %1").arg(profile == nullptr ? place_.connectionId : toQt(profile->name));
}

QIcon ServerPage::icon() const { return QIcon(QStringLiteral(":/icons/schema.svg")); }

void ServerPage::enter() {
    readAgain();  // forms may have changed what it shows
    pane_->grid()->setFocus();
}

QWidget* ServerPage::makeHeader() {
    auto* header = new QWidget(this);
    auto* heading = new ElidedLabel(title(), header);
    setLook(heading, "title");
    auto* sheet = makeButton(tr("Into a sheet"), "", "serverSheet", tr("Open the query in a new sheet"), header);
    auto* again = makeButton(tr("Read again"), "", objectName::kServerAgain, tr("Ask the server again"), header);
    connect(again, &QPushButton::clicked, this, &ServerPage::readAgain);
    connect(sheet, &QPushButton::clicked, this, [this] {
        if (subject_ != nullptr) Q_EMIT sheetRequested(place_, toQt(subject_->label), toQt(subject_->statement));
    });
    auto* head = new QHBoxLayout;
    head->setSpacing(8);
    head->addWidget(heading, 1);
    for (QWidget* one : {static_cast<QWidget*>(stop_), static_cast<QWidget*>(change_), static_cast<QWidget*>(again),
                         static_cast<QWidget*>(sheet)}) {
        head->addWidget(one);
    }
    auto* textLayout = new QHBoxLayout;
    textLayout->setSpacing(4);
    for (const sql::ServerQuery& one : sql::serverQueries(dialect_)) {
        auto* word = makeButton(toQt(one.label), "toggle", objectName::kServerSubject, toQt(one.label), header);
        word->setCheckable(true);
        word->setProperty("subject", toQt(one.id));
        connect(word, &QPushButton::clicked, this, [this, id = toQt(one.id)] { show(id); });
        subjects_.push_back(word);
        textLayout->addWidget(word);
    }
    textLayout->addStretch();
    auto* layout = new QVBoxLayout(header);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    layout->addLayout(head);
    layout->addLayout(textLayout);
    return header;
}

void ServerPage::show(const QString& subject) {
    const db::ConnectionProfile* profile = this->profile();
    if (profile == nullptr) return;
    const auto& all = sql::serverQueries(dialect_);
    if (all.empty()) return;
    const auto found = std::ranges::find(all, fromQt(subject), &sql::ServerQuery::id);
    subject_ = found == all.end() ? &all.front() : &*found;
    for (QPushButton* word : subjects_) word->setChecked(word->property("subject").toString() == toQt(subject_->id));
    showVerbs();
    readAgain();
}

void ServerPage::showVerbs() {
    QMenu* menu = change_->menu();
    menu->clear();
    addServerChanges(menu, desk_, place_, groupsOf(subject_->id), true, choices_);
    change_->setVisible(!menu->isEmpty());
}

void ServerPage::readAgain() {
    if (subject_ != nullptr) runs_->show(std::string(subject_->statement));
}

}  // namespace pantry::app

#include "moc_server_page.cpp"
