#include "core/sql/define/script_order.h"

#include <algorithm>
#include <array>
#include <set>
#include <string>
#include <unordered_map>

#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

using catalog::ObjectKind;

int rankOf(ObjectKind kind) {
    constexpr auto kOrder = std::to_array<ObjectKind>(
        {ObjectKind::Extension, ObjectKind::Type, ObjectKind::Sequence, ObjectKind::Function, ObjectKind::Procedure,
         ObjectKind::Aggregate, ObjectKind::Table, ObjectKind::ForeignTable, ObjectKind::VirtualTable, ObjectKind::View,
         ObjectKind::MaterializedView, ObjectKind::Event});
    return static_cast<int>(std::ranges::find(kOrder, kind) - kOrder.begin());
}

class Ordering {
public:
    Ordering(const std::vector<ScriptObject>& objects, Dialect dialect) : dialect_(dialect) {
        for (const ScriptObject& one : objects) {
            if (!comesWithTable(one, objects)) all_.push_back(&one);
        }
        std::ranges::stable_sort(all_, {}, [](const ScriptObject* one) { return rankOf(one->name().kind); });
        for (std::size_t i = 0; i < all_.size(); ++i) {
            byName_[base::toLower(all_[i]->name().name)].push_back(i);
        }
        marks_.resize(all_.size(), Mark::New);
    }

    OrderedObjects order() {
        for (std::size_t i = 0; i < all_.size(); ++i) visit(i);
        out_.hasCircle = leadsForward();
        return std::move(out_);
    }

private:
    enum class Mark { New, Open, Done };

    /// “of plot.id”: the table's own statements make it.
    static bool comesWithTable(const ScriptObject& one, const std::vector<ScriptObject>& objects) {
        if (one.object == nullptr || one.object->kind != ObjectKind::Sequence) return false;
        return std::ranges::any_of(objects, [&](const ScriptObject& other) {
            return other.relation != nullptr && other.relation->schema == one.object->schema &&
                   one.object->detail.starts_with("of " + other.relation->name + ".");
        });
    }

    /// Whether a foreign key leads to a table that comes later.
    [[nodiscard]] bool leadsForward() const {
        std::set<std::size_t> made;
        for (const ScriptObject* one : out_.objects) {
            const auto place = static_cast<std::size_t>(std::ranges::find(all_, one) - all_.begin());
            made.insert(place);
            for (const std::size_t target : targetsOf(place)) {
                if (!made.contains(target)) return true;
            }
        }
        return false;
    }

    /// The tables of the list that a table's foreign keys lead to.
    [[nodiscard]] std::vector<std::size_t> targetsOf(std::size_t i) const {
        std::vector<std::size_t> targets;
        const catalog::Relation* relation = all_[i]->relation;
        if (relation == nullptr) return targets;
        for (const catalog::ForeignKey& key : relation->foreignKeys) {
            const std::string schema = key.schema.empty() ? relation->schema : key.schema;
            for (const std::size_t other : named(key.relation)) {
                const bool isIt = other != i && all_[other]->relation != nullptr &&
                                  base::equalsIgnoringCase(all_[other]->relation->schema, schema);
                if (isIt) targets.push_back(other);
            }
        }
        return targets;
    }

    void visit(std::size_t i) {
        if (marks_[i] != Mark::New) return;
        marks_[i] = Mark::Open;
        for (const std::size_t other : targetsOf(i)) visit(other);
        if (all_[i]->definition) visitNamed(i, all_[i]->definition->text);
        marks_[i] = Mark::Done;
        out_.objects.push_back(all_[i]);
    }

    void visitNamed(std::size_t i, std::string_view text) {
        for (const Token& token : lex(text, dialect_)) {
            if (token.kind != TokenKind::Word && token.kind != TokenKind::QuotedName) continue;
            for (const std::size_t other : named(unquotedName(token.textIn(text)))) {
                if (other != i) visit(other);
            }
        }
    }

    [[nodiscard]] std::vector<std::size_t> named(const std::string& name) const {
        const auto found = byName_.find(base::toLower(name));
        return found == byName_.end() ? std::vector<std::size_t>() : found->second;
    }

    Dialect dialect_;
    std::vector<const ScriptObject*> all_;
    std::unordered_map<std::string, std::vector<std::size_t>> byName_;
    std::vector<Mark> marks_;
    OrderedObjects out_;
};

}  // namespace

OrderedObjects inOrder(const std::vector<ScriptObject>& objects, Dialect dialect) {
    return Ordering(objects, dialect).order();
}

}  // namespace pantry::sql
