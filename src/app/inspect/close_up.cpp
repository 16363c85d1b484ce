#include "app/inspect/close_up.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QStyledItemDelegate>
#include <QVBoxLayout>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/elided_label.h"
#include "app/look/missing_glyphs.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/result/result_names.h"
#include "core/exchange/table_text.h"

namespace pantry::app {
namespace {

constexpr int kFactHeight = 41;
constexpr int kValueRole = Qt::UserRole;
constexpr int kTypeRole = Qt::UserRole + 1;
constexpr int kNullRole = Qt::UserRole + 2;
constexpr int kColumnsShown = 500;

/// A column of the record: name and type small, the value below.
class FactDelegate : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override {
        return {80, Theme::px(kFactHeight)};
    }
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        const Theme& theme = Theme::current();
        painter->save();
        if (option.state.testFlag(QStyle::State_Selected)) {
            const bool hasFocus = option.state.testFlag(QStyle::State_HasFocus);
            painter->fillRect(option.rect, theme.colour("selection"));
            if (hasFocus)
                painter->fillRect(QRect(option.rect.left(), option.rect.top(), 3, option.rect.height()),
                                  theme.colour("juniper"));
        }
        painter->setPen(theme.colour("fineLine"));
        painter->drawLine(option.rect.bottomLeft(), option.rect.bottomRight());
        const QRect area = option.rect.adjusted(14, 4, -8, -4);
        QFont small = option.font;
        small.setPixelSize(Theme::px(11));
        painter->setFont(small);
        painter->setPen(theme.colour("quiet"));
        QString heading = index.data().toString();
        const QString type = index.data(kTypeRole).toString();
        if (!type.isEmpty()) heading += QStringLiteral(" · ") + type;
        painter->drawText(area, Qt::AlignTop | Qt::AlignLeft,
                          QFontMetrics(small).elidedText(heading, Qt::ElideRight, area.width()));
        QFont code(QStringLiteral("Hack"));
        code.setPixelSize(Theme::px(12));
        const bool isNull = index.data(kNullRole).toBool();
        code.setItalic(isNull);
        painter->setFont(code);
        painter->setPen(theme.colour(isNull ? "quiet" : "ink"));
        painter->drawText(
            area, Qt::AlignBottom | Qt::AlignLeft,
            QFontMetrics(code).elidedText(index.data(kValueRole).toString(), Qt::ElideRight, area.width()));
        painter->restore();
    }
};

}  // namespace

CloseUp::CloseUp(QWidget* parent)
    : QFrame(parent),
      place_(makeLabel({}, "small", this)),
      finding_(new FindingNote(this)),
      columnName_(new ElidedLabel(this)),
      facts_(makeLabel({}, "small", this)),
      server_(makeLabel({}, "small", this)),
      find_(new QLineEdit(this)),
      value_(new QPlainTextEdit(this)),
      tree_(new ValueTree(this)),
      picture_(new QLabel(this)),
      row_(new QListWidget(this)),
      links_(new QWidget(this)),
      there_(new QWidget(this)),
      thereText_(makeLabel({}, "heading", this)) {
    name(this, objectName::kCloseUp, tr("Close-up"));
    name(value_, objectName::kCloseUpValue, tr("Value of the cell in full"));
    name(row_, objectName::kCloseUpRow, tr("The whole row"));
    setMinimumWidth(160);
    value_->setReadOnly(true);
    value_->setProperty("look", "code");
    value_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    picture_->setAlignment(Qt::AlignCenter);
    columnName_->setProperty("look", "heading");
    columnName_->setTextFormat(Qt::PlainText);
    facts_->setWordWrap(true);
    name(server_, "closeUpServer", tr("Who and where this sheet runs"));
    server_->setWordWrap(true);
    server_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    row_->setItemDelegate(new FactDelegate(row_));
    row_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    name(find_, "closeUpFind", tr("Find in the value"));
    find_->setProperty("look", "find");
    find_->setPlaceholderText(tr("Find in it…  ↵ next"));
    connect(find_, &QLineEdit::returnPressed, this, &CloseUp::findInValue);
    makeThere();
    makeLayout();
    finding_->hide();
    connect(finding_, &FindingNote::mendRequested, this, &CloseUp::mendRequested);
    connect(finding_, &FindingNote::silenceRequested, this, &CloseUp::silenceRequested);
    connect(&Theme::current(), &Theme::changed, row_, &QListWidget::doItemsLayout);
    connect(row_, &QListWidget::itemActivated, this, [this](QListWidgetItem* item) {
        if (there_->isHidden()) Q_EMIT columnChosen(row_->row(item));
    });
    connect(row_, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) {
        if (there_->isHidden()) Q_EMIT columnChosen(row_->row(item));
    });
    show(nullptr, -1, -1, sql::Dialect::Ansi);
}

