#include "core/sql/meaning/statement.h"

#include <mutex>
#include <optional>
#include <utility>

#include "core/sql/meaning/statement_title.h"
#include "core/sql/syntax/parser.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

/// A value that the first one who asks works out, while others wait.
template <class Value>
class Once {
public:
    template <class Work>
    const Value& get(Work work) {
        std::call_once(flag_, [&] { value_.emplace(work()); });
        return *value_;
    }

private:
    std::once_flag flag_;
    std::optional<Value> value_;
};

}  // namespace

struct Statement::Parts {
    Parts(std::string all, const Language& readAs) : text(std::move(all)), language(readAs) {}

    const std::string text;
    const Language language;
    Once<std::vector<Token>> tokens;
    Once<SyntaxTree> tree;
    Once<StatementRisk> risk;
    Once<PlainReading> reading;
    Once<std::string> title;
};

Statement::Statement() : Statement(std::string()) {}

Statement::Statement(std::string text, const Language& language)
    : parts_(std::make_shared<Parts>(std::move(text), language)) {}

const std::string& Statement::text() const { return parts_->text; }
const Language& Statement::language() const { return parts_->language; }

Statement Statement::readAs(const Language& language) const {
    return language == parts_->language ? *this : Statement(parts_->text, language);
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
