#pragma once

#include <cstddef>
#include <memory>
#include <optional>
#include <string_view>
#include <utility>
#include <vector>

#include "core/base/shared_text.h"
#include "core/exchange/json_outline.h"
#include "core/markdown/outline.h"
#include "core/sql/check/findings.h"
#include "core/sql/syntax/script.h"

namespace pantry::work {

/// What a text is by the name of its file. JSON is told by the text itself.
enum class TextKind { Sql, Markdown };
[[nodiscard]] TextKind textKindOf(std::string_view fileName);

/// The statements of a text, each byte where it is there: of Markdown what stands in its blocks of SQL, and blanks.
[[nodiscard]] std::string sqlIn(std::string text, TextKind kind);

/// What was found in one version of a text.
///
/// Threads: nobody changes it once it is told, so that any thread may read it.
class TextReading {
public:
    /// Nothing in an empty text.
    explicit TextReading(const sql::Language& language) : script_(language) {}
    /// Reads a text. What `before` found in statements that are still there is taken over; it may be null.
    /// Cost: grows with the text, and with what was changed in it since.
    static TextReading of(const base::SharedText& text, const sql::Language& language, const TextReading* before,
                          TextKind kind = TextKind::Sql);

    /// A text beyond this, or with a longer statement, is not read: each key would cost as much as the whole.
    static constexpr std::size_t kMaxBytes = 1 << 20;
    static constexpr std::size_t kLongestStatement = 128 << 10;

    [[nodiscard]] const base::SharedText& text() const { return text_; }
    [[nodiscard]] const sql::Language& language() const { return script_.language(); }
    /// The text as statements; none when it is too large.
    [[nodiscard]] const sql::Script& script() const { return script_; }
    [[nodiscard]] bool isTooLarge() const { return isTooLarge_; }
    [[nodiscard]] TextKind kind() const { return kind_; }
    /// Of a text that is Markdown; its script holds what stands in the blocks of SQL, and blanks.
    [[nodiscard]] const std::optional<markdown::Outline>& markdown() const { return markdown_; }
    /// Of a text that means to be JSON.
    [[nodiscard]] const std::optional<exchange::JsonOutline>& json() const { return json_; }
    /// Whether what is written at a byte is SQL: not in JSON, nor in the text around the blocks of Markdown.
    [[nodiscard]] bool isSqlAt(std::size_t offset) const;
    /// What is to be shown while somebody types, in order.
    [[nodiscard]] const std::vector<sql::Finding>& findings() const { return findings_; }

    /// The statements with just these bytes, in order.
    /// Cost: grows with how many there are, and with the logarithm of all.
    [[nodiscard]] std::vector<std::size_t> statementsLike(std::string_view statement) const;

private:
    [[nodiscard]] bool canRead(const std::string& whole, const TextReading* before);

    base::SharedText text_;
    sql::Script script_;
    std::optional<exchange::JsonOutline> json_;
    std::optional<markdown::Outline> markdown_;
    TextKind kind_ = TextKind::Sql;
    std::vector<sql::Finding> findings_;
    std::vector<std::pair<std::size_t, std::size_t>> byHash_;  // hash of a statement and its index, in order
    bool isTooLarge_ = false;
};

using TextReadingPtr = std::shared_ptr<const TextReading>;

}  // namespace pantry::work
