#include "core/sql/define/type_map.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <optional>
#include <utility>

#include "core/base/joined.h"
#include "core/base/text.h"
#include "core/sql/text/lexer.h"

namespace pantry::sql {
namespace {

/// What a type is for, whatever it is called.
enum class Family {
    Boolean,
    TinyInt,
    SmallInt,
    MediumInt,
    Integer,
    BigInt,
    Decimal,
    Money,
    Real,
    Double,
    Char,
    VarChar,
    Text,
    Binary,
    Date,
    Time,
    TimeWithZone,
    Timestamp,
    TimestampWithZone,
    Year,
    Interval,
    Json,
    Xml,
    Uuid,
    Network,
    Enumeration,
    Set,
    Bits,
    Array,
    Other,
};

/// A type's name taken apart: numeric(10,2) unsigned, text[].
struct Parts {
    std::string base;    // in small letters
    std::string inside;  // of its brackets
    bool isUnsigned = false;
    bool isArray = false;
};

Parts partsOf(std::string_view name) {
    Parts parts;
    std::string text(base::trimmed(name));
    if (text.ends_with("]")) {
        parts.isArray = true;
        text.resize(std::min(text.find('['), text.size()));
    }
    const std::size_t open = text.find('(');
    const std::size_t close = text.rfind(')');
    if (open != std::string::npos && close != std::string::npos && close > open) {
        parts.inside = text.substr(open + 1, close - open - 1);
        text.erase(open, close - open + 1);
    }
    const std::string lowered = base::toLower(text);
    for (const std::string_view word : base::splitAt(lowered, ' ')) {
        if (word.empty() || word == "zerofill" || word == "signed") continue;
        if (word == "unsigned") {
            parts.isUnsigned = true;
            continue;
        }
        parts.base += (parts.base.empty() ? "" : " ") + std::string(word);
    }
    return parts;
}

constexpr auto kFamilies = std::to_array<std::pair<std::string_view, Family>>({
    {"bool", Family::Boolean},
    {"boolean", Family::Boolean},
    {"tinyint", Family::TinyInt},
    {"smallint", Family::SmallInt},
    {"int2", Family::SmallInt},
    {"smallserial", Family::SmallInt},
    {"mediumint", Family::MediumInt},
    {"int", Family::Integer},
    {"integer", Family::Integer},
    {"int4", Family::Integer},
    {"serial", Family::Integer},
    {"bigint", Family::BigInt},
    {"int8", Family::BigInt},
    {"bigserial", Family::BigInt},
    {"decimal", Family::Decimal},
    {"numeric", Family::Decimal},
    {"dec", Family::Decimal},
    {"fixed", Family::Decimal},
    {"money", Family::Money},
    {"real", Family::Real},
    {"float4", Family::Real},
    {"float", Family::Double},
    {"float8", Family::Double},
    {"double", Family::Double},
    {"double precision", Family::Double},
    {"char", Family::Char},
    {"character", Family::Char},
    {"nchar", Family::Char},
    {"bpchar", Family::Char},
    {"varchar", Family::VarChar},
    {"character varying", Family::VarChar},
    {"nvarchar", Family::VarChar},
    {"varchar2", Family::VarChar},
    {"text", Family::Text},
    {"tinytext", Family::Text},
    {"mediumtext", Family::Text},
    {"longtext", Family::Text},
    {"clob", Family::Text},
    {"citext", Family::Text},
    {"name", Family::Text},
    {"bytea", Family::Binary},
    {"blob", Family::Binary},
    {"tinyblob", Family::Binary},
    {"mediumblob", Family::Binary},
    {"longblob", Family::Binary},
    {"binary", Family::Binary},
    {"varbinary", Family::Binary},
    {"date", Family::Date},
    {"time", Family::Time},
    {"time without time zone", Family::Time},
    {"time with time zone", Family::TimeWithZone},
    {"timetz", Family::TimeWithZone},
    {"datetime", Family::Timestamp},
    {"timestamp without time zone", Family::Timestamp},
    {"timestamp with time zone", Family::TimestampWithZone},
    {"timestamptz", Family::TimestampWithZone},
    {"year", Family::Year},
    {"interval", Family::Interval},
    {"json", Family::Json},
    {"jsonb", Family::Json},
    {"xml", Family::Xml},
    {"uuid", Family::Uuid},
    {"inet", Family::Network},
    {"cidr", Family::Network},
    {"macaddr", Family::Network},
    {"inet4", Family::Network},
    {"inet6", Family::Network},
    {"enum", Family::Enumeration},
    {"set", Family::Set},
    {"bit", Family::Bits},
    {"bit varying", Family::Bits},
});

Family familyOf(const Parts& parts, Dialect from, const TypePlace& place) {
    if (parts.isArray) return Family::Array;
    if (!place.labels.empty()) return Family::Enumeration;
    if (parts.base == "timestamp") {
        return from == Dialect::MySql ? Family::TimestampWithZone : Family::Timestamp;  // MariaDB's is a moment
    }
    if (parts.base == "tinyint" && parts.inside == "1" && from == Dialect::MySql) return Family::Boolean;
    if (parts.base == "float" && from == Dialect::MySql) return Family::Real;
    const auto found =
        std::ranges::find(kFamilies, std::string_view(parts.base), &decltype(kFamilies)::value_type::first);
    if (found != kFamilies.end()) return found->second;
    if (from == Dialect::Sqlite && parts.base.find("int") != std::string::npos) return Family::BigInt;
    return parts.base.empty() && from == Dialect::Sqlite ? Family::Text : Family::Other;
}

std::vector<std::string> labelsIn(const Parts& parts, const TypePlace& place, Dialect from) {
    if (!place.labels.empty()) return place.labels;
    std::vector<std::string> labels;
    for (const Token& token : lex(parts.inside, from)) {
        if (token.kind != TokenKind::String) continue;
        std::string_view text = token.textIn(parts.inside);
        if (text.size() < 2) continue;
        text = text.substr(1, text.size() - 2);
        std::string label;
        for (std::size_t i = 0; i < text.size(); ++i) {
            if (text[i] == '\'' && i + 1 < text.size() && text[i + 1] == '\'') continue;
            label += text[i];
        }
        labels.push_back(std::move(label));
    }
    return labels;
}

std::string withInside(std::string_view name, const std::string& inside) {
    return inside.empty() ? std::string(name) : fmt::format("{}({})", name, inside);
}

/// The widest that a type of that many characters can have as its length.
int lengthOf(const std::string& inside, int otherwise) {
    int length = 0;
    for (const char c : inside) {
        if (c < '0' || c > '9' || length > 100'000'000) break;
        length = length * 10 + (c - '0');
    }
    return length > 0 ? length : otherwise;
}

/// Seconds' fractions: MariaDB counts whole seconds unless told otherwise, the others microseconds.
std::string fractionFor(const std::string& inside, Dialect from, Dialect to) {
    if (to == Dialect::MySql) return inside.empty() ? (from == Dialect::MySql ? "" : "6") : inside;
    return inside;
}

constexpr std::string_view kLosesZone = "has no time zone there";

class Mapping {
public:
    Mapping(const Parts& parts, Dialect from, Dialect to, const TypePlace& place)
        : parts_(parts), from_(from), to_(to), place_(place) {}

