#include "app/pages/shelf/query_page.h"

#include <QGridLayout>
#include <QVBoxLayout>
#include <algorithm>

#include "app/base/background.h"
#include "app/base/text.h"
#include "app/ledger/run_words.h"
#include "app/look/connection_colours.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/shelf/shelf_list.h"
#include "core/base/text.h"
#include "core/db/engine_traits.h"
#include "core/shelf/text_difference.h"

namespace pantry::app {
namespace {

constexpr int kVersionsWidth = 250;

}  // namespace

QueryPage::QueryPage(Desk& desk, ShelfVerbs& verbs, store::QueryPlace place, QWidget* parent)
    : Page(parent),
      desk_(desk),
      verbs_(verbs),
      query_(std::move(place)),
      band_(new TintedBand),
      connectionName_(makeLabel({}, "heading")),
      title_(makeLabel({}, "bigHeading")),
      folder_(makeLabel({}, "quiet")),
      star_(makeButton(tr("Star"), "plain", "queryStar", tr("Mark the query with a star"))),
      note_(makeLabel({}, "")),
      parameters_(makeLabel({}, "")),
      lastRun_(makeLabel({}, "quiet")),
      before_(makeLabel({}, "heading")),
      now_(makeLabel({}, "heading")),
      count_(makeLabel({}, "small")),
      difference_(new DifferenceView),
      versions_(new VersionLine),
      restore_(makeButton({}, "", "queryRestore", tr("Make the older text the newest version"))),
      path_(makeLabel({}, "small")) {
    name(this, "queryPage", tr("Saved query"));
    auto* left = new QVBoxLayout;
    left->setContentsMargins(0, 0, 0, 0);
    left->setSpacing(0);
    left->addWidget(makeHead());
    auto* titles = new QGridLayout;  // each stands over its text
    titles->setContentsMargins(18, 8, 18, 8);
    titles->setColumnStretch(0, 1);
    titles->setColumnStretch(1, 1);
    titles->setColumnMinimumWidth(0, 1);
    titles->setColumnMinimumWidth(1, 1);
    auto* right = new QHBoxLayout;
    right->addWidget(now_);
    right->addStretch();
    right->addWidget(count_);
    before_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    titles->addWidget(before_, 0, 0);
    titles->addLayout(right, 0, 1);
    left->addWidget(makeFrame("rule"));
    left->addLayout(titles);
    left->addWidget(makeFrame("rule"));
    left->addWidget(difference_, 1);
    auto* middle = new QHBoxLayout;
    middle->setContentsMargins(0, 0, 0, 0);
    middle->setSpacing(0);
    middle->addLayout(left, 1);
    middle->addWidget(makeVersions());
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(band_);
    band_->setLayout(makeBand());
    layout->addLayout(middle, 1);
    connect(&desk_, &Desk::shelfChanged, this, &QueryPage::read);
    connect(&desk_, &Desk::ledgerChanged, this, &QueryPage::showLastRun);
    connect(&Theme::current(), &Theme::changed, this, [this] { band_->showConnection(connection()); });
    connect(versions_, &VersionLine::chosen, this, &QueryPage::compare);
    connect(&verbs_, &ShelfVerbs::moved, this, [this](const store::QueryPlace& from, const store::QueryPlace& to) {
        if (query_ != from) return;
        query_ = to;
        read();
    });
    read();
}

QLayout* QueryPage::makeBand() {
    auto* run = makeButton(tr("Run"), "main", "queryRun", tr("Run the query in a sheet"));
    auto* open = makeButton(tr("Open as a sheet"), "", "queryOpen", tr("Open the query in a sheet"));
    auto* renameIt = makeButton(tr("Rename…"), "plain", "queryRename", tr("Give it another title"));
    auto* moveIt = makeButton(tr("Move…"), "plain", "queryMove", tr("Put it into another folder"));
    auto* remove = makeButton(tr("Remove"), "plain", "queryRemove", tr("Remove the query from the shelf"));
    connect(run, &QPushButton::clicked, this, [this] { Q_EMIT openRequested(query_, true); });
    connect(open, &QPushButton::clicked, this, [this] { Q_EMIT openRequested(query_, false); });
    const auto verb = [this](void (ShelfVerbs::*act)(const work::ShelvedQuery&)) {
        return [this, act] {
            if (details_) std::invoke(act, verbs_, details_->query);
        };
    };
    connect(renameIt, &QPushButton::clicked, this, verb(&ShelfVerbs::rename));
    connect(moveIt, &QPushButton::clicked, this, verb(&ShelfVerbs::move));
    connect(remove, &QPushButton::clicked, this, verb(&ShelfVerbs::remove));
    connect(star_, &QPushButton::clicked, this, verb(&ShelfVerbs::toggleStar));
    auto* row = new QHBoxLayout;
    row->setContentsMargins(10, 6, 12, 6);
    row->setSpacing(8);
    row->addWidget(band_->chip());
    row->addWidget(connectionName_);
    row->addSpacing(8);
    for (QPushButton* one : {run, open, renameIt, moveIt}) row->addWidget(one);
    row->addStretch();
    row->addWidget(remove);
    return row;
}

QWidget* QueryPage::makeHead() {
    title_->setObjectName(QStringLiteral("queryTitle"));
    note_->setObjectName(QStringLiteral("queryNote"));
    parameters_->setObjectName(QStringLiteral("queryParameters"));
    lastRun_->setObjectName(QStringLiteral("queryLastRun"));
    for (QLabel* label : {note_, parameters_, lastRun_}) {
        label->setWordWrap(true);
        label->setTextInteractionFlags(Qt::TextSelectableByMouse);
    }
    parameters_->setTextFormat(Qt::RichText);
    auto* head = new QWidget;
    auto* top = new QHBoxLayout;
    top->setSpacing(10);
    top->addWidget(title_);
    folder_->setContentsMargins(0, 0, 0, 2);  // on the line of the title
    top->addWidget(folder_, 0, Qt::AlignBottom);
    top->addStretch();
    top->addWidget(star_);
    auto* layout = new QVBoxLayout(head);
    layout->setContentsMargins(18, 12, 18, 10);
    layout->setSpacing(6);
    layout->addLayout(top);
    layout->addWidget(note_);
    layout->addWidget(parameters_);
    layout->addWidget(lastRun_);
    layout->addWidget(path_);
    return head;
}

QWidget* QueryPage::makeVersions() {
    auto* side = new QFrame;
    side->setProperty("look", "side");
    side->setFixedWidth(Theme::px(kVersionsWidth));
    auto* top = new QHBoxLayout;
    top->setContentsMargins(12, 10, 12, 8);
    top->addWidget(makeLabel(tr("Versions"), "heading"));
    top->addStretch();
    top->addWidget(makeLabel(tr("Ctrl chooses the newer"), "small"));
    auto* bottom = new QHBoxLayout;
    bottom->setContentsMargins(12, 8, 12, 10);
    bottom->addWidget(restore_);
    bottom->addStretch();
    auto* layout = new QVBoxLayout(side);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(top);
    layout->addWidget(makeFrame("rule"));
    layout->addWidget(versions_, 1);
    layout->addWidget(makeFrame("rule"));
    layout->addLayout(bottom);
    connect(restore_, &QPushButton::clicked, this, [this] {
        const int older = versions_->older();
        if (older >= 0) verbs_.restore(query_, versions_->versions()[static_cast<std::size_t>(older)].id);
    });
    return side;
}

QString QueryPage::title() const {
    return tr("%1: versions").arg(details_ ? toQt(details_->query.item.head.title) : toQt(query_.path));
}

QIcon QueryPage::icon() const {
    const db::ConnectionProfile* p = connection();
    return markIcon(p != nullptr ? Theme::current().connectionColour(signalColour(*p))
                                 : Theme::current().colour("quiet"));
}

QString QueryPage::tip() const { return toQt(query_.path); }

QColor QueryPage::tabColour() const {
    const db::ConnectionProfile* p = connection();
    return p != nullptr ? Theme::current().tinted(Theme::current().connectionColour(signalColour(*p)), 0.22)
                        : Page::tabColour();
}

std::optional<PagePlace> QueryPage::place() const {
    const db::ConnectionProfile* p = connection();
    return p == nullptr ? std::nullopt : std::optional(PagePlace{toQt(p->id), {}});
}

void QueryPage::enter() { versions_->setFocus(); }

const db::ConnectionProfile* QueryPage::connection() const {
    if (!details_) return nullptr;
    const auto& all = desk_.connections().profiles();
    const auto found = std::ranges::find_if(
        all, [&](const db::ConnectionProfile& p) { return p.name == details_->query.item.head.connection; });
    return found == all.end() ? nullptr : &*found;
}

sql::Language QueryPage::language() const {
    const db::ConnectionProfile* p = connection();
    return p != nullptr ? sql::Language(db::dialectOf(p->engine)) : sql::Language(sql::Dialect::Ansi);
}

void QueryPage::read() {
    desk_.shelf().ask<work::QueryDetails>(
        [place = query_](work::Shelves& shelves) { return shelves.details(place); },
        whileThere(this, [this, asked = ++asked_](const Result<work::QueryDetails>& details) {
            if (asked != asked_) return;
            if (details) return take(*details);
            note_->setText(toQt(details.error()));
            Q_EMIT changed();
        }));
}

void QueryPage::take(const work::QueryDetails& details) {
    details_ = details;
    const shelf::QueryHead& head = details.query.item.head;
    title_->setText(toQt(head.title));
    folder_->setText(spokenFolder({query_.shelf, details.query.item.folder()}));
    note_->setText(toQt(head.note));
    note_->setVisible(!head.note.empty());
    star_->setText(details.query.isStarred ? tr("★ Starred") : tr("Star"));
    connectionName_->setText(head.connection.empty()   ? tr("Any connection")
                             : connection() != nullptr ? toQt(head.connection)
                                                       : tr("%1, which is not set up here").arg(toQt(head.connection)));
    band_->showConnection(connection());
    path_->setText(toQt(desk_.shelf().fileOf(query_).string()));
    showParameters();
    showLastRun();
    versions_->show(details.versions);
    compare();
    Q_EMIT changed();
}

void QueryPage::showParameters() {
    QStringList parts;
    const QString beet = Theme::current().colour("beet").name();
    for (const shelf::QueryParameter& one : details_->query.item.head.parameters) {
        QString text = QStringLiteral("<span style=\"color:%1; font-family:Hack\">:%2</span>")
                           .arg(beet, toQt(one.name).toHtmlEscaped());
        if (one.hasValue) text += QStringLiteral(" = ") + toQt(base::oneLine(one.value, 60)).toHtmlEscaped();
        if (!one.type.empty()) text += QStringLiteral(" (%1)").arg(toQt(one.type).toHtmlEscaped());
        parts << text;
    }
    parameters_->setText(parts.join(QStringLiteral(" &nbsp; ")));
    parameters_->setVisible(!parts.isEmpty());
}

/// By the place that the ledger keeps with each run.
void QueryPage::showLastRun() {
    desk_.ledger().findLastOfSaved(
        work::savedName(query_), whileThere(this, [this](const std::optional<store::LedgerEntry>& last) {
            lastRun_->setVisible(last.has_value());
            if (!last) return;
            QString text = tr("Last run %1").arg(toQt(base::spoken(last->startedAt, base::now())));
            if (!last->start.parameters.empty()) text += tr(" with %1").arg(toQt(last->start.parameters));
            lastRun_->setText(text + QStringLiteral(" · ") + statusSign(last->end.status) + outcomeOf(*last));
        }));
}

/// Reads the two texts that are chosen. With one version, that is compared with nothing.
void QueryPage::compare() {
    const auto& versions = versions_->versions();
    const int newer = versions_->newer();
    const int older = versions_->older();
    const bool canRestore = older > newer;
    restore_->setVisible(canRestore);
    if (newer < 0) {
        before_->clear();
        now_->setText(tr("In no version yet"));
        return showDifference(details_ ? details_->content : std::string(),
                              details_ ? details_->content : std::string());
    }
    const shelf::Version a = versions[static_cast<std::size_t>(older)];
    const shelf::Version b = versions[static_cast<std::size_t>(newer)];
    const bool isSameMinute = a.id != b.id && base::spoken(a.when, b.when) == base::spoken(b.when, b.when);
    const auto spoken = [isSameMinute](const shelf::Version& one) {
        const QString text = toQt(base::spoken(one.when, base::now()));
        return isSameMinute ? text + toQt(base::localTime(one.when).substr(5)) : text;
    };
    before_->setText(canRestore ? spoken(a) : QString());
    now_->setText(spoken(b));
    restore_->setText(tr("Restore %1").arg(spoken(a)));
    using Texts = std::pair<std::string, std::string>;
    desk_.shelf().ask<Texts>(
        [place = query_, a, b](work::Shelves& shelves) -> Result<Texts> {
            const auto textOf = [&](const shelf::Version& one) -> Result<std::string> {
                if (one.isRemoval) return std::string();
                auto shelf = shelves.shelf(place.shelf);
                if (!shelf) return shelf.error();
                auto repository = (*shelf)->repository();
                if (!repository) return repository.error();
                return (*repository)->textAt(one.id, one.path);
            };
            auto before = textOf(a);
            if (!before) return before.error();
            auto now = textOf(b);
            if (!now) return now.error();
            return Texts{std::move(*before), std::move(*now)};
        },
        whileThere(this, [this, newer, older](const Result<Texts>& texts) {
            if (versions_->newer() != newer || versions_->older() != older) return;
            if (!texts) return Q_EMIT remarked(toQt(texts.error()));
            showDifference(texts->first, texts->second);
        }));
}

void QueryPage::showDifference(const std::string& before, const std::string& now) {
    inBackground(
        base::Work::Interactive, this, [before, now] { return shelf::differenceOf(before, now); },
        [this](const std::vector<shelf::DifferenceLine>& lines) {
            const shelf::DifferenceCount count = shelf::countOf(lines);
            QStringList parts;
            if (count.changedOrAdded > 0) {
                parts << tr("%1 changed or added")
                             .arg(
                                 toQt(base::counted(static_cast<std::int64_t>(count.changedOrAdded), "line", "lines")));
            }
            if (count.gone > 0) parts << tr("%1 gone").arg(count.gone);
            count_->setText(parts.join(QStringLiteral(" · ")));
            difference_->show(lines, language());
        });
}

}  // namespace pantry::app

#include "moc_query_page.cpp"
