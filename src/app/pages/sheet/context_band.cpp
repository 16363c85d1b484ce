#include "app/pages/sheet/context_band.h"

#include <QHBoxLayout>
#include <QMenu>
#include <QPainter>
#include <QResizeEvent>
#include <algorithm>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/command/command.h"
#include "app/look/connection_colours.h"
#include "app/look/pick_list.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/pages/sheet/session_menu.h"
#include "app/shelf/shelf_list.h"
#include "core/db/engine_traits.h"
#include "core/db/session_facts.h"
#include "core/shelf/shelf_names.h"

namespace pantry::app {
namespace {

constexpr int kFoldFormat = 1;
constexpr int kFoldRunAll = 2;
constexpr int kFoldSaved = 3;

/// The colour that somebody chose for a connection whose signal is another: a dot, with room to the name behind it.
QPixmap markOf(const db::ConnectionProfile& profile) {
    QPixmap mark(14, 14);
    mark.fill(Qt::transparent);
    QPainter painter(&mark);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(Qt::NoPen);
    painter.setBrush(Theme::current().connectionColour(profile.colour));
    painter.drawEllipse(QRectF(0, 3, 9, 9));
    return mark;
}

}  // namespace

ContextBand::ContextBand(Desk& desk, Sheet& sheet, QWidget* parent)
    : TintedBand(parent),
      desk_(desk),
      sheet_(sheet),
      connection_(makeButton({}, "crumb", objectName::kBandConnection, tr("Connection of this sheet"), this)),
      place_(makeButton({}, "crumb", objectName::kBandPlace, tr("Database, schema and session"), this)),
      lock_(makeLabel(tr("changes locked"), "", this)),
      row_(new ToolRow(this)),
      elapsed_(new ElidedLabel(this)),
      run_(makeButton(tr("Run  Ctrl+↵"), "main", objectName::kRunButton, tr("Run the statement at the cursor"), this)),
      runAll_(makeButton(tr("Run all"), "", objectName::kRunAllButton, tr("Run the whole sheet"), this)),
      stop_(makeButton(tr("Stop"), "", objectName::kStopButton, tr("Stop what runs"), this)),
      format_(makeButton(tr("Format"), "", objectName::kFormatButton, tr("Format the sheet"), this)),
      saved_(makeButton({}, "crumb", objectName::kBandSaved, tr("Its place on the shelf"), this)) {
    name(this, objectName::kContextBand, tr("Where this sheet runs"));
    name(lock_, objectName::kBandLock, tr("The server refuses changes"));
    lock_->setToolTip(
        tr("The database itself refuses changes on this connection. A confirmation opens it for one statement."));
    Theme::fit(this, [this] { setFixedHeight(Theme::px(42)); });
    run_->setToolTip(commandTip("run.statement"));
    runAll_->setToolTip(commandTip("run.all"));
    stop_->setToolTip(commandTip("run.stop"));
    format_->setToolTip(commandTip("sheet.format"));
    connection_->setToolTip(tr("Choose another connection"));
    name(elapsed_, objectName::kBandElapsed, tr("For how long it runs"));
    row_->setObjectName(QStringLiteral("plainBox"));
    row_->add(chip());
    row_->add(connection_);
    row_->add(place_);
    row_->add(lock_);
    row_->add(run_);
    row_->addFoldable(runAll_, kFoldRunAll, [this](QMenu* menu) {
        connect(menu->addAction(menuText("run.all")), &QAction::triggered, this, &ContextBand::runAllRequested);
    });
    row_->add(stop_);
    row_->addFoldable(format_, kFoldFormat, [this](QMenu* menu) {
        connect(menu->addAction(menuText("sheet.format")), &QAction::triggered, this, &ContextBand::formatRequested);
    });
    row_->addElastic(elapsed_);
    row_->addStretch();
    row_->addFoldable(saved_, kFoldSaved, [this](QMenu* menu) {
        connect(menu->addAction(menuText("sheet.versions")), &QAction::triggered, this,
                &ContextBand::versionsRequested);
    });
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(2, 0, 0, 2);
    layout->addWidget(row_);
    connect(&sheet_, &Sheet::elapsedChanged, this, &ContextBand::refreshElapsed);
    // A click in the band leaves the caret where it was: in the text.
    for (QPushButton* button : {connection_, place_, run_, runAll_, stop_, format_, saved_})
        button->setFocusPolicy(Qt::TabFocus);
    connect(run_, &QPushButton::clicked, this, &ContextBand::runRequested);
    connect(runAll_, &QPushButton::clicked, this, &ContextBand::runAllRequested);
    connect(stop_, &QPushButton::clicked, this, &ContextBand::stopRequested);
    connect(format_, &QPushButton::clicked, this, &ContextBand::formatRequested);
    connect(connection_, &QPushButton::clicked, this, &ContextBand::offerConnections);
    connect(place_, &QPushButton::clicked, this, &ContextBand::offerSession);
    connect(&sheet_, &Sheet::sessionChanged, this, &ContextBand::refresh);
    connect(&sheet_, &Sheet::connectionChanged, this, &ContextBand::refresh);
    connect(&sheet_, &Sheet::runningChanged, this, &ContextBand::refresh);
    connect(saved_, &QPushButton::clicked, this, &ContextBand::versionsRequested);
    connect(&sheet_.file(), &SheetFile::changed, this, &ContextBand::refreshSaved);
    connect(&desk_, &Desk::shelfChanged, this, &ContextBand::refreshSaved);
    connect(&Theme::current(), &Theme::changed, this, &ContextBand::refresh);
    connect(&desk_, &Desk::catalogChanged, this, &ContextBand::refresh);
    refresh();
}

void ContextBand::refresh() {
    const db::ConnectionProfile* p = sheet_.profile();
    stop_->setEnabled(sheet_.isRunning());
    showConnection(p);
    constexpr int kTight = 700;
    run_->setText(width() < kTight ? tr("Run") : tr("Run  Ctrl+↵"));
    lock_->setText(width() < kTight ? tr("locked") : tr("changes locked"));
    row_->setWanted(place_, p != nullptr);
    row_->setWanted(chip(), p != nullptr);
    row_->setWanted(lock_, isLockShown());
    refreshElapsed();
    refreshSaved();
    if (p == nullptr) {
        connection_->setText(tr("Choose a connection ▾"));
    } else {
        connection_->setIcon(hasMark(*p) ? QIcon(markOf(*p)) : QIcon());
        const auto [widestName, widestPlace] = roomForWords(toQt(p->name));
        const QString shown = connection_->fontMetrics().elidedText(toQt(p->name), Qt::ElideRight, widestName);
        connection_->setText(shown + QStringLiteral(" ▾"));
        connection_->setToolTip(tr("%1: choose another connection").arg(toQt(p->name)));
        place_->setText(placeText(*p, widestPlace) + QStringLiteral(" ▾"));
        place_->setToolTip(facts() + QStringLiteral("\n\n") +
                           tr("Click: schema, commits and limits of this sheet (%1)").arg(keyText("sheet.session")));
    }
}

/// “Shelf › Plot health”, as long as the sheet stands there; its title is on the tab.
void ContextBand::refreshSaved() {
    const auto& file = sheet_.file().state();
    const auto place = file ? desk_.shelf().placeOf(file->path) : std::nullopt;
    row_->setWanted(saved_, place.has_value());
    if (!place) return;
    constexpr int kWidest = 170;
    QStringList parts{place->shelf.empty() ? tr("Shelf") : toQt(place->shelf)};
    const QString folder = spokenFolder({{}, shelf::folderOf(place->path)});
    if (!folder.isEmpty()) parts << folder;
    const QString text = parts.join(QStringLiteral(" › "));
    saved_->setText(saved_->fontMetrics().elidedText(text, Qt::ElideMiddle, Theme::px(kWidest)));
    saved_->setToolTip(tr("On the shelf: %1\nClick: its versions").arg(toQt(place->path)));
}

void ContextBand::refreshElapsed() {
    elapsed_->setText(sheet_.elapsedText());
    row_->setWanted(elapsed_, !elapsed_->text().isEmpty());
}

/// How wide name and place may be, so that what stands beside them is not squeezed, and the first part of a long name
/// is in sight whatever the window's width. What can fold makes room for it.
std::pair<int, int> ContextBand::roomForWords(const QString& wholeName) const {
    constexpr int kButtonEdges = 40;  // padding, the arrow and a mark
    constexpr int kEnough = 240;
    int room = width() - 40;
    for (const QWidget* fixed : std::initializer_list<const QWidget*>{chip(), lock_, run_, stop_}) {
        if (fixed != lock_ || isLockShown()) room -= fixed->sizeHint().width() + 4;
    }
    room -= 2 * kButtonEdges;
    const int folding = runAll_->sizeHint().width() + format_->sizeHint().width() + 8;
    room -= room - folding > kEnough ? folding : 80;  // else they stand under “More”
    const int wanted = connection_->fontMetrics().horizontalAdvance(wholeName) + 2;
    const int name = std::min(wanted, std::clamp(room * 3 / 5, 90, 260));
    return {name, std::clamp(room - name, 24, 190)};
}

bool ContextBand::isLockShown() const {
    const db::ConnectionProfile* p = sheet_.profile();
    return p != nullptr && db::runGuardOf(*p).isLocked;
}

/// “› orchard › public”, as it holds on the connection, else as the profile says.
QString ContextBand::placeText(const db::ConnectionProfile& p, int widest) const {
    const db::ConnectionState& connection = sheet_.session().state().connection;
    QStringList parts;
    if (db::isFile(p.engine)) {
        parts = {toQt(db::placeOf(p)), QStringLiteral("main")};
    } else {
        const auto catalog = desk_.catalogs().state(fromQt(sheet_.connectionId()), sheet_.database()).catalog;
        const bool isKnown =
            catalog && !catalog->facts().searchPath.empty() && !db::traitsOf(p.engine).schemasAreDatabases;
        const std::string usual = isKnown ? catalog->facts().searchPath.front() : std::string();
        parts = {toQt(connection.database.empty() ? p.database : connection.database),
                 toQt(connection.schema.empty() ? usual : connection.schema)};
        if (parts[0].isEmpty()) parts[0] = toQt(db::placeOf(p));
    }
    parts.removeAll(QString());
    if (connection.isReadOnly) parts += tr("read-only");
    constexpr int kLeastWords = 48;  // less would be letters that say nothing; the tip has it all
    if (widest < kLeastWords) return QStringLiteral("›");
    const QString text = QStringLiteral("› ") + parts.join(QStringLiteral(" › "));
    return QFontMetrics(font()).elidedText(text, Qt::ElideMiddle, widest);
}

/// Server, who, where, in which role and how encrypted, as far as the connection has told.
QString ContextBand::facts() const {
    const db::ConnectionProfile* p = desk_.connections().profile(fromQt(sheet_.connectionId()));
    if (p == nullptr) return {};
    const auto catalog = desk_.catalogs().state(fromQt(sheet_.connectionId()), sheet_.database()).catalog;
    QStringList lines;
    for (const std::string& fact :
         db::sessionFacts(*p, sheet_.session().state(), catalog ? catalog->facts().serverVersion : std::string())) {
        lines += toQt(fact);
    }
    return lines.join(QLatin1Char('\n'));
}

void ContextBand::resizeEvent(QResizeEvent* event) {
    TintedBand::resizeEvent(event);
    if (event->oldSize().width() != event->size().width()) refresh();
}

void ContextBand::offerConnections() {
    std::vector<PickList::Choice> choices;
    for (const db::ConnectionProfile& p : desk_.connections().profiles()) {
        QPixmap dot(12, 12);
        dot.fill(Theme::current().connectionColour(signalColour(p)));
        choices.push_back({.text = toQt(p.name),
                           .detail = toQt(db::environmentWord(p.environment)),
                           .icon = QIcon(dot),
                           .isCurrent = toQt(p.id) == sheet_.connectionId(),
                           .act = [sheet = QPointer<Sheet>(&sheet_), id = toQt(p.id)] {
                               if (sheet) sheet->setConnection(id);
                           }});
    }
    if (choices.empty()) {
        choices.push_back({.text = tr("No connection is saved yet"), .detail = {}, .icon = {}, .act = [] {}});
    }
    auto* list = new PickList(std::move(choices), tr("Connection of this sheet"), this);
    list->openAt(connection_->mapToGlobal(QPoint(0, connection_->height())));
}

void ContextBand::offerSession() {
    if (sheet_.profile() == nullptr) return offerConnections();
    makeSessionMenu(desk_, sheet_, this)->popup(place_->mapToGlobal(QPoint(0, place_->height())));
}

}  // namespace pantry::app

#include "moc_context_band.cpp"