    MappedType map(Family family) {
        switch (to_) {
            case Dialect::Postgres: return forPostgres(family);
            case Dialect::MySql: return forMySql(family);
            case Dialect::Sqlite: return forSqlite(family);
            case Dialect::Ansi: break;
        }
        return forStandard(family);
    }

private:
    [[nodiscard]] std::string wider(std::string_view plain, std::string_view forUnsigned) const {
        return std::string(parts_.isUnsigned ? forUnsigned : plain);
    }

    [[nodiscard]] std::string checkWords() const {
        std::vector<std::string> quoted;
        for (const std::string& label : labelsIn(parts_, place_, from_)) quoted.push_back(quotedString(label, to_));
        return fmt::format("its values were {}", base::joined(quoted, ", "));
    }

    [[nodiscard]] std::string labelsLength() const {
        std::size_t longest = 1;
        for (const std::string& label : labelsIn(parts_, place_, from_)) longest = std::max(longest, label.size());
        return std::to_string(longest);
    }

    [[nodiscard]] std::string unheard() const { return fmt::format("{} has no counterpart there", parts_.base); }

    MappedType forPostgres(Family family) const {
        switch (family) {
            case Family::Boolean: return {"boolean", {}};
            case Family::TinyInt:
            case Family::SmallInt: return {wider("smallint", "integer"), {}};
            case Family::MediumInt: return {"integer", {}};
            case Family::Integer: return {wider("integer", "bigint"), {}};
            case Family::BigInt: return {wider("bigint", "numeric(20)"), {}};
            case Family::Decimal: return {withInside("numeric", parts_.inside), {}};
            case Family::Money: return {"numeric(19,2)", {}};
            case Family::Real: return {"real", {}};
            case Family::Double: return {"double precision", {}};
            case Family::Char: return {withInside("character", parts_.inside), {}};
            case Family::VarChar: return {withInside("character varying", parts_.inside), {}};
            case Family::Text: return {"text", {}};
            case Family::Binary: return {"bytea", {}};
            case Family::Date: return {"date", {}};
            case Family::Time: return {withInside("time", parts_.inside), {}};
            case Family::TimeWithZone: return {withInside("time", parts_.inside) + " with time zone", {}};
            case Family::Timestamp: return {withInside("timestamp", parts_.inside), {}};
            case Family::TimestampWithZone: return {withInside("timestamp", parts_.inside) + " with time zone", {}};
            case Family::Year: return {"smallint", {}};
            case Family::Interval: return {"interval", {}};
            case Family::Json: return {"jsonb", {}};
            case Family::Xml: return {"xml", {}};
            case Family::Uuid: return {"uuid", {}};
            case Family::Network: return {"inet", {}};
            case Family::Enumeration: return {fmt::format("character varying({})", labelsLength()), checkWords()};
            case Family::Set: return {"text", checkWords() + ", several of them with commas"};
            case Family::Bits: return {withInside("bit varying", parts_.inside), {}};
            case Family::Array: return {parts_.base + "[]", {}};
            case Family::Other: break;
        }
        return {"text", unheard()};
    }