void CloseUp::makeLayout() {
    auto* top = new QHBoxLayout;
    top->setContentsMargins(14, 9, 12, 8);
    top->addWidget(makeLabel(tr("Close-up"), "heading"));
    top->addStretch();
    top->addWidget(place_);
    auto* valueBox = new QVBoxLayout;
    valueBox->setContentsMargins(14, 8, 12, 10);
    valueBox->setSpacing(4);
    valueBox->addWidget(columnName_);
    valueBox->addWidget(facts_);
    valueBox->addWidget(server_);
    valueBox->addWidget(picture_);
    valueBox->addWidget(find_);
    valueBox->addWidget(value_);
    valueBox->addWidget(tree_);
    links_->setObjectName(QLatin1String(resultName::kFollowList));
    auto* linkBox = new QVBoxLayout(links_);
    linkBox->setContentsMargins(10, 4, 8, 6);
    linkBox->setSpacing(1);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addLayout(top);
    layout->addWidget(makeFrame("rule"));
    layout->addWidget(finding_);
    layout->addWidget(there_);
    layout->addLayout(valueBox);
    layout->addWidget(makeFrame("rule"));
    layout->addWidget(row_, 1);
    layout->addWidget(links_);
    layout->addStretch(0);
}

/// Where a key led, in place of the row that one came from.
void CloseUp::makeThere() {
    there_->setObjectName(QStringLiteral("plainBox"));
    auto* back = makeButton(tr("‹ Back"), "link", "followBack", tr("Back to the row it began with"), this);
    auto* inSheet = makeButton(tr("In a sheet"), "link", "followInSheet", tr("Open these rows in a sheet"), this);
    auto* thereBox = new QVBoxLayout(there_);
    thereBox->setContentsMargins(14, 7, 12, 7);
    auto* ways = new QHBoxLayout;
    ways->addWidget(back);
    ways->addWidget(inSheet);
    ways->addStretch();
    thereText_->setWordWrap(true);
    thereBox->addLayout(ways);
    thereBox->addWidget(thereText_);
    connect(back, &QPushButton::clicked, this, &CloseUp::goBack);
    connect(inSheet, &QPushButton::clicked, this, [this] { Q_EMIT sheetWanted(thereLink_); });
}

void CloseUp::showFinding(const std::optional<FindingText>& finding) {
    finding_->setVisible(finding.has_value());
    if (finding) finding_->tell(*finding);
}

void CloseUp::show(GridModel* model, int row, int column, sql::Dialect dialect) {
    reading_.request();  // of another cell
    model_ = model;
    shownRow_ = row;
    shownColumn_ = column;
    dialect_ = dialect;
    const bool isThere =
        model != nullptr && model->source() != nullptr && row >= 0 && column >= 0 && row < model->rowCount();
    value_->setVisible(isThere);
    tree_->hide();
    find_->hide();
    there_->hide();
    links_->hide();
    server_->setVisible(!isThere);
    row_->setVisible(isThere);
    columnName_->setVisible(isThere);
    picture_->hide();
    if (!isThere) {
        place_->clear();
        columnName_->clear();
        facts_->setText(tr("Choose a cell, and its value stands here in full, with its row below."));
        return;
    }
    const auto& info = model->source()->result()->columns()[static_cast<std::size_t>(column)];
    place_->setText(tr("row %1").arg(row + 1));
    columnName_->setText(toQt(info.name));
    showValue(model->cell(row, column), info.type);
    showRow(row, column);
    showLinks(row, dialect);
}

/// Long values, pictures among them, are worked out elsewhere; the cell's bytes live as long as the result that is held
/// meanwhile.
void CloseUp::showValue(const data::Cell& cell, data::ColumnType type) {
    constexpr std::size_t kShort = 4096;
    struct Worked {
        ValueText value;
        ValueTree::Parts parts;
    };
    const auto work = [cell, type] {
        Worked worked{.value = valueText(cell, type), .parts = nullptr};
        if (worked.value.picture.isNull()) worked.parts = ValueTree::partsOf(worked.value.text);
        return worked;
    };
    const auto put = [this](const Worked& worked) { showText(worked.value, worked.parts); };
    const bool isQuick = cell.bytes.size() <= kShort && cell.kind != data::CellKind::Binary;
    if (isQuick) return put(work());
    facts_->setText(tr("reading…"));
    value_->clear();
    reading_.request();
    reading_ = base::Cancellation();
    const data::ResultSetPtr held = model_->source()->result();
    inBackground(
        this, [work, held] { return work(); },
        [put, held, reading = reading_, card = QPointer<ResultSource>(model_->source()), this](const Worked& worked) {
            if (!reading.isRequested() && card && model_ != nullptr && model_->source() == card) put(worked);
        });
}

