#include "app/pages/shelf/version_line.h"

#include <QApplication>
#include <QPainter>
#include <QStyledItemDelegate>
#include <algorithm>
#include <cmath>

#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/time.h"

namespace pantry::app {
namespace {

enum Role { WhenRole = Qt::UserRole, AuthorRole, ChosenRole, LinesRole };
constexpr int kMostLines = 3;  // of a message
constexpr int kLeft = 20;      // pixels to the middle of the line
constexpr int kText = 38;      // and to the words
constexpr int kLineHeight = 18;
constexpr int kTop = 6;

/// So much longer that a day between two versions can be seen, and a year does not fill the window.
int gapFor(base::Moment newer, base::Moment older) {
    const auto hours = std::chrono::duration<double, std::ratio<3600>>(newer - older).count();
    constexpr double kMax = 42;
    return static_cast<int>(std::min(kMax, 6 * std::log2(1 + std::max(0.0, hours))));
}

/// When, and what; perhaps by whom.
class MomentDelegate : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        const Theme& theme = Theme::current();
        painter->save();
        QFont textFont = option.font;
        textFont.setPixelSize(Theme::px(12));
        if (index.data(ChosenRole).toBool()) textFont.setWeight(QFont::DemiBold);
        painter->setFont(textFont);
        const int height = Theme::px(kLineHeight);
        QRect line(option.rect.left() + kText, option.rect.top() + kTop, option.rect.width() - kText - 8, height);
        const auto put = [&](const QString& text, const char* role) {
            painter->setPen(theme.colour(role));
            painter->drawText(line, Qt::AlignVCenter,
                              QFontMetrics(textFont).elidedText(text, Qt::ElideRight, line.width()));
            line.translate(0, height);
        };
        put(index.data(WhenRole).toString(), "ink");
        textFont.setWeight(QFont::Normal);
        painter->setFont(textFont);
        line.setHeight(height * index.data(LinesRole).toInt());
        painter->setPen(theme.colour("ink"));
        painter->drawText(line, Qt::AlignTop | Qt::TextWordWrap, index.data().toString());
        line = QRect(line.left(), line.bottom() + 1, line.width(), height);
        if (const QString author = index.data(AuthorRole).toString(); !author.isEmpty())
            put(tr("by %1").arg(author), "quiet");
        if (option.state.testFlag(QStyle::State_HasFocus)) {
            painter->setPen(theme.colour("juniper"));
            painter->setBrush(Qt::NoBrush);
            painter->drawRoundedRect(option.rect.adjusted(kText - 6, 2, -4, -2), 4, 4);
        }
        painter->restore();
    }
};

}  // namespace

VersionLine::VersionLine(QWidget* parent) : QListWidget(parent) {
    name(this, "versionLine", tr("Versions, the newest first"));
    setItemDelegate(new MomentDelegate(this));
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    connect(this, &QListWidget::currentRowChanged, this, &VersionLine::choose);
    connect(&Theme::current(), &Theme::changed, viewport(), qOverload<>(&QWidget::update));
}

void VersionLine::show(std::vector<shelf::Version> versions) {
    const QSignalBlocker quiet(this);
    versions_ = std::move(versions);
    clear();
    const std::string self = versions_.empty() ? "" : versions_.front().author;
    for (std::size_t i = 0; i < versions_.size(); ++i) {
        const shelf::Version& one = versions_[i];
        auto* item = new QListWidgetItem(toQt(one.message), this);
        item->setData(WhenRole, toQt(base::spoken(one.when, base::now())));
        // Whoever made the last version is mostly oneself.
        if (one.author != self) item->setData(AuthorRole, toQt(one.author));
        item->setToolTip(
            QStringLiteral("%1\n%2\n%3").arg(toQt(one.message), toQt(one.author), toQt(one.id.substr(0, 7))));
        const int messageLines = linesOf(item->text());
        item->setData(LinesRole, messageLines);
        const int lines = messageLines + (one.author != self ? 2 : 1);
        const int gap = i + 1 < versions_.size() ? gapFor(one.when, versions_[i + 1].when) : 0;
        item->setSizeHint({80, kTop * 2 + Theme::px(kLineHeight) * lines + gap});
    }
    newer_ = versions_.empty() ? -1 : 0;
    older_ = versions_.size() > 1 ? 1 : newer_;
    setCurrentRow(older_);
    for (int row = 0; row < count(); ++row) item(row)->setData(ChosenRole, row == newer_ || row == older_);
}

/// How many lines a message takes at the width of now.
int VersionLine::linesOf(const QString& message) const {
    QFont textFont = font();
    textFont.setPixelSize(Theme::px(12));
    const int width = std::max(80, viewport()->width() - kText - 8);
    const QFontMetrics metrics(textFont);
    const int height = metrics.boundingRect(QRect(0, 0, width, 1000), Qt::TextWordWrap, message).height();
    return std::clamp((height + metrics.lineSpacing() - 1) / metrics.lineSpacing(), 1, kMostLines);
}

/// A row is compared with the newest; with Ctrl it takes the place of the newer one.
void VersionLine::choose(int row) {
    if (row < 0) return;
    const bool isSecond = QApplication::keyboardModifiers().testFlag(Qt::ControlModifier);
    if (isSecond) {
        newer_ = row;
    } else {
        newer_ = 0;
        older_ = row;
    }
    if (older_ < newer_) std::swap(older_, newer_);
    for (int r = 0; r < count(); ++r) item(r)->setData(ChosenRole, r == newer_ || r == older_);
    viewport()->update();
    Q_EMIT chosen();
}

void VersionLine::paintEvent(QPaintEvent* event) {
    QListWidget::paintEvent(event);
    if (count() == 0) return;
    const Theme& theme = Theme::current();
    QPainter painter(viewport());
    painter.setRenderHint(QPainter::Antialiasing);
    const auto yOf = [&](int row) { return visualItemRect(item(row)).top() + kTop + Theme::px(kLineHeight) / 2; };
    painter.setPen(QPen(theme.colour("line"), 2));
    painter.drawLine(kLeft, yOf(0), kLeft, yOf(count() - 1));
    if (newer_ >= 0 && older_ > newer_) {
        painter.setPen(QPen(theme.colour("juniper"), 4));
        painter.drawLine(kLeft, yOf(newer_), kLeft, yOf(older_));
    }
    for (int row = 0; row < count(); ++row) {
        const bool isChosen = row == newer_ || row == older_;
        const bool isBetween = row > newer_ && row < older_;
        painter.setPen(isChosen ? QPen(theme.colour("juniper"), 3) : Qt::NoPen);
        painter.setBrush(theme.colour(isChosen ? "card" : isBetween ? "juniper" : "quiet"));
        const double radius = isChosen ? 6 : 4;
        painter.drawEllipse(QPointF(kLeft, yOf(row)), radius, radius);
    }
}

}  // namespace pantry::app

#include "moc_version_line.cpp"
