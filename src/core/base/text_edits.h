#pragma once

#include <algorithm>
#include <cstddef>
#include <vector>

#include "core/base/shared_text.h"

namespace pantry::base {

/// What was changed in a text since a version that somebody else knows, so that places found in that version can be
/// shown where they are now. Places are bytes.
///
/// Threads: one at a time.
/// Cost:    grows with the number of edits since that version, a handful while somebody types.
class TextEdits {
public:
    /// `after`: the text as it is once `inserted` bytes stand in place of `removed` ones.
    void note(std::size_t at, std::size_t removed, std::size_t inserted, const SharedText& after) {
        edits_.push_back({at, removed, inserted, after});
    }
    /// Nothing is known any more of versions before; such as when another text takes the place of all.
    void forget() { edits_.clear(); }

    /// Somebody knows a later version now. False when it is none of those since.
    bool settle(const SharedText& version) {
        const auto known = std::ranges::find_if(edits_, [&](const Edit& edit) { return edit.after.isCopyOf(version); });
        if (known == edits_.end()) return false;
        edits_.erase(edits_.begin(), known + 1);
        return true;
    }

    /// Whether the text still is the version that is known.
    [[nodiscard]] bool empty() const { return edits_.empty(); }

    /// Where the byte at a place of the known version is now; what is gone is where it was.
    [[nodiscard]] std::size_t now(std::size_t place) const {
        for (const Edit& edit : edits_) place = moved(place, edit.at, edit.removed, edit.inserted);
        return place;
    }
    /// Where the byte at a place of the text as it is now was in the known version; what is new is where it was put in.
    [[nodiscard]] std::size_t then(std::size_t place) const {
        for (auto edit = edits_.rbegin(); edit != edits_.rend(); ++edit) {
            place = moved(place, edit->at, edit->inserted, edit->removed);
        }
        return place;
    }

private:
    struct Edit {
        std::size_t at;
        std::size_t removed;
        std::size_t inserted;
        SharedText after;
    };
    static std::size_t moved(std::size_t place, std::size_t at, std::size_t removed, std::size_t inserted) {
        if (place < at) return place;
        return place >= at + removed ? place - removed + inserted : at;
    }

    std::vector<Edit> edits_;
};

}  // namespace pantry::base
