#include "app/result/key_labels.h"

#include <set>

#include "app/base/background.h"
#include "app/base/text.h"
#include "core/base/text.h"
#include "core/sql/write/key_queries.h"

namespace pantry::app {
namespace {

constexpr int kFirstRows = 2000;
constexpr int kDebounceMs = 120;
constexpr std::size_t kMaxKeys = 500;
constexpr int kMaxColumns = 12;  // with keys; each costs a query

}  // namespace

KeyLabels::KeyLabels(Desk& desk, GridModel* model, ResultLook* look, QObject* parent)
    : QObject(parent), desk_(desk), model_(model), look_(look) {
    restTimer_.setSingleShot(true);
    restTimer_.setInterval(kDebounceMs);
    connect(&restTimer_, &QTimer::timeout, this, [this] { readRows(firstShown_, lastShown_); });
}

void KeyLabels::read(const QString& connectionId, const std::string& database) {
    connectionId_ = connectionId;
    database_ = database;
    labels_.clear();
    asked_.clear();
    readRows(0, kFirstRows - 1);
}

void KeyLabels::noteShown(int firstRow, int lastRow) {
    firstShown_ = firstRow;
    lastShown_ = lastRow;
    restTimer_.start();
}

void KeyLabels::readRows(int firstRow, int lastRow) {
    int asked = 0;
    for (int column = 0; column < model_->columnCount() && asked < kMaxColumns; ++column) {
        if (look_->facts().of(column).target == nullptr) continue;
        if (look_->choiceOf(column).labelColumn == "-") {
            look_->setLabels(column, {});
            continue;
        }
        readColumn(column, firstRow, lastRow);
        ++asked;
    }
}

void KeyLabels::readColumn(int column, int firstRow, int lastRow) {
    const ColumnFacts::Fact& fact = look_->facts().of(column);
    const std::string chosen = look_->choiceOf(column).labelColumn;
    const std::string label = chosen.empty() ? sql::labelColumnOf(*fact.target) : chosen;
    if (label.empty() || fact.key->referencedColumns.empty()) return;
    std::set<std::string> keys;
    QSet<QByteArray>& asked = asked_[column];
    for (int row = firstRow; row <= std::min(model_->rowCount() - 1, lastRow) && keys.size() < kMaxKeys; ++row) {
        const data::Cell cell = model_->cell(row, column);
        if (cell.isNull()) continue;
        const std::string key = data::toText(cell);
        const QByteArray known = QByteArray::fromStdString(key);
        if (asked.contains(known)) continue;
        asked.insert(known);
        keys.insert(key);
    }
    const db::ConnectionProfile* p = desk_.connections().profile(fromQt(connectionId_));
    if (keys.empty() || p == nullptr) return;
    const std::string query =
        sql::labelQuery(*fact.target, fact.key->referencedColumns[0], label, {keys.begin(), keys.end()},
                        catalog::View(model_->look()->facts().catalog()), db::dialectOf(p->engine));
    desk_.catalogs().readRows(fromQt(connectionId_), database_, query, kMaxKeys,
                              whileThere(this, [this, column, result = QPointer<ResultSource>(model_->source())](
                                                   const Result<data::ResultSetPtr>& rows) {
                                  if (!rows || !*rows || model_->source() != result) return;
                                  QHash<QByteArray, QString>& labels = labels_[column];
                                  for (std::size_t i = 0; i < (*rows)->rowCount(); ++i) {
                                      labels.insert(QByteArray::fromStdString(data::toText((*rows)->cell(i, 0))),
                                                    toQt(base::oneLine(data::toText((*rows)->cell(i, 1)), 60)));
                                  }
                                  look_->setLabels(column, labels);
                              }));
}

}  // namespace pantry::app

#include "moc_key_labels.cpp"
