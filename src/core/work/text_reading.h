#pragma once

#include <cstddef>
#include <memory>
#include <optional>
#include <string_view>
#include <utility>
#include <vector>

#include "core/base/shared_text.h"
#include "core/exchange/json_outline.h"
#include "core/sql/check/findings.h"
#include "core/sql/syntax/script.h"

namespace pantry::work {

/// What was found in one version of a text.
///
/// Threads: nobody changes it once it is told, so that any thread may read it.
class TextReading {
public:
    /// Nothing in an empty text.
    explicit TextReading(const sql::Language& language) : script_(language) {}
    /// Reads a text. What `before` found in statements that are still there is taken over; it may be null.
    /// Cost: grows with the text, and with what was changed in it since.
    static TextReading of(const base::SharedText& text, const sql::Language& language, const TextReading* before);

    /// A text beyond this, or with a longer statement, is not read: each key would cost as much as the whole.
    static constexpr std::size_t kMaxBytes = 1 << 20;
    static constexpr std::size_t kLongestStatement = 128 << 10;

    [[nodiscard]] const base::SharedText& text() const { return text_; }
    [[nodiscard]] const sql::Language& language() const { return script_.language(); }
    /// The text as statements; none when it is too large.
    [[nodiscard]] const sql::Script& script() const { return script_; }
    [[nodiscard]] bool isTooLarge() const { return isTooLarge_; }
    /// Of a text that means to be JSON.
    [[nodiscard]] const std::optional<exchange::JsonOutline>& json() const { return json_; }
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
    std::vector<sql::Finding> findings_;
    std::vector<std::pair<std::size_t, std::size_t>> byHash_;  // hash of a statement and its index, in order
    bool isTooLarge_ = false;
};

using TextReadingPtr = std::shared_ptr<const TextReading>;

}  // namespace pantry::work