    MappedType forMySql(Family family) const {
        constexpr int kLongestVarChar = 16383;  // characters of four bytes in a row of 64 KB
        constexpr int kLongestInKey = 255;
        const std::string sign = parts_.isUnsigned ? " unsigned" : "";
        switch (family) {
            case Family::Boolean: return {"boolean", {}};
            case Family::TinyInt: return {"tinyint" + sign, {}};
            case Family::SmallInt: return {"smallint" + sign, {}};
            case Family::MediumInt: return {"mediumint" + sign, {}};
            case Family::Integer: return {"int" + sign, {}};
            case Family::BigInt: return {"bigint" + sign, {}};
            case Family::Decimal:
                if (!parts_.inside.empty()) return {withInside("decimal", parts_.inside), {}};
                if (from_ == Dialect::MySql) return {"decimal", {}};
                return {"decimal(38,10)", "numbers had any number of digits"};
            case Family::Money: return {"decimal(19,2)", {}};
            case Family::Real: return {"float", {}};
            case Family::Double: return {"double", {}};
            case Family::Char: {
                const int length = lengthOf(parts_.inside, 1);
                if (length <= kLongestInKey) return {fmt::format("char({})", length), {}};
                return {fmt::format("varchar({})", std::min(length, kLongestVarChar)), {}};
            }
            case Family::VarChar: {
                const int length = lengthOf(parts_.inside, 0);
                if (length > 0 && length <= kLongestVarChar) return {fmt::format("varchar({})", length), {}};
                return textForMySql();
            }
            case Family::Text: return textForMySql();
            case Family::Binary:
                if (place_.isInKey) return {"varbinary(255)", "a key needs a length there"};
                if (parts_.base == "binary" || parts_.base == "varbinary") {
                    return {withInside(parts_.base, parts_.inside), {}};
                }
                return {"longblob", {}};
            case Family::Date: return {"date", {}};
            case Family::Time: return {withInside("time", fractionFor(parts_.inside, from_, to_)), {}};
            case Family::TimeWithZone:
                return {withInside("time", fractionFor(parts_.inside, from_, to_)), std::string(kLosesZone)};
            case Family::Timestamp: return {withInside("datetime", fractionFor(parts_.inside, from_, to_)), {}};
            case Family::TimestampWithZone:
                return {withInside("datetime", fractionFor(parts_.inside, from_, to_)), std::string(kLosesZone)};
            case Family::Year: return {"year", {}};
            case Family::Interval: return {"varchar(64)", "spans of time are text there"};
            case Family::Json: return {"json", {}};
            case Family::Xml: return {"longtext", "XML is text there"};
            case Family::Uuid: return {"uuid", {}};
            case Family::Network:
                return {parts_.base == "inet" ? "inet6" : "varchar(43)",
                        parts_.base == "inet" ? "widths of networks are not kept" : "networks are text there"};
            case Family::Enumeration:
            case Family::Set: {
                std::vector<std::string> quoted;
                for (const std::string& one : labelsIn(parts_, place_, from_)) quoted.push_back(quotedString(one, to_));
                if (quoted.empty()) return textForMySql();
                return {fmt::format("{}({})", family == Family::Set ? "set" : "enum", base::joined(quoted, ", ")), {}};
            }
            case Family::Bits: return {withInside("bit", parts_.inside.empty() ? "64" : parts_.inside), {}};
            case Family::Array: return {"json", "arrays are JSON there"};
            case Family::Other: break;
        }
        MappedType text = textForMySql();
        text.remark = unheard();
        return text;
    }

