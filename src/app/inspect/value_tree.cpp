#include "app/inspect/value_tree.h"

#include <QApplication>
#include <QClipboard>
#include <QHeaderView>
#include <QKeyEvent>
#include <QXmlStreamReader>
#include <algorithm>
#include <utility>

#include "app/base/text.h"
#include "app/look/widgets.h"
#include "core/base/text.h"
#include "core/exchange/json_outline.h"
#include "core/exchange/json_text.h"

namespace pantry::app {
namespace {

constexpr int kOpenDepth = 2;
constexpr int kMaxParts = 20'000;  // a tree of more would take seconds to make

/// Puts a JSON text into a tree, piece by piece: members in their order, numbers as they are written.
class TreeFiller {
public:
    explicit TreeFiller(QTreeWidgetItem* root) : open_{{root, false, 0}} {}

    /// False for what no tree can show: too many parts, or a second value.
    [[nodiscard]] bool take(exchange::JsonTokenKind kind, std::string_view piece) {
        switch (kind) {
            case exchange::JsonTokenKind::Name: key_ = toQt(exchange::textOfJsonString(piece)); return true;
            case exchange::JsonTokenKind::String: return value(toQt(exchange::textOfJsonString(piece)));
            case exchange::JsonTokenKind::Number:
            case exchange::JsonTokenKind::Word: return value(toQt(piece));
            case exchange::JsonTokenKind::Bracket:
                if (piece == "{" || piece == "[") return begin(piece == "[");
                end();
                return true;
            case exchange::JsonTokenKind::Separator: return true;
            case exchange::JsonTokenKind::Unknown: break;
        }
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
    [[nodiscard]] bool isFull() const { return count_ >= kMaxParts; }
    bool value(const QString& shown) {
        if (open_.size() == 1) return false;
        add(shown);
        return !isFull();
    }
    /// The outermost value is the tree itself.
    bool begin(bool isArray) {
        if (open_.size() == 1 && std::exchange(hasBegun_, true)) return false;
        QTreeWidgetItem* item = open_.size() == 1 ? open_.front().item : add({});
        open_.push_back({item, isArray, 0});
        return !isFull();
    }
    void end() {
        const Open closed = open_.back();
        open_.pop_back();
        if (open_.size() > 1) closed.item->setText(1, countOf(closed));
    }
    static QString countOf(const Open& closed) {
        return toQt(closed.isArray ? base::counted(closed.size, "element", "elements")
                                   : base::counted(closed.size, "member", "members"));
    }

    std::vector<Open> open_;
    QString key_;
    int count_ = 0;
    bool hasBegun_ = false;
};

bool readJson(const QByteArray& text, QTreeWidgetItem* root) {
    const std::string_view all(text.constData(), static_cast<std::size_t>(text.size()));
    const exchange::JsonOutline outline = exchange::outlineJson(all);
    TreeFiller filler(root);
    return !outline.problem && std::ranges::all_of(outline.tokens, [&](const exchange::JsonToken& token) {
        return filler.take(token.kind, all.substr(token.start, token.length));
    });
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
