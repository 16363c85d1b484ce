#include "app/pages/guide/guide_page.h"

#include <QApplication>
#include <QFile>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QTextBlock>
#include <QTextBlockFormat>
#include <QTextCursor>
#include <QVBoxLayout>
#include <algorithm>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"

namespace pantry::app {
namespace {

constexpr int kTextWidth = 720;   // pixels at the usual size: lines that the eye finds back from
constexpr int kMargin = 22;       // pixels
constexpr int kLineHeight = 140;  // percent
constexpr int kRowHeight = 26;    // pixels
constexpr int kMostOfIt = 1000;   // of the room, up to the widest

/// Room between lines and paragraphs; lines of code stand together and are wrapped like others.
void giveRoom(QTextDocument& document) {
    for (QTextBlock block = document.begin(); block.isValid(); block = block.next()) {
        const auto isCode = [](const QTextBlock& one) {
            return one.isValid() && one.blockFormat().hasProperty(QTextFormat::BlockCodeFence);
        };
        QTextBlockFormat format;
        format.setLineHeight(kLineHeight, QTextBlockFormat::ProportionalHeight);
        format.setBottomMargin(isCode(block) && isCode(block.next()) ? 0 : Theme::px(8));
        format.setTopMargin(0);
        format.setNonBreakableLines(false);
        QTextCursor(block).mergeBlockFormat(format);
    }
}

}  // namespace

const std::vector<work::GuideTopic>& guide() {
    static const std::vector<work::GuideTopic> topics = [] {
        QFile file(QStringLiteral(":/guide.md"));
        if (!file.open(QIODevice::ReadOnly)) return std::vector<work::GuideTopic>();
        return work::guideTopics(file.readAll().toStdString());
    }();
    return topics;
}

QIcon GuidePage::icon() const { return colourDot(Theme::current().colour("juniper")); }

GuidePage::GuidePage(QWidget* parent)
    : Page(parent), find_(new QLineEdit(this)), list_(new QListWidget(this)), text_(new QTextBrowser(this)) {
    setObjectName(QLatin1String(objectName::kGuidePage));
    name(find_, objectName::kGuideFind, tr("Find words in the guide"));
    name(list_, objectName::kGuideTopics, tr("Topics of the guide"));
    name(text_, objectName::kGuideText, tr("The topic"));
    find_->setPlaceholderText(tr("Find in the guide"));
    find_->setClearButtonEnabled(true);
    find_->setProperty("look", "find");
    find_->installEventFilter(this);
    text_->setFrameShape(QFrame::NoFrame);
    text_->setOpenLinks(false);
    text_->setProperty("look", "onCard");
    auto* column = new QVBoxLayout;
    column->setSpacing(8);
    column->addWidget(makeLabel(tr("Guide"), "title"));
    column->addWidget(find_);
    column->addWidget(list_, 1);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(22, 18, 22, 18);
    layout->setSpacing(22);
    layout->addLayout(column);
    layout->addWidget(text_, kMostOfIt);
    layout->addStretch(1);
    Theme::fit(this, [this] {
        for (QWidget* one : std::initializer_list<QWidget*>{find_, list_}) one->setFixedWidth(Theme::px(290));
        text_->setMaximumWidth(Theme::px(kTextWidth));
        showRow(list_->currentRow());
    });
    connect(find_, &QLineEdit::textChanged, this, &GuidePage::fillList);
    connect(list_, &QListWidget::currentRowChanged, this, &GuidePage::showRow);
    fillList({});
    setFocusProxy(find_);
}

void GuidePage::showTopic(std::size_t index) {
    find_->clear();
    list_->setCurrentRow(static_cast<int>(index));
    list_->scrollToItem(list_->currentItem(), QAbstractItemView::PositionAtCenter);
}

/// Up and down go through the topics while words are typed.
bool GuidePage::eventFilter(QObject* object, QEvent* event) {
    constexpr int kPageRows = 10;
    const bool isKey = object == find_ && event->type() == QEvent::KeyPress;
    if (isKey && stepInList(list_, static_cast<QKeyEvent*>(event)->key(), kPageRows)) return true;
    return Page::eventFilter(object, event);
}

void GuidePage::fillList(const QString& words) {
    list_->clear();
    for (const std::size_t index : work::topicsAbout(fromQt(words), guide())) {
        const work::GuideTopic& topic = guide()[index];
        const bool isChapter = topic.isChapter();
        auto* item = new QListWidgetItem((isChapter ? QString() : QStringLiteral("    ")) + toQt(topic.title), list_);
        item->setData(Qt::UserRole, static_cast<qulonglong>(index));
        item->setToolTip(toQt(topic.chapter));
        QFont font = list_->font();
        font.setBold(isChapter);
        item->setFont(font);
        item->setSizeHint({0, Theme::px(kRowHeight)});
    }
    list_->setCurrentRow(0);
    if (list_->count() == 0) text_->setPlainText(tr("Nothing in the guide has all of these words."));
}

void GuidePage::showRow(int row) {
    const QListWidgetItem* item = list_->item(row);
    if (item == nullptr) return;
    const work::GuideTopic& topic = guide()[item->data(Qt::UserRole).toULongLong()];
    text_->document()->setDefaultFont(QApplication::font());
    text_->setMarkdown(toQt(topic.isChapter() ? topic.text : "#### " + topic.chapter + "\n\n" + topic.text));
    text_->document()->setDocumentMargin(Theme::px(kMargin));
    giveRoom(*text_->document());
}

}  // namespace pantry::app

#include "moc_guide_page.cpp"
