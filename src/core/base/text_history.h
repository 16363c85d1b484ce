#pragma once

#include <cstddef>
#include <string>
#include <vector>

namespace pantry::base {

/// One change of a text: bytes at a place that others took the place of.
struct TextChange {
    std::size_t at = 0;
    std::string removed;
    std::string inserted;
    friend bool operator==(const TextChange&, const TextChange&) = default;
};

/// What is taken back, or done again, at once: changes in the order in which they were made.
using TextStep = std::vector<TextChange>;

/// Steps that can be taken back and done again, the last one at the end.
struct TextSteps {
    std::vector<TextStep> done;
    std::vector<TextStep> undone;
    friend bool operator==(const TextSteps&, const TextSteps&) = default;
};

/// What was changed in a text, step by step. It outlives what an editor component remembers, which holds only a part of
/// a large text and nothing from before a restart.
///
/// Cost:    a change of a letter is constant; the oldest steps go when all together hold more than kMaxBytes.
/// Threads: one at a time.
class TextHistory {
public:
    static constexpr std::size_t kMaxBytes = 160 << 20;  ///< a text of 64 MB, formatted, can be taken back
    static constexpr std::size_t kMaxSteps = 20'000;

    /// A change was made; unless it changes nothing, what was undone cannot be done again any more. `beginsStep`: else
    /// it belongs to the last one.
    void note(TextChange change, bool beginsStep);
    /// The last step was taken back, or done again, by somebody who remembers it too.
    void noteUndone();
    void noteRedone();

    [[nodiscard]] bool canUndo() const { return !steps_.done.empty(); }
    [[nodiscard]] bool canRedo() const { return !steps_.undone.empty(); }
    /// The changes that take the last step back, or do it again, in the order in which they are to be made; steps that
    /// changed nothing are passed over. Empty when there is none.
    [[nodiscard]] TextStep undo();
    [[nodiscard]] TextStep redo();

    void clear();
    /// The newest steps, together no larger than so many bytes.
    [[nodiscard]] TextSteps newest(std::size_t maxBytes, std::size_t maxSteps) const;
    void restore(TextSteps steps);

private:
    void keepWithin();

    TextSteps steps_;
    std::size_t bytes_ = 0;  // of the steps that are done
};

}  // namespace pantry::base
