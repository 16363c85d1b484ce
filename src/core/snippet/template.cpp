#include "core/snippet/template.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "core/base/text.h"

namespace pantry::snippet {
namespace {

constexpr std::string_view kOpen = "«";
constexpr std::string_view kClose = "»";
constexpr std::array<std::string_view, 7> kKindWords{"text", "table", "view", "relation", "column", "schema", "type"};

Error notUnderstood(std::size_t at, std::string message, std::string hint = {}) {
    return {.kind = ErrorKind::InvalidInput, .message = std::move(message), .hint = std::move(hint), .byteOffset = at};
}

bool isNameLetter(char c) {
    const auto byte = static_cast<unsigned char>(c);
    return c == '_' || base::isAsciiDigit(c) || (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || byte >= 0x80;
}

/// Reads a template from its beginning to its end, or the body of a repeated part to its ».
class TemplateReader {
public:
    explicit TemplateReader(std::string_view text) : text_(text) {}

    Result<std::vector<Piece>> pieces(bool isBody) {
        std::vector<Piece> all;
        const auto addText = [&](std::string_view part) {
            if (all.empty() || all.back().kind != Piece::Kind::Text) all.push_back({});
            all.back().text += part;
        };
        while (at_ < text_.size()) {
            if (takes("««")) {
                addText(kOpen);
            } else if (next(kClose) && isBody) {
                return all;
            } else if (next(kOpen)) {
                auto piece = opened();
                if (!piece) return piece.error();
                all.push_back(std::move(*piece));
            } else {
                addText(text_.substr(at_++, 1));
            }
        }
        if (isBody) return notUnderstood(text_.size(), "The repeated part has no end.", "Close it with ».");
        return all;
    }

private:
    [[nodiscard]] bool next(std::string_view what) const { return text_.substr(at_).starts_with(what); }
    bool takes(std::string_view what) {
        if (!next(what)) return false;
        at_ += what.size();
        return true;
    }
    void skipBlanks() {
        while (at_ < text_.size() && text_[at_] == ' ') ++at_;
    }
    std::string word() {
        skipBlanks();
        const std::size_t start = at_;
        while (at_ < text_.size() && isNameLetter(text_[at_]) && !next(kClose) && !next(kOpen)) ++at_;
        return std::string(text_.substr(start, at_ - start));
    }

    /// What begins with «.
    Result<Piece> opened() {
        const std::size_t start = at_;
        at_ += kOpen.size();
        if (takes(kClose)) return Piece{.kind = Piece::Kind::End};
        Piece piece{.kind = Piece::Kind::Place, .name = word()};
        if (piece.name == "each" && !next(kClose) && !next("=")) return repeated(start);
        if (piece.name.empty()) {
            return notUnderstood(at_, "A place has a name behind its «.", "Write «« for the sign itself.");
        }
        skipBlanks();
        if (takes(":")) {
            if (Status status = kind(piece); !status) return status.error();
        }
        if (takes("=")) {
            piece.isFilled = true;
            const std::size_t end = text_.find(kClose, at_);
            if (end == std::string_view::npos)
                return notUnderstood(start, "This place has no end.", "Close it with ».");
            piece.text = text_.substr(at_, end - at_);
            at_ = end;
        }
        if (!takes(kClose)) {
            return notUnderstood(at_, fmt::format("“{}” is not understood here.", text_.substr(at_, 12)),
                                 "A place is «name», «name=text» or «name:table».");
        }
        return piece;
    }

    Status kind(Piece& piece) {
        const std::size_t start = at_;
        const std::string offered = word();
        const auto found = std::ranges::find(kKindWords, offered);
        if (found == kKindWords.end()) {
            return notUnderstood(start, fmt::format("No place offers “{}”.", offered),
                                 "It offers table, view, relation, schema, type or column of a place.");
        }
        piece.offers = static_cast<PlaceKind>(found - kKindWords.begin());
        if (piece.offers != PlaceKind::Column) return {};
        if (word() != "of")
            return notUnderstood(at_, "The columns of which place are meant?", "Write column of table.");
        piece.of = word();
        if (piece.of.empty())
            return notUnderstood(at_, "The columns of which place are meant?", "Write column of table.");
        return {};
    }

    Result<Piece> repeated(std::size_t start) {
        Piece piece{.kind = Piece::Kind::Repeat};
        if (word() != "column" || word() != "of") {
            return notUnderstood(start, "A repeated part begins with «each column of table:.");
        }
        piece.of = word();
        if (piece.of.empty()) return notUnderstood(at_, "The columns of which place are meant?");
        skipBlanks();
        if (takes("joined by")) {
            skipBlanks();
            const std::size_t open = at_;
            const std::size_t close = takes("\"") ? text_.find('"', at_) : std::string_view::npos;
            if (close == std::string_view::npos) {
                return notUnderstood(open, "What stands between is written in double quotes.",
                                     "Write joined by \", \".");
            }
            piece.between = text_.substr(at_, close - at_);
            for (std::size_t i = piece.between.find("\\n"); i != std::string::npos;
                 i = piece.between.find("\\n", i + 1)) {
                piece.between.replace(i, 2, "\n");
            }
            at_ = close + 1;
            skipBlanks();
        }
        if (!takes(":")) return notUnderstood(at_, "A colon stands before what is repeated.");
        takes(" ");
        auto body = pieces(true);
        if (!body) return body.error();
        takes(kClose);
        piece.body = std::move(*body);
        return piece;
    }

    std::string_view text_;
    std::size_t at_ = 0;
};

/// Writes a template out.
class TemplateWriter {
public:
    TemplateWriter(const std::map<std::string, std::string>& values, const ColumnsOf& columns, std::string_view indent)
        : values_(values), columns_(columns), indent_(indent) {}

    void write(const std::vector<Piece>& pieces, const ColumnOfTable* column) {
        for (const Piece& piece : pieces) {
            switch (piece.kind) {
                case Piece::Kind::Text: add(piece.text); break;
                case Piece::Kind::End: out.end = out.text.size(); break;
                case Piece::Kind::Place: writePlace(piece, column); break;
                case Piece::Kind::Repeat: repeat(piece); break;
            }
        }
    }

    /// What fills the places at first, wherever in the template that is said.
    void noteFirst(const std::vector<Piece>& pieces) {
        for (const Piece& piece : pieces) {
            if (piece.kind == Piece::Kind::Repeat) noteFirst(piece.body);
            if (piece.kind != Piece::Kind::Place) continue;
            if (piece.isFilled) first_.emplace(piece.name, piece.text);
            Piece& known = kinds_[piece.name];
            if (piece.offers != PlaceKind::Text) known = piece;
        }
    }

    Rendered out;

private:
    void add(std::string_view text) {
        for (const char c : text) {
            out.text += c;
            if (c == '\n') out.text += indent_;
        }
    }

    [[nodiscard]] std::optional<std::string> valueOf(const std::string& name) const {
        const auto given = values_.find(name);
        if (given != values_.end()) return given->second;
        const auto first = first_.find(name);
        return first == first_.end() ? std::nullopt : std::optional(first->second);
    }

    void writePlace(const Piece& piece, const ColumnOfTable* column) {
        if (column != nullptr && piece.name == "column") return add(column->name);
        if (column != nullptr && piece.name == "type") return add(column->type);
        const std::optional<std::string> value = valueOf(piece.name);
        const std::string text = value.value_or(fmt::format("{}{}{}", kOpen, piece.name, kClose));
        auto place = std::ranges::find(out.places, piece.name, &Place::name);
        if (place == out.places.end()) {
            const Piece& known = kinds_[piece.name];
            out.places.push_back({piece.name, known.offers, known.of, {}, value.has_value()});
            place = out.places.end() - 1;
        }
        place->ranges.push_back({out.text.size(), text.size()});
        out.text += text;
    }

    void repeat(const Piece& piece) {
        const std::optional<std::string> table = valueOf(piece.of);
        const std::vector<ColumnOfTable> all = table && columns_ ? columns_(*table) : std::vector<ColumnOfTable>();
        out.columns[piece.of] = all;
        if (all.empty()) return write(piece.body, nullptr);  // once, with what is to be known yet
        for (std::size_t i = 0; i < all.size(); ++i) {
            if (i > 0) add(piece.between);
            write(piece.body, &all[i]);
        }
    }

    const std::map<std::string, std::string>& values_;
    const ColumnsOf& columns_;
    std::string_view indent_;
    std::map<std::string, std::string> first_;
    std::map<std::string, Piece> kinds_;
};

}  // namespace

std::string_view kindWord(PlaceKind kind) { return kKindWords[static_cast<std::size_t>(kind)]; }

Result<Template> parseTemplate(std::string_view text) {
    auto pieces = TemplateReader(text).pieces(false);
    if (!pieces) return pieces.error();
    return Template{std::move(*pieces)};
}

Rendered render(const Template& from, const std::map<std::string, std::string>& values, const ColumnsOf& columns,
                std::string_view indent) {
    TemplateWriter writer(values, columns, indent);
    writer.noteFirst(from.pieces);
    writer.write(from.pieces, nullptr);
    return std::move(writer.out);
}

std::optional<std::string> unfilledPlace(std::string_view statement, const std::vector<sql::TextRange>& words) {
    for (const sql::TextRange& word : words) {
        const std::string_view text = statement.substr(word.start, word.length);
        const std::size_t open = text.find(kOpen);
        if (open == std::string_view::npos) continue;
        const std::size_t close = text.find(kClose, open);
        if (close != std::string_view::npos) return std::string(text.substr(open, close + kClose.size() - open));
    }
    return std::nullopt;
}

}  // namespace pantry::snippet
