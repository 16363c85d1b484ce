#include "app/shelf/shelf_list.h"

#include <QMimeData>
#include <QPainter>
#include <algorithm>

#include "app/base/text.h"
#include "app/look/connection_colours.h"
#include "app/look/theme.h"
#include "core/base/text.h"
#include "core/shelf/shelf_names.h"

namespace pantry::app {
namespace {

constexpr const char* kMime = "application/x-agile-pantry-query";
constexpr int kRowHeight = 24;

store::QueryPlace folderOf(const work::ShelvedQuery& one) { return {one.place.shelf, one.item.folder()}; }

}  // namespace

QString spokenFolder(const store::QueryPlace& folder) {
    QStringList parts;
    if (!folder.shelf.empty()) parts << toQt(folder.shelf);
    for (const std::string_view part : base::splitAt(folder.path, '/')) {
        if (!part.empty()) parts << toQt(shelf::titleOfName(part));
    }
    return parts.join(QStringLiteral(" · "));
}

ShelfModel::ShelfModel(Desk& desk, QObject* parent) : QAbstractListModel(parent), desk_(desk) {}

QString ShelfModel::headingOf(const store::QueryPlace& folder) const {
    const QString spoken = spokenFolder(folder);
    return spoken.isEmpty() ? tr("In no folder") : spoken;
}

void ShelfModel::addHeading(const QString& name, std::size_t count, const store::QueryPlace& folder, bool isOfStarred) {
    rows_.push_back({std::nullopt, QStringLiteral("%1 · %2").arg(name).arg(count), folder, isOfStarred});
}

/// The queries come by shelf and folder.
void ShelfModel::show(std::vector<work::ShelvedQuery> queries, std::vector<snippet::Snippet> snippets) {
    beginResetModel();
    queries_ = std::move(queries);
    snippets_ = std::move(snippets);
    rows_.clear();
    const auto isStarred = [](const work::ShelvedQuery& one) { return one.isStarred; };
    const auto starred = static_cast<std::size_t>(std::ranges::count_if(queries_, isStarred));
    if (starred > 0) addHeading(tr("Starred"), starred, {}, true);
    for (std::size_t i = 0; i < queries_.size(); ++i) {
        if (queries_[i].isStarred) rows_.push_back({i, {}, folderOf(queries_[i]), true});
    }
    for (std::size_t first = 0; first < queries_.size();) {
        const store::QueryPlace folder = folderOf(queries_[first]);
        std::size_t end = first;
        while (end < queries_.size() && folderOf(queries_[end]) == folder) ++end;
        addHeading(headingOf(folder), end - first, folder, false);
        for (std::size_t i = first; i < end; ++i) rows_.push_back({i, {}, folder, false});
        first = end;
    }
    // They stand in no folder: nothing can be dropped among them.
    if (!snippets_.empty()) addHeading(tr("Snippets"), snippets_.size(), {}, true);
    for (std::size_t i = 0; i < snippets_.size(); ++i)
        rows_.push_back({.query = {}, .heading = {}, .folder = {}, .isOfStarred = true, .snippet = i});
    endResetModel();
}

const work::ShelvedQuery* ShelfModel::queryAt(const QModelIndex& index) const {
    if (!index.isValid() || index.row() >= static_cast<int>(rows_.size())) return nullptr;
    const auto& query = rows_[static_cast<std::size_t>(index.row())].query;
    return query ? &queries_[*query] : nullptr;
}

const snippet::Snippet* ShelfModel::snippetAt(const QModelIndex& index) const {
    if (!index.isValid() || index.row() >= static_cast<int>(rows_.size())) return nullptr;
    const auto& snippet = rows_[static_cast<std::size_t>(index.row())].snippet;
    return snippet ? &snippets_[*snippet] : nullptr;
}

QModelIndex ShelfModel::indexOf(const store::QueryPlace& place) const {
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        if (rows_[i].query && queries_[*rows_[i].query].place == place) return index(static_cast<int>(i));
    }
    return {};
}

QModelIndex ShelfModel::firstQuery() const {
    const auto found = std::ranges::find_if(rows_, [](const Row& row) { return row.query.has_value(); });
    return found == rows_.end() ? QModelIndex() : index(static_cast<int>(found - rows_.begin()));
}

std::optional<store::QueryPlace> ShelfModel::folderAt(const QModelIndex& index) const {
    if (!index.isValid()) return std::nullopt;
    const Row& row = rows_[static_cast<std::size_t>(index.row())];
    return row.isOfStarred ? std::nullopt : std::optional(row.folder);
}

int ShelfModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

QColor ShelfModel::colourOf(const work::ShelvedQuery& one) const {
    for (const db::ConnectionProfile& p : desk_.connections().profiles()) {
        if (p.name == one.item.head.connection) return Theme::current().connectionColour(signalColour(p));
    }
    return Theme::current().colour("line");
}

