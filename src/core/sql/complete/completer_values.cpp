#include <algorithm>

#include "core/base/text.h"
#include "core/sql/complete/completer.h"
#include "core/sql/complete/date_words.h"
#include "core/sql/complete/name_match.h"
#include "core/sql/text/lexer.h"
#include "core/sql/text/type_names.h"

namespace pantry::sql {

std::optional<Completer::Operand> Completer::operandBefore() const {
    const Token* sign = at_.back(0);
    const Token* name = at_.back(1);
    if (sign == nullptr || name == nullptr || sign->kind != TokenKind::Operator) return std::nullopt;
    if (name->kind != TokenKind::Word && name->kind != TokenKind::QuotedName) return std::nullopt;
    const bool isQualified = at_.back(2) != nullptr && at_.back(2)->kind == TokenKind::Dot && at_.back(3) != nullptr;
    return operandNamed(isQualified ? at_.back(3) : nullptr, *name);
}

std::optional<Completer::Operand> Completer::operandNamed(const Token* owner, const Token& name) const {
    const std::string qualifier = owner != nullptr ? unquotedName(owner->textIn(at_.statement())) : std::string();
    const std::string column = unquotedName(name.textIn(at_.statement()));
    for (const ScopeRelation& r : relations_) {
        if (owner != nullptr && !base::equalsIgnoringCase(r.alias, qualifier)) continue;
        for (const ScopeColumn& c : r.columns) {
            if (base::equalsIgnoringCase(c.name, column)) return Operand{&r, &c};
        }
    }
    return std::nullopt;
}

void Completer::offerParameters() {
    const bool isTyped = result_.prefix.starts_with(':');
    if (!isTyped && result_.prefix.empty()) return;
    const auto offerOne = [&](const std::string& text, const std::string& detail, int bonus) {
        offer(text, CompletionKind::Parameter, detail, bonus,
              isTyped ? std::string_view(text) : std::string_view(text).substr(1));
    };
    for (const std::string& one : parameters_) offerOne(one, "parameter", bonus::kParameter);
    const std::optional<Operand> other = isTyped ? comparedWith() : std::nullopt;
    if (other) offerOne(parameterFor(other->column->name), base::toLower(other->column->type), bonus::kParameter + 20);
}

std::optional<Completer::Operand> Completer::comparedWith() const {
    if (const auto inserted = insertedColumn()) return inserted;
    if (const auto other = operandBefore()) return other;
    std::size_t n = 0;
    const auto isWord = [&](std::size_t at, Keyword word) { return at_.back(at) != nullptr && at_.back(at)->is(word); };
    while (at_.back(n) != nullptr && isOfList(at_.back(n)->kind)) ++n;
    const bool isInList =
        at_.back(n) != nullptr && at_.back(n)->kind == TokenKind::OpenParen && isWord(n + 1, Keyword::In);
    if (isInList) {
        n += 2;
    } else if (isWord(0, Keyword::Like) || isWord(0, Keyword::Ilike) || isWord(0, Keyword::Between)) {
        n = 1;
    } else {
        return std::nullopt;
    }
    if (isWord(n, Keyword::Not)) ++n;
    const Token* name = at_.back(n);
    if (name == nullptr || (name->kind != TokenKind::Word && name->kind != TokenKind::QuotedName)) return std::nullopt;
    const bool isQualified = at_.back(n + 1) != nullptr && at_.back(n + 1)->kind == TokenKind::Dot;
    return operandNamed(isQualified ? at_.back(n + 2) : nullptr, *name);
}

bool Completer::isOfList(TokenKind kind) {
    return kind == TokenKind::Comma || kind == TokenKind::String || kind == TokenKind::Number;
}

void Completer::noteValues() {
    if (at_.isAfterDot() || at_.place() != Place::Expression) return;
    const std::optional<Operand> other = comparedWith();
    if (!other || other->column->origin == nullptr) return;
    const catalog::Relation& origin = *other->column->origin;
    result_.valuesOf = ValuesWanted{origin.schema, origin.name, other->column->originColumn, other->column->type};
}

void Completer::offerDates() {
    if (at_.isAfterDot() || at_.place() != Place::Expression) return;
    const std::optional<Operand> other = comparedWith();
    if (!other || !isDateType(other->column->type)) return;
    // With nothing typed the sign before the caret says most: a moment is what a date is compared with.
    hasDates_ = result_.prefix.empty() && operandBefore().has_value();
    int bonus = hasDates_ ? bonus::kDateAfterSign : bonus::kDate;
    for (const DateWord& one : dateWordsOf(dialect_)) {
        const bool byText = nameMatch(result_.prefix, one.text).has_value();
        offer(std::string(one.text), CompletionKind::Function, std::string(one.meaning), bonus,
              byText ? one.text : one.meaning);
        bonus -= 2;
    }
}

int Completer::worthBeside(const Operand& other, const ScopeRelation& relation, const ScopeColumn& column) const {
    constexpr int kSameType = 20;
    const int kItself = clause_ == NodeKind::SetClause ? 60 : -150;  // price = price * 1.1
    if (other.relation->node == relation.node && &column == other.column) return kItself;
    const bool isEnd = isKeyBetween(*other.relation, other.column->name, relation, column.name) ||
                       isKeyBetween(relation, column.name, *other.relation, other.column->name);
    if (isEnd) return bonus::kOtherSide - bonus::kColumn;
    return base::equalsIgnoringCase(other.column->type, column.type) ? kSameType : 0;
}

std::optional<Completer::Operand> Completer::operandBeforeQualified() const {
    const Token* sign = at_.back(2);
    const Token* name = at_.back(3);
    if (sign == nullptr || name == nullptr || sign->kind != TokenKind::Operator) return std::nullopt;
    const bool isQualified = at_.back(4) != nullptr && at_.back(4)->kind == TokenKind::Dot && at_.back(5) != nullptr;
    return operandNamed(isQualified ? at_.back(5) : nullptr, *name);
}

void offerValues(Completion& completion, const std::vector<KnownValue>& values, const Language& language) {
    if (!completion.valuesOf) return;
    const bool isNumber = isNumericType(completion.valuesOf->type);
    std::vector<CompletionItem> items;
    for (const KnownValue& value : values) {
        const bool fits = completion.prefix.empty() || nameMatch(completion.prefix, value.text) ||
                          (!value.label.empty() && nameMatch(completion.prefix, value.label));
        if (!fits) continue;
        items.push_back({.text = isNumber ? value.text : quotedString(value.text, language.dialect),
                         .kind = CompletionKind::Value,
                         .detail = value.label.empty() ? "value" : value.label});
    }
    if (items.empty()) return;
    completion.items.insert(completion.items.begin(), items.begin(), items.end());
    completion.opens = true;
}

}  // namespace pantry::sql
