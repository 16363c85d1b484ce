#include "app/pages/connections/start_page.h"

#include <QDir>
#include <QFileDialog>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QPainter>
#include <QPainterPath>
#include <QScrollArea>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/db/address.h"
#include "demo/demo_data.h"

namespace pantry::app {
namespace {

constexpr int kPageWidth = 980;
constexpr int kPracticeWidth = 394;
constexpr std::size_t kMaxFound = 3;

struct PracticeQuery {
    const char* question;
    const char* statement;
};
constexpr PracticeQuery kQueries[] = {
    {QT_TRANSLATE_NOOP("StartPage", "Which plots need treatment before blossom?"),
     "SELECT p.name AS plot, count(*) AS visits, round(avg(i.scab_score), 2) AS scab\n"
     "FROM plot p\nJOIN tree t USING (plot_id)\nJOIN inspection i USING (tree_id)\n"
     "GROUP BY p.plot_id\nORDER BY scab DESC;"},
    {QT_TRANSLATE_NOOP("StartPage", "How many kilograms were picked each month?"),
     "SELECT strftime('%Y-%m', picked_on) AS month, round(sum(weight_kg), 1) AS kilograms\n"
     "FROM picking\nGROUP BY month\nORDER BY month;"},
    {QT_TRANSLATE_NOOP("StartPage", "Which inspections have no score?"),
     "SELECT i.inspection_id, p.name AS plot, i.visited_on, i.remark\n"
     "FROM inspection i\nJOIN tree t USING (tree_id)\nJOIN plot p USING (plot_id)\n"
     "WHERE i.scab_score IS NULL\nORDER BY i.visited_on DESC;"}};

QString practiceFolder() { return QDir::home().filePath(QStringLiteral("Larkspur Vale")); }

/// The valley with its rows of trees, in the theme's colours.
class Valley : public QWidget {
public:
    explicit Valley(QWidget* parent) : QWidget(parent) { setFixedHeight(172); }

protected:
    void paintEvent(QPaintEvent*) override {
        const Theme& theme = Theme::current();
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.fillRect(rect(), theme.colour("selection"));
        painter.setPen(QPen(theme.colour("marigold"), 1.6));
        painter.drawEllipse(QPointF(width() * 0.79, height() * 0.26), 15, 15);
        painter.setPen(Qt::NoPen);
        hill(painter, theme.tinted(theme.colour("juniper"), 0.22), 0.42, 0.60);
        hill(painter, theme.tinted(theme.colour("juniper"), 0.36), 0.66, 0.52);
        painter.fillRect(QRectF(0, height() * 0.70, width(), height()), theme.tinted(theme.colour("sage"), 0.34));
        for (int row = 0; row < 3; ++row) {
            const double y = height() * (0.72 + row * 0.11);
            const double radius = 3.5 + row * 1.4;
            const double step = 26 + row * 9;
            int number = 0;
            for (double x = 8 + row * 7; x < width(); x += step, ++number) {
                const bool isRipe = row == 0 && number > 2 && number < 6;
                painter.setBrush(theme.colour("cocoa"));
                painter.drawRect(QRectF(x - 0.6, y, 1.4, radius + 5));
                painter.setBrush(theme.colour(isRipe ? "marigold" : "sage"));
                painter.drawEllipse(QPointF(x, y), radius, radius);
            }
        }
    }

private:
    void hill(QPainter& painter, const QColor& colour, double left, double right) const {
        QPainterPath path(QPointF(0, height() * left));
        path.cubicTo(width() * 0.3, height() * (right - 0.28), width() * 0.6, height() * (left + 0.3), width(),
                     height() * right);
        path.lineTo(width(), height());
        path.lineTo(0, height());
        painter.fillPath(path, colour);
    }
};

QLabel* sectionLabel(const QString& text) { return makeLabel(text, "heading"); }

}  // namespace

StartPage::StartPage(Desk& desk, QWidget* parent)
    : QWidget(parent),
      desk_(desk),
      address_(new QLineEdit),
      advice_(makeLabel({}, "quiet")),
      found_(new QVBoxLayout),
      looked_(makeLabel({}, "quiet")),
      practise_(makeButton(tr("Make the databases"), "", objectName::kStartPractise,
                           tr("Make the practice databases and open a sheet"))),
      practiceState_(makeLabel(tr("takes about a second"), "quiet")) {
    name(this, objectName::kStartPage, tr("Connect to a database"));
    auto* page = new QWidget;
    page->setMaximumWidth(kPageWidth);
    auto* left = new QVBoxLayout;
    left->setSpacing(8);
    left->addWidget(makeFound());
    left->addSpacing(10);
    left->addWidget(makeFile());
    left->addSpacing(10);
    left->addWidget(makeServers());
    left->addStretch();
    auto* columns = new QHBoxLayout;
    columns->setSpacing(26);
    columns->addLayout(left, 1);
    columns->addWidget(makePractice(), 0, Qt::AlignTop);
    auto* layout = new QVBoxLayout(page);
    layout->setContentsMargins(16, 28, 16, 16);
    layout->setSpacing(8);
    layout->addWidget(makeHead());
    layout->addSpacing(12);
    layout->addLayout(columns);
    layout->addStretch();
    auto* middle = new QWidget;
    auto* middleLayout = new QHBoxLayout(middle);
    middleLayout->addStretch();
    middleLayout->addWidget(page, 100);
    middleLayout->addStretch();
    auto* scroll = new QScrollArea(this);  // only for windows that are lower than a usual one
    scroll->setWidget(middle);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(scroll);
    noteLooking();
}

QWidget* StartPage::makeHead() {
    auto* head = new QWidget;
    auto* top = new QHBoxLayout;
    top->addWidget(makeLabel(tr("Connect to a database"), "title"));
    top->addStretch();
    auto* import = makeButton(tr("Import connections…"), "plain", objectName::kStartImport, tr("Import connections"));
    top->addWidget(import);
    connect(import, &QPushButton::clicked, this, &StartPage::importWanted);
    name(address_, objectName::kStartAddress, tr("Address, host name or path of a file"));
    address_->setPlaceholderText(QStringLiteral("postgresql://user@host:5432/database"));
    address_->setProperty("look", "start");
    auto* go = makeButton(tr("Continue"), "main", objectName::kStartContinue, tr("Fill the form with it"));
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    row->addWidget(address_, 1);
    row->addWidget(go);
    advice_->setText(tr(
        "Paste an address, a host name or the path of a file. You see what was understood before anything is sent."));
    advice_->setWordWrap(true);
    auto* layout = new QVBoxLayout(head);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    layout->addLayout(top);
    layout->addLayout(row);
    layout->addWidget(advice_);
    connect(go, &QPushButton::clicked, this, &StartPage::take);
    connect(address_, &QLineEdit::returnPressed, this, &StartPage::take);
    return head;
}

/// What is no address may be the name of a host, which PostgreSQL is asked on first: the form says so and can change
/// it.
void StartPage::take() {
    const QString text = address_->text().trimmed();
    if (text.isEmpty()) {
        setLook(advice_, "quiet");
        return address_->setFocus();
    }
    const auto address = db::parseAddress(fromQt(text));
    if (address) return Q_EMIT addressGiven(text);
    static const QRegularExpression kHost(QStringLiteral("^[A-Za-z0-9][A-Za-z0-9.-]*(:\\d{1,5})?$"));
    if (kHost.match(text).hasMatch()) return Q_EMIT addressGiven(QStringLiteral("postgresql://") + text);
    setLook(advice_, "bad");
    advice_->setText(toQt(address.error()));
}

QWidget* StartPage::makeFound() {
    auto* box = new QWidget;
    auto* again = makeButton(tr("Look again"), "link", objectName::kStartLook, tr("Look for servers again"));
    auto* top = new QHBoxLayout;
    top->addWidget(sectionLabel(tr("On this machine")));
    top->addStretch();
    top->addWidget(looked_);
    top->addWidget(again);
    connect(again, &QPushButton::clicked, this, [this] {
        noteLooking();
        Q_EMIT lookWanted();
    });
    name(looked_, objectName::kStartLooked, tr("Whether servers were looked for"));
    auto* card = makeFrame("card");
    found_->setContentsMargins(0, 0, 0, 0);
    found_->setSpacing(0);
    card->setLayout(found_);
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    layout->addLayout(top);
    layout->addWidget(card);
    return box;
}

void StartPage::noteLooking() { looked_->setText(tr("Looking…")); }

void StartPage::setFound(const std::vector<store::FoundConnection>& found) {
    clearLayout(found_);
    looked_->setText(tr("Looked just now"));
    const auto add = [this](QWidget* row) {
        if (found_->count() > 0) found_->addWidget(makeFrame("rule"));
        found_->addWidget(row);
    };
    for (std::size_t i = 0; i < std::min(found.size(), kMaxFound); ++i) {
        const store::FoundConnection& one = found[i];
        auto* row = new QWidget;
        row->setObjectName(QStringLiteral("plainBox"));
        auto* textLayout = new QVBoxLayout;
        textLayout->setSpacing(2);
        textLayout->addWidget(makeLabel(toQt(one.profile.name), "heading"));
        textLayout->addWidget(makeLabel(toQt(one.where), "quiet"));
        auto* go =
            makeButton(tr("Connect"), "", objectName::kStartConnect, tr("Connect to %1").arg(toQt(one.profile.name)));
        auto* layout = new QHBoxLayout(row);
        layout->setContentsMargins(15, 9, 13, 9);
        layout->addLayout(textLayout, 1);
        layout->addWidget(go);
        connect(go, &QPushButton::clicked, this, [this, profile = one.profile] { Q_EMIT connectWanted(profile); });
        add(row);
    }
    if (!found.empty()) return;
    auto* none =
        makeLabel(tr("No server was found here. One on another machine has an address: paste it above."), "quiet");
    none->setWordWrap(true);
    none->setContentsMargins(15, 12, 13, 12);
    add(none);
}

QWidget* StartPage::makeFile() {
    auto* box = new QWidget;
    auto* textLayout = new QVBoxLayout;
    textLayout->setSpacing(2);
    textLayout->addWidget(makeLabel(tr("Drop it anywhere in this window"), ""));
    textLayout->addWidget(makeLabel(tr("SQLite files of any name"), "quiet"));
    auto* choose = makeButton(tr("Choose a file…"), "", objectName::kStartFile, tr("Choose a database file"));
    auto* area = makeFrame("drop");
    auto* row = new QHBoxLayout(area);
    row->setContentsMargins(15, 12, 13, 12);
    row->addLayout(textLayout, 1);
    row->addWidget(choose);
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    layout->addWidget(sectionLabel(tr("A database file")));
    layout->addWidget(area);
    connect(choose, &QPushButton::clicked, this, [this] {
        auto* dialog = new QFileDialog(this, tr("Open a database file"));
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        connect(dialog, &QFileDialog::fileSelected, this, &StartPage::fileChosen);
        dialog->open();
    });
    return box;
}

QWidget* StartPage::makeServers() {
    auto* box = new QWidget;
    auto* cards = new QHBoxLayout;
    cards->setSpacing(9);
    const auto add = [&](const QString& title, const QString& text, db::Engine engine) {
        auto* card = makeButton(title + QLatin1Char('\n') + text, "engine", objectName::kStartEngine,
                                tr("A new connection: %1").arg(title));
        cards->addWidget(card, 1);
        connect(card, &QPushButton::clicked, this, [this, engine] {
            db::ConnectionProfile profile;
            profile.engine = engine;
            Q_EMIT profileGiven(profile);
        });
    };
    add(tr("PostgreSQL"), tr("and what speaks\nits protocol"), db::Engine::Postgres);
    add(tr("MariaDB, MySQL"), tr("one form\nfor both"), db::Engine::MariaDb);
    add(tr("ODBC"), tr("any source that has\na driver here"), db::Engine::Odbc);
    auto* top = new QHBoxLayout;
    top->addWidget(sectionLabel(tr("Another server")));
    top->addStretch();
    top->addWidget(makeLabel(tr("opens an empty form"), "quiet"));
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    layout->addLayout(top);
    layout->addLayout(cards);
    return box;
}

QWidget* StartPage::makePractice() {
    auto* card = makeFrame("card");
    card->setMinimumWidth(kPracticeWidth);
    auto* about = makeLabel(tr("A made-up orchard with its kitchen and its probes, to try things on: four SQLite files "
                               "in %1.")
                                .arg(QStringLiteral("~/Larkspur Vale")),
                            "");
    about->setWordWrap(true);
    auto* textLayout = new QVBoxLayout;
    textLayout->setContentsMargins(20, 14, 20, 16);
    textLayout->setSpacing(8);
    textLayout->addWidget(makeLabel(tr("Practise on Larkspur Vale"), "bigHeading"));
    textLayout->addWidget(about);
    textLayout->addSpacing(4);
    textLayout->addWidget(makeLabel(tr("The first sheet opens with three queries to run:"), "quiet"));
    for (const PracticeQuery& query : kQueries) {
        auto* line = makeLabel(tr(query.question), "question");
        line->setWordWrap(true);
        textLayout->addWidget(line);
    }
    textLayout->addSpacing(14);
    auto* verbs = new QHBoxLayout;
    verbs->addWidget(practise_);
    verbs->addStretch();
    verbs->addWidget(practiceState_);
    textLayout->addLayout(verbs);
    auto* layout = new QVBoxLayout(card);
    layout->setContentsMargins(1, 1, 1, 1);
    layout->setSpacing(0);
    layout->addWidget(new Valley(card));
    layout->addLayout(textLayout, 1);
    connect(practise_, &QPushButton::clicked, this, &StartPage::practise);
    return card;
}

void StartPage::practise() {
    practise_->setEnabled(false);
    setLook(practiceState_, "quiet");
    practiceState_->setText(tr("Making them…"));
    const std::filesystem::path folder = fromQt(practiceFolder());
    inBackground(
        base::Work::Long, this, [folder] { return demo::writeDatabases(folder); },
        [this, folder](const Status& status) {
            practise_->setEnabled(true);
            practiceState_->setText(tr("takes about a second"));
            if (!status) {
                setLook(practiceState_, "bad");
                practiceState_->setWordWrap(true);
                return practiceState_->setText(toQt(status.error()));
            }
            const auto connections = demo::connectionsTo(folder);
            for (const db::ConnectionProfile& profile : connections) desk_.connections().put(profile);
            QString text;
            for (const PracticeQuery& query : kQueries) {
                text += QStringLiteral("-- ") + tr(query.question) + QLatin1Char('\n') +
                        QLatin1String(query.statement) + QStringLiteral("\n\n");
            }
            Q_EMIT practiceReady(toQt(connections.front().id), text.trimmed());
        });
}

}  // namespace pantry::app

#include "moc_start_page.cpp"
