#include "app/closeup/value_tree.h"

#include <QApplication>
#include <QClipboard>
#include <QHeaderView>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QKeyEvent>
#include <QXmlStreamReader>

#include "app/base/widgets.h"

namespace pantry::app {
namespace {

constexpr int kOpenDepth = 2;
constexpr int kMostParts = 20'000;  // a tree of more would take seconds to make

/// Puts values into a tree, up to so many.
class TreeFiller {
public:
    explicit TreeFiller(QTreeWidgetItem* root) : root_(root) {}

    void add(const QString& name, const QJsonValue& value) { add(root_, name, value); }
    [[nodiscard]] bool isFull() const { return count_ >= kMostParts; }

private:
    void add(QTreeWidgetItem* parent, const QString& name, const QJsonValue& value) {
        if (++count_ > kMostParts) return;
        auto* item = new QTreeWidgetItem(parent, {name, shown(value)});
        if (value.isObject()) {
            const QJsonObject object = value.toObject();
            for (auto member = object.begin(); member != object.end(); ++member) add(item, member.key(), *member);
        } else if (value.isArray()) {
            int index = 0;
            for (const QJsonValue& element : value.toArray()) add(item, QString::number(index++), element);
        }
    }
    static QString shown(const QJsonValue& value) {
        switch (value.type()) {
            case QJsonValue::Object: return QObject::tr("%n members", nullptr, int(value.toObject().size()));
            case QJsonValue::Array: return QObject::tr("%n elements", nullptr, int(value.toArray().size()));
            case QJsonValue::String: return value.toString();
            case QJsonValue::Null: return QStringLiteral("null");
            default: return value.toVariant().toString();
        }
    }

    QTreeWidgetItem* root_;
    int count_ = 0;
};

}  // namespace

ValueTree::ValueTree(QWidget* parent) : QTreeWidget(parent) {
    name(this, "closeUpTree", tr("The value's parts"));
    setColumnCount(2);
    setHeaderHidden(true);
    setIndentation(12);
    setProperty("look", "code");
    setUniformRowHeights(true);
    header()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
}

bool ValueTree::show(const QString& text) {
    clear();
    found_.clear();
    at_ = -1;
    const QString trimmed = text.trimmed();
    const bool isJson = trimmed.startsWith(QLatin1Char('{')) || trimmed.startsWith(QLatin1Char('['));
    const bool isShown = isJson ? showJson(trimmed.toUtf8()) : trimmed.startsWith(QLatin1Char('<')) && showXml(trimmed);
    if (isShown) expandToDepth(kOpenDepth);
    return isShown;
}

bool ValueTree::showJson(const QByteArray& text) {
    const auto document = QJsonDocument::fromJson(text);
    if (document.isNull()) return false;
    TreeFiller filler(invisibleRootItem());
    if (document.isArray()) {
        int index = 0;
        for (const QJsonValue& element : document.array()) filler.add(QString::number(index++), element);
    } else {
        const QJsonObject object = document.object();
        for (auto member = object.begin(); member != object.end(); ++member) filler.add(member.key(), *member);
    }
    return topLevelItemCount() > 0 && !filler.isFull();
}

bool ValueTree::showXml(const QString& text) {
    QXmlStreamReader xml(text);
    QTreeWidgetItem* current = invisibleRootItem();
    int count = 0;
    while (!xml.atEnd() && count < kMostParts) {
        switch (xml.readNext()) {
            case QXmlStreamReader::StartElement: {
                current = new QTreeWidgetItem(current, {xml.name().toString()});
                ++count;
                for (const QXmlStreamAttribute& attribute : xml.attributes()) {
                    new QTreeWidgetItem(
                        current, {QStringLiteral("@") + attribute.name().toString(), attribute.value().toString()});
                }
                break;
            }
            case QXmlStreamReader::EndElement:
                current = current->parent() ? current->parent() : invisibleRootItem();
                break;
            case QXmlStreamReader::Characters:
                if (!xml.isWhitespace()) current->setText(1, current->text(1) + xml.text().toString().trimmed());
                break;
            default: break;
        }
    }
    if (xml.hasError()) clear();
    return topLevelItemCount() > 0;
}

void ValueTree::keyPressEvent(QKeyEvent* event) {
    if (!event->matches(QKeySequence::Copy) || currentItem() == nullptr) return QTreeWidget::keyPressEvent(event);
    QApplication::clipboard()->setText(currentItem()->text(1));
}

int ValueTree::find(const QString& text) {
    auto hits = findItems(text, Qt::MatchContains | Qt::MatchRecursive, 1);
    hits += findItems(text, Qt::MatchContains | Qt::MatchRecursive, 0);
    if (hits.isEmpty() || text.isEmpty()) return 0;
    at_ = text == found_ ? (at_ + 1) % int(hits.size()) : 0;
    found_ = text;
    setCurrentItem(hits[at_]);
    scrollToItem(hits[at_]);
    return int(hits.size());
}

}  // namespace pantry::app
