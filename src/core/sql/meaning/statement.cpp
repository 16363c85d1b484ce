#include "core/sql/meaning/statement.h"

#include <utility>

#include "core/base/once.h"
#include "core/sql/meaning/statement_title.h"
#include "core/sql/syntax/parser.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {

struct Statement::Parts {
    Parts(std::string all, const Language& readAs) : text(std::move(all)), language(readAs) {}

    const std::string text;
    const Language language;
    base::Once<std::vector<Token>> tokens;
    base::Once<SyntaxTree> tree;
    base::Once<StatementRisk> risk;
    base::Once<PlainReading> reading;
    base::Once<std::string> title;
};

Statement::Statement() : Statement(std::string()) {}

Statement::Statement(std::string text, const Language& language)
    : parts_(std::make_shared<Parts>(std::move(text), language)) {}

const std::string& Statement::text() const { return parts_->text; }
const Language& Statement::language() const { return parts_->language; }

Statement Statement::readAs(const Language& language) const {
    if (language == parts_->language) return *this;
    Statement other(parts_->text, language);
    other.values_ = values_;
    return other;
}

Statement Statement::with(ParameterValues values) const {
    Statement other(*this);
    other.values_ = std::make_shared<const ParameterValues>(std::move(values));
    return other;
}

const ParameterValues& Statement::parameters() const {
    static const ParameterValues kNone;
    return values_ ? *values_ : kNone;
}

const std::vector<Token>& Statement::tokens() const {
    return parts_->tokens.get([this] { return lex(text(), language()); });
}

const SyntaxTree& Statement::tree() const {
    return parts_->tree.get([this] { return parseFirst(text(), tokens(), language()); });
}

StatementKind Statement::kind() const { return kindOf(tokens()); }

const StatementRisk& Statement::risk() const {
    return parts_->risk.get([this] { return riskOf(*this); });
}

const PlainReading& Statement::reading() const {
    return parts_->reading.get([this] { return plainReadingOf(*this); });
}

const std::string& Statement::title() const {
    return parts_->title.get([this] { return titleOf(text(), language()); });
}

}  // namespace pantry::sql
