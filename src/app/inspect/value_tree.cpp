#include "app/inspect/value_tree.h"

#include <QApplication>
#include <QClipboard>
#include <QHeaderView>
#include <QKeyEvent>
#include <QXmlStreamReader>
#include <nlohmann/json.hpp>

#include "app/base/text.h"
#include "app/look/widgets.h"

namespace pantry::app {
namespace {

constexpr int kOpenDepth = 2;
constexpr int kMaxParts = 20'000;  // a tree of more would take seconds to make

/// Puts a JSON text into a tree as it is read: members in their order, numbers as they are written.
class TreeFiller {
public:
    using json = nlohmann::json;

    explicit TreeFiller(QTreeWidgetItem* root) : open_{{root, false, 0}} {}

    [[nodiscard]] bool isFull() const { return count_ >= kMaxParts; }

    // What the parser calls.
    bool null() { return value(QStringLiteral("null")); }
    bool boolean(bool v) { return value(v ? QStringLiteral("true") : QStringLiteral("false")); }
    bool number_integer(json::number_integer_t v) { return value(QString::number(v)); }
    bool number_unsigned(json::number_unsigned_t v) { return value(QString::number(v)); }
    bool number_float(json::number_float_t /*v*/, const json::string_t& written) { return value(toQt(written)); }
    bool string(json::string_t& v) { return value(toQt(v)); }
    bool binary(json::binary_t& /*v*/) { return false; }
    bool start_object(std::size_t /*size*/) { return begin(false); }
    bool start_array(std::size_t /*size*/) { return begin(true); }
    bool key(json::string_t& name) {
        key_ = toQt(name);
        return true;
    }
    bool end_object() { return end(QObject::tr("1 member"), QObject::tr("%1 members")); }
    bool end_array() { return end(QObject::tr("1 element"), QObject::tr("%1 elements")); }
    bool parse_error(std::size_t /*at*/, const std::string& /*token*/, const json::exception& /*error*/) {
        return false;
    }

private:
    struct Open {
        QTreeWidgetItem* item;
        bool isArray;
        int size;
    };
    QTreeWidgetItem* add(const QString& shown) {
        Open& holder = open_.back();
        const QString name = holder.isArray ? QString::number(holder.size) : key_;
        ++holder.size;
        ++count_;
        return new QTreeWidgetItem(holder.item, {name, shown});
    }
    bool value(const QString& shown) {
        if (open_.size() > 1) add(shown);
        return !isFull();
    }
    /// The outermost value is the tree itself.
    bool begin(bool isArray) {
        QTreeWidgetItem* item = open_.size() == 1 ? open_.front().item : add({});
        open_.push_back({item, isArray, 0});
        return !isFull();
    }
    bool end(const QString& one, const QString& several) {
        const Open closed = open_.back();
        open_.pop_back();
        if (open_.size() > 1) closed.item->setText(1, closed.size == 1 ? one : several.arg(closed.size));
        return true;
    }

    std::vector<Open> open_;
    QString key_;
    int count_ = 0;
};

bool readJson(const QByteArray& text, QTreeWidgetItem* root) {
    TreeFiller filler(root);
    return nlohmann::json::sax_parse(text.begin(), text.end(), &filler);
}

bool readXml(const QString& text, QTreeWidgetItem* root) {
    QXmlStreamReader xml(text);
    QTreeWidgetItem* current = root;
    int count = 0;
    while (!xml.atEnd() && count < kMaxParts) {
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
            case QXmlStreamReader::EndElement: current = current->parent() ? current->parent() : root; break;
            case QXmlStreamReader::Characters:
                if (!xml.isWhitespace()) current->setText(1, current->text(1) + xml.text().toString().trimmed());
                break;
            default: break;
        }
    }
    return !xml.hasError();
}

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

ValueTree::Parts ValueTree::partsOf(const QString& text) {
    const QString trimmed = text.trimmed();
    const bool isJson = trimmed.startsWith(QLatin1Char('{')) || trimmed.startsWith(QLatin1Char('['));
    if (!isJson && !trimmed.startsWith(QLatin1Char('<'))) return nullptr;
    auto root = std::make_shared<QTreeWidgetItem>();
    const bool isRead = isJson ? readJson(trimmed.toUtf8(), root.get()) : readXml(trimmed, root.get());
    return isRead && root->childCount() > 0 ? root : nullptr;
}

void ValueTree::show(const Parts& parts) {
    clear();
    found_.clear();
    at_ = -1;
    if (!parts) return;
    addTopLevelItems(parts->takeChildren());
    expandToDepth(kOpenDepth);
}

void ValueTree::keyPressEvent(QKeyEvent* event) {
    if (!event->matches(QKeySequence::Copy) || currentItem() == nullptr) return QTreeWidget::keyPressEvent(event);
    QApplication::clipboard()->setText(currentItem()->text(1));
}

int ValueTree::wantedHeight() const {
    int lines = 0;
    for (QTreeWidgetItemIterator at(const_cast<ValueTree*>(this)); *at != nullptr; ++at) {
        if ((*at)->parent() == nullptr || (*at)->parent()->isExpanded()) ++lines;
    }
    return lines * std::max(16, sizeHintForRow(0)) + 8;
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

#include "moc_value_tree.cpp"