    [[nodiscard]] MappedType textForMySql() const {
        if (place_.isInKey) return {"varchar(255)", "a key needs a length there"};
        return {"longtext", {}};
    }

    MappedType forSqlite(Family family) const {
        switch (family) {
            case Family::Boolean: return {"BOOLEAN", {}};
            case Family::TinyInt:
            case Family::SmallInt:
            case Family::MediumInt:
            case Family::Integer:
            case Family::BigInt:
            case Family::Year: return {"INTEGER", {}};
            case Family::Decimal: return {withInside("DECIMAL", parts_.inside), {}};
            case Family::Money: return {"DECIMAL(19,2)", {}};
            case Family::Real:
            case Family::Double: return {"REAL", {}};
            case Family::Char:
            case Family::VarChar: return {withInside("VARCHAR", parts_.inside), {}};
            case Family::Text:
            case Family::Xml:
            case Family::Uuid:
            case Family::Network: return {"TEXT", {}};
            case Family::Binary: return {"BLOB", {}};
            case Family::Date: return {"DATE", {}};
            case Family::Time:
            case Family::TimeWithZone: return {"TIME", {}};
            case Family::Timestamp:
            case Family::TimestampWithZone: return {"TIMESTAMP", {}};
            case Family::Interval: return {"TEXT", "spans of time are text there"};
            case Family::Json: return {"JSON", {}};
            case Family::Enumeration: return {"TEXT", checkWords()};
            case Family::Set: return {"TEXT", checkWords() + ", several of them with commas"};
            case Family::Bits: return {"TEXT", "bits are text there"};
            case Family::Array: return {"TEXT", "arrays are text there"};
            case Family::Other: break;
        }
        return {"TEXT", unheard()};
    }

    MappedType forStandard(Family family) const {
        switch (family) {
            case Family::Boolean: return {"BOOLEAN", {}};
            case Family::TinyInt:
            case Family::SmallInt:
            case Family::Year: return {"SMALLINT", {}};
            case Family::MediumInt:
            case Family::Integer: return {"INTEGER", {}};
            case Family::BigInt: return {"BIGINT", {}};
            case Family::Decimal: return {withInside("NUMERIC", parts_.inside), {}};
            case Family::Money: return {"NUMERIC(19,2)", {}};
            case Family::Real: return {"REAL", {}};
            case Family::Double: return {"DOUBLE PRECISION", {}};
            case Family::Char: return {withInside("CHAR", parts_.inside), {}};
            case Family::VarChar: return {withInside("VARCHAR", parts_.inside.empty() ? "255" : parts_.inside), {}};
            case Family::Binary: return {"BLOB", {}};
            case Family::Date: return {"DATE", {}};
            case Family::Time:
            case Family::TimeWithZone: return {"TIME", {}};
            case Family::Timestamp: return {"TIMESTAMP", {}};
            case Family::TimestampWithZone: return {"TIMESTAMP WITH TIME ZONE", {}};
            case Family::Text:
            case Family::Xml:
            case Family::Json:
            case Family::Uuid:
            case Family::Network: return {place_.isInKey ? "VARCHAR(255)" : "CLOB", {}};
            case Family::Enumeration: return {fmt::format("VARCHAR({})", labelsLength()), checkWords()};
            case Family::Set:
            case Family::Bits:
            case Family::Interval:
            case Family::Array:
            case Family::Other: break;
        }
        return {"CLOB", unheard()};
    }

    const Parts& parts_;
    Dialect from_;
    Dialect to_;
    const TypePlace& place_;
};

}  // namespace

MappedType typeIn(std::string_view typeName, Dialect from, Dialect to, const TypePlace& place) {
    if (from == to) return {std::string(typeName), {}};
    const Parts parts = partsOf(typeName);
    return Mapping(parts, from, to, place).map(familyOf(parts, from, place));
}

}  // namespace pantry::sql
