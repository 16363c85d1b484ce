#include "app/look/tool_row.h"

#include <QResizeEvent>
#include <algorithm>
#include <set>

#include "app/base/object_names.h"
#include "app/look/widgets.h"

namespace pantry::app {
namespace {

constexpr int kAbove = 1;
constexpr int kGap = 3;
constexpr int kLeastText = 110;  // less says nothing

int widthOf(const QWidget* widget, const QSize& hint) {
    return std::clamp(hint.width(), widget->minimumWidth(), widget->maximumWidth());
}

}  // namespace

ToolRow::ToolRow(QWidget* parent, int side)
    : QFrame(parent),
      side_(side),
      more_(makeButton(tr("More ▾"), "plain", objectName::kMoreTools, tr("Tools that find no room in the row"), this)) {
    setProperty("row", "tools");
    auto* menu = new QMenu(more_);
    connect(menu, &QMenu::aboutToShow, this, [this, menu] {
        menu->clear();
        for (const Item& item : items_) {
            if (item.kind == Kind::Foldable && item.isWanted && item.isFolded) item.offer(menu);
        }
    });
    more_->setMenu(menu);
    more_->hide();
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void ToolRow::add(QWidget* widget) {
    widget->setParent(this);
    items_.push_back({.widget = widget});
}

void ToolRow::addElastic(ElidedLabel* label) {
    label->setParent(this);
    items_.push_back({.widget = label, .kind = Kind::Elastic});
}

void ToolRow::addField(QWidget* widget) {
    widget->setParent(this);
    items_.push_back({.widget = widget, .kind = Kind::Field});
}

void ToolRow::addStretch() { items_.push_back({.kind = Kind::Stretch}); }

void ToolRow::addFoldable(QWidget* widget, int rank, std::function<void(QMenu*)> offer) {
    widget->setParent(this);
    items_.push_back({.widget = widget, .kind = Kind::Foldable, .rank = rank, .offer = std::move(offer)});
}

void ToolRow::addGroup(const std::vector<QWidget*>& widgets, QWidget* standIn, int rank) {
    for (QWidget* widget : widgets) {
        widget->setParent(this);
        items_.push_back({.widget = widget, .kind = Kind::Member, .rank = rank});
    }
    standIn->setParent(this);
    items_.push_back({.widget = standIn, .kind = Kind::StandIn, .rank = rank});
}

void ToolRow::setWanted(QWidget* widget, bool isWanted) {
    const auto found = std::ranges::find(items_, widget, &Item::widget);
    if (found == items_.end() || found->isWanted == isWanted) return;
    found->isWanted = isWanted;
    tall_.reset();
    if (isVisible()) place();  // else when it is shown
}

bool ToolRow::isShown(const Item& item) const {
    if (!item.isWanted || item.kind == Kind::Stretch) return false;
    return item.kind == Kind::StandIn ? item.isFolded : !item.isFolded;
}

bool ToolRow::hasFolded() const {
    return std::ranges::any_of(
        items_, [](const Item& item) { return item.kind == Kind::Foldable && item.isWanted && item.isFolded; });
}

/// Asked once for each placing: a style sheet makes it dear.
void ToolRow::measure() {
    for (Item& item : items_) {
        if (item.widget == nullptr || !item.isWanted) continue;
        item.hint = item.widget->sizeHint();
        item.natural = widthOf(item.widget, item.hint);
    }
}

int ToolRow::leastOf(const Item& item) {
    if (item.kind == Kind::Field) return item.widget->minimumWidth();
    return item.kind == Kind::Elastic ? std::min(kLeastText, item.natural) : item.natural;
}

int ToolRow::widthNeeded() const {
    int width = 2 * side_;
    for (const Item& item : items_) {
        if (!isShown(item)) continue;
        width += kGap + leastOf(item);
    }
    return width + (hasFolded() ? kGap + widthOf(more_, more_->sizeHint()) : 0);
}

void ToolRow::place() {
    measure();
    std::set<int> ranks;
    for (Item& item : items_) {
        item.isFolded = false;
        if (item.rank > 0) ranks.insert(item.rank);
    }
    for (const int rank : ranks) {
        if (widthNeeded() <= width()) break;
        for (Item& item : items_) item.isFolded = item.isFolded || item.rank == rank;
    }
    if (widthNeeded() > width()) {
        for (Item& item : items_) item.isFolded = item.isFolded || item.kind == Kind::Elastic;
    }
    int rest = std::max(0, width() - widthNeeded());
    int x = side_;
    const int inner = height() - 2 * kAbove;
    // Fields take what they can before a text does.
    int forFields = 0;
    for (const Item& item : items_) {
        if (item.kind == Kind::Field && isShown(item)) forFields += item.natural - leastOf(item);
    }
    const int toFields = std::min(rest, forFields);
    rest -= toFields;
    const auto more = [&](const Item& item) {
        const int wish = item.natural - leastOf(item);
        if (item.kind == Kind::Field) return forFields > 0 ? toFields * wish / forFields : 0;
        return item.kind == Kind::Elastic ? std::min(rest, wish) : 0;
    };
    const auto put = [&](QWidget* widget, int width, const QSize& hint) {
        const int tall = std::min(inner, hint.height());
        widget->setGeometry(x, kAbove + (inner - tall) / 2, width, tall);
        widget->show();
        x += width + kGap;
    };
    for (const Item& item : items_) {
        if (item.kind == Kind::Stretch) {
            x += std::exchange(rest, 0);
        } else if (!isShown(item)) {
            item.widget->hide();
        } else {
            const int given = more(item);
            put(item.widget, leastOf(item) + given, item.hint);
            rest -= item.kind == Kind::Elastic ? given : 0;
        }
    }
    if (hasFolded()) {
        const QSize hint = more_->sizeHint();
        put(more_, widthOf(more_, hint), hint);
    } else {
        more_->hide();
    }
}

/// Layouts ask again and again while a page is put together; what is in the row gets no taller by another text.
QSize ToolRow::sizeHint() const {
    if (!tall_) {
        tall_ = 0;
        for (const Item& item : items_) {
            if (item.widget != nullptr) tall_ = std::max(*tall_, item.widget->sizeHint().height());
        }
    }
    return {2 * side_, *tall_ + 2 * kAbove};
}

QSize ToolRow::minimumSizeHint() const { return sizeHint(); }

void ToolRow::resizeEvent(QResizeEvent* event) {
    QFrame::resizeEvent(event);
    if (isVisible()) place();
}

bool ToolRow::event(QEvent* event) {
    const bool isDone = QFrame::event(event);
    const bool isOtherSize = event->type() == QEvent::LayoutRequest || event->type() == QEvent::StyleChange ||
                             event->type() == QEvent::Polish || event->type() == QEvent::FontChange;
    if (event->type() == QEvent::ChildAdded || event->type() == QEvent::ChildRemoved) tall_.reset();
    if (isOtherSize) {
        tall_.reset();
        updateGeometry();
        if (isVisible()) place();
    } else if (event->type() == QEvent::Show) {
        place();
    }
    return isDone;
}

}  // namespace pantry::app