QVariant ShelfModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid()) return {};
    if (const snippet::Snippet* snippet = snippetAt(index)) {
        if (role == Qt::DisplayRole) return toQt(snippet->title);
        if (role == Qt::ToolTipRole) return toQt(snippet->text);
        if (role == MarkRole) return toQt(snippet->trigger);
        return role == ColourRole ? QVariant(QColor(Qt::transparent)) : QVariant();
    }
    const work::ShelvedQuery* one = queryAt(index);
    if (one == nullptr) {
        if (role == Qt::DisplayRole) return rows_[static_cast<std::size_t>(index.row())].heading;
        return role == IsHeadingRole ? QVariant(true) : QVariant();
    }
    switch (role) {
        case Qt::DisplayRole: return toQt(one->item.head.title);
        case Qt::ToolTipRole: {
            const QString note = toQt(one->item.head.note);
            return toQt(one->place.path) + (note.isEmpty() ? QString() : QStringLiteral("\n\n") + note);
        }
        case ColourRole: return colourOf(*one);
        case MarkRole:
            if (one->item.versioning == shelf::Versioning::Changed) return tr("changed");
            if (one->item.versioning == shelf::Versioning::New) return tr("no version");
            return one->item.isNotPushed ? tr("not pushed") : QString();
        case IsStarredRole: return one->isStarred;
        case IsNotebookRole: return one->item.isNotebook;
        default: return {};
    }
}

Qt::ItemFlags ShelfModel::flags(const QModelIndex& index) const {
    if (snippetAt(index) != nullptr) return Qt::ItemIsEnabled | Qt::ItemIsSelectable;
    if (queryAt(index) == nullptr) return Qt::ItemIsDropEnabled;
    return Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsDragEnabled | Qt::ItemIsDropEnabled;
}

QStringList ShelfModel::mimeTypes() const { return {QLatin1String(kMime)}; }

QMimeData* ShelfModel::mimeData(const QModelIndexList& indexes) const {
    const work::ShelvedQuery* one = indexes.isEmpty() ? nullptr : queryAt(indexes.front());
    if (one == nullptr) return nullptr;
    auto* data = new QMimeData;
    data->setData(QLatin1String(kMime), QByteArray::fromStdString(one->place.shelf + '\n' + one->place.path));
    return data;
}

/// Onto a folder's heading or onto something in it.
bool ShelfModel::dropMimeData(const QMimeData* data, Qt::DropAction, int row, int, const QModelIndex& parent) {
    const auto folder = folderAt(parent.isValid() ? parent : index(row));
    const QList<QByteArray> parts = data->data(QLatin1String(kMime)).split('\n');
    if (!folder || parts.size() != 2) return false;
    const store::QueryPlace query{parts[0].toStdString(), parts[1].toStdString()};
    if (folder->shelf != query.shelf || folder->path == shelf::folderOf(query.path)) return false;
    Q_EMIT moveRequested(query, toQt(folder->path));
    return true;
}

QSize ShelfDelegate::sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const {
    return {80, Theme::px(kRowHeight)};
}

void ShelfDelegate::paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const {
    const Theme& theme = Theme::current();
    painter->save();
    painter->setRenderHint(QPainter::Antialiasing);
    QFont textFont = option.font;
    textFont.setPixelSize(Theme::px(13));
    QFont small = textFont;
    small.setPixelSize(Theme::px(12));
    if (index.data(ShelfModel::IsHeadingRole).toBool()) {
        painter->setFont(small);
        painter->setPen(theme.colour("quiet"));
        const QRect area = option.rect.adjusted(14, 4, -10, 0);
        painter->drawText(area, Qt::AlignVCenter,
                          QFontMetrics(small).elidedText(index.data().toString(), Qt::ElideRight, area.width()));
        return painter->restore();
    }
    const QRect box = option.rect.adjusted(8, 1, -8, -1);
    if (option.state.testFlag(QStyle::State_Selected)) {
        painter->setPen(option.state.testFlag(QStyle::State_HasFocus) ? QPen(theme.colour("juniper")) : Qt::NoPen);
        painter->setBrush(theme.colour("selection"));
        painter->drawRoundedRect(box, 4, 4);
    }
    const QColor colour = index.data(ShelfModel::ColourRole).value<QColor>();
    if (!index.data(ShelfModel::IsNotebookRole).toBool()) {
        painter->fillRect(QRect(box.left() + 6, box.top() + 4, 4, box.height() - 8), colour);
    } else {  // a sheet of paper with lines
        painter->setPen(theme.colour("quiet"));
        painter->setBrush(Qt::NoBrush);
        const QRectF paper(box.left() + 4.5, box.top() + 4.5, 9, box.height() - 10);
        painter->drawRect(paper);
        for (const double y : {0.35, 0.65})
            painter->drawLine(QPointF(paper.left() + 2, paper.top() + y * paper.height()),
                              QPointF(paper.right() - 2, paper.top() + y * paper.height()));
    }
    QRect area = box.adjusted(18, 0, -8, 0);
    QString mark = index.data(ShelfModel::MarkRole).toString();
    if (index.data(ShelfModel::IsStarredRole).toBool())
        mark = mark.isEmpty() ? QStringLiteral("★") : QStringLiteral("★ ") + mark;
    painter->setFont(small);
    painter->setPen(theme.colour("quiet"));
    painter->drawText(area, Qt::AlignVCenter | Qt::AlignRight, mark);
    if (!mark.isEmpty()) area.setRight(area.right() - QFontMetrics(small).horizontalAdvance(mark) - 8);
    painter->setFont(textFont);
    painter->setPen(theme.colour("ink"));
    painter->drawText(area, Qt::AlignVCenter,
                      QFontMetrics(textFont).elidedText(index.data().toString(), Qt::ElideRight, area.width()));
    painter->restore();
}

}  // namespace pantry::app

#include "moc_shelf_list.cpp"