/// What has parts is shown with them; what is long can be searched.
void CloseUp::showText(const ValueText& v, const ValueTree::Parts& parts) {
    constexpr qsizetype kWorthSearching = 400;
    facts_->setText(v.facts);
    picture_->setVisible(!v.picture.isNull());
    picture_->setPixmap(QPixmap::fromImage(v.picture));
    const bool isTree = parts != nullptr;
    tree_->show(parts);
    tree_->setVisible(isTree);
    constexpr qsizetype kLooked = 4096;  // a longer one shows what no font has as boxes
    value_->setPlainText(v.text.size() <= kLooked ? withMissingGlyphsNamed(v.text) : v.text);
    value_->setVisible(!isTree && !v.text.isEmpty());
    find_->setVisible(isTree || v.text.size() > kWorthSearching);
    fitValue(v.text);
    if (isTree) tree_->setFixedHeight(std::clamp(tree_->wantedHeight(), 60, std::max(150, height() / 2)));
}

void CloseUp::findInValue() {
    const QString text = find_->text();
    if (tree_->isVisible()) {
        tree_->find(text);
        return;
    }
    if (value_->find(text)) return;
    value_->moveCursor(QTextCursor::Start);  // round again
    value_->find(text);
}

/// As tall as its text, within reason: the row below wants room too.
void CloseUp::fitValue(const QString& text) {
    const QFontMetrics metrics(value_->font());
    int lines = 0;
    for (const QString& line : text.left(4000).split(QLatin1Char('\n'))) {
        lines += 1 + metrics.horizontalAdvance(line) / std::max(60, value_->width() - 30);
    }
    value_->setFixedHeight(std::clamp(lines * (metrics.height() + 2) + 24, 40, std::max(120, height() * 2 / 5)));
}

void CloseUp::showRow(int row, int column) {
    row_->clear();
    const auto& columns = model_->source()->result()->columns();
    const int shown = std::min<int>(static_cast<int>(columns.size()), kColumnsShown);
    for (int c = 0; c < shown; ++c) addFact(columns[static_cast<std::size_t>(c)], model_->cell(row, c));
    if (column < shown) row_->setCurrentRow(column);
}

void CloseUp::addFact(const data::Column& column, const data::Cell& cell) {
    auto* item = new QListWidgetItem(toQt(column.name), row_);
    item->setData(kTypeRole, toQt(column.typeName));
    item->setData(kValueRole, withMissingGlyphsNamed(toQt(exchange::displayText(cell, 120))));
    item->setData(kNullRole, cell.isNull());
}

/// Where the row's keys lead, and what leads to it.
void CloseUp::showLinks(int row, sql::Dialect dialect) {
    constexpr std::size_t kMaxLinks = 9;
    clearLayout(links_->layout());
    auto links = followLinks(*model_, row, dialect);
    links_->setVisible(!links.empty());
    if (links.size() > kMaxLinks) links.resize(kMaxLinks);
    for (const FollowLink& link : links) {
        const QString text = (link.isOutward ? QStringLiteral("→ ") : QStringLiteral("← ")) + link.text;
        auto* button = makeButton(QFontMetrics(font()).elidedText(text, Qt::ElideRight, width() - 30), "link",
                                  "followLink", tr("Follow: %1").arg(link.text), links_);
        button->setToolTip(toQt(link.query));
        connect(button, &QPushButton::clicked, this, [this, link] { Q_EMIT followWanted(link); });
        links_->layout()->addWidget(button);
    }
}

void CloseUp::showThere(const FollowLink& link, const Result<data::ResultSetPtr>& rows) {
    thereLink_ = link;
    there_->show();
    for (QWidget* part : {static_cast<QWidget*>(value_), static_cast<QWidget*>(tree_), static_cast<QWidget*>(find_),
                          static_cast<QWidget*>(picture_), static_cast<QWidget*>(columnName_), links_}) {
        part->hide();
    }
    row_->clear();
    place_->clear();
    thereText_->setText(link.text);
    if (!rows) return facts_->setText(toQt(rows.error()));
    const std::size_t count = *rows ? (*rows)->rowCount() : 0;
    facts_->setText(count == 0   ? tr("There is no such row.")
                    : count == 1 ? QString()
                                 : tr("The first of %1 or more.").arg(count));
    for (std::size_t c = 0; count > 0 && c < (*rows)->columns().size(); ++c) {
        addFact((*rows)->columns()[c], (*rows)->cell(0, c));
    }
}

void CloseUp::goBack() { show(model_, shownRow_, shownColumn_, dialect_); }

void CloseUp::setPlace(const QString& facts) { server_->setText(facts); }

QWidget* CloseUp::stop() const { return row_->isVisible() && row_->count() > 0 ? row_ : nullptr; }

void CloseUp::setTextSize(int points) {
    value_->setStyleSheet(QStringLiteral("QPlainTextEdit { font-family: Hack; font-size: %1pt; }").arg(points));
}

}  // namespace pantry::app

#include "moc_close_up.cpp"
