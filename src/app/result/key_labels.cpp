#include "app/result/key_labels.h"

#include <set>

#include "app/base/text.h"
#include "core/base/text.h"
#include "core/db/follow_keys.h"

namespace pantry::app {
namespace {

constexpr int kRowsLookedAt = 2000;
constexpr std::size_t kMostKeys = 500;
constexpr int kMostColumns = 12;  // with keys; each costs a query

}  // namespace

KeyLabels::KeyLabels(Desk& desk, GridModel* model, ResultLook* look, QObject* parent)
    : QObject(parent), desk_(desk), model_(model), look_(look) {}

void KeyLabels::read(const QString& connectionId, const std::string& database) {
    int asked = 0;
    for (int column = 0; column < model_->columnCount() && asked < kMostColumns; ++column) {
        if (look_->facts().of(column).target == nullptr) continue;
        if (look_->choiceOf(column).labelColumn == "-") {
            look_->setLabels(column, {});
            continue;
        }
        readColumn(column, connectionId, database);
        ++asked;
    }
}

void KeyLabels::readColumn(int column, const QString& connectionId, const std::string& database) {
    const ColumnFacts::Fact& fact = look_->facts().of(column);
    const std::string chosen = look_->choiceOf(column).labelColumn;
    const std::string label = chosen.empty() ? db::labelColumnOf(*fact.target) : chosen;
    if (label.empty() || fact.key->referencedColumns.empty()) return;
    std::set<std::string> keys;
    for (int row = 0; row < std::min(model_->rowCount(), kRowsLookedAt) && keys.size() < kMostKeys; ++row) {
        const data::Cell cell = model_->cell(row, column);
        if (!cell.isNull()) keys.insert(data::toText(cell));
    }
    const db::ConnectionProfile* p = nullptr;
    for (const auto& known : desk_.profiles()) {
        if (toQt(known.id) == connectionId) p = &known;
    }
    if (keys.empty() || p == nullptr) return;
    const std::string query = db::labelQuery(*fact.target, fact.key->referencedColumns[0], label,
                                             {keys.begin(), keys.end()}, db::dialectOf(p->engine));
    desk_.readRows(connectionId, database, query, kMostKeys, this,
                   [this, column, result = QPointer<Card>(model_->card())](const Result<data::ResultSetPtr>& rows) {
                       if (!rows || !*rows || model_->card() != result) return;
                       QHash<QByteArray, QString> labels;
                       for (std::size_t i = 0; i < (*rows)->rowCount(); ++i) {
                           labels.insert(QByteArray::fromStdString(data::toText((*rows)->cell(i, 0))),
                                         toQt(base::oneLine(data::toText((*rows)->cell(i, 1)), 60)));
                       }
                       look_->setLabels(column, std::move(labels));
                   });
}

}  // namespace pantry::app
