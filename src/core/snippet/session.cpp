#include "core/snippet/session.h"

#include <algorithm>
#include <utility>

namespace pantry::snippet {

Session::Session(Template from, std::size_t start, std::string indent, const ColumnsOf& columns)
    : from_(std::move(from)), indent_(std::move(indent)), start_(start) {
    take(render(from_, {}, columns, indent_));
    isOver_ = rendered_.places.empty();
}

/// Takes what stands in the text now; places become bytes of the text.
void Session::take(Rendered rendered) {
    rendered_ = std::move(rendered);
    length_ = rendered_.text.size();
    end_ = start_ + rendered_.end.value_or(length_);
    for (Place& place : rendered_.places) {
        for (sql::TextRange& range : place.ranges) range.start += start_;
    }
}

const Place* Session::place() const { return isOver_ ? nullptr : &rendered_.places[at_]; }

std::vector<sql::TextRange> Session::current() const {
    return isOver_ ? std::vector<sql::TextRange>() : rendered_.places[at_].ranges;
}

std::size_t Session::end() const { return end_; }

bool Session::next() {
    if (isOver_) return false;
    if (at_ + 1 >= rendered_.places.size()) {
        isOver_ = true;
        return false;
    }
    ++at_;
    return true;
}

bool Session::previous() {
    if (isOver_ || at_ == 0) return false;
    --at_;
    return true;
}

/// An edit at the edge of the place one is at belongs to it; at the edge of another one it does not.
void Session::noteEdit(std::size_t at, std::size_t removed, std::size_t inserted) {
    const auto moved = [&](std::size_t byte, bool isStart) {
        if (byte < at || (byte == at && !isStart)) return byte;
        if (byte >= at + removed) return byte - removed + inserted;
        return isStart ? at + inserted : at;
    };
    const auto holds = [&](const sql::TextRange& range) {
        return range.start <= at && at + removed <= range.start + range.length;
    };
    for (std::size_t i = 0; i < rendered_.places.size(); ++i) {
        for (sql::TextRange& range : rendered_.places[i].ranges) {
            if (i == at_ && !isOver_ && holds(range)) {
                range.length = range.length - removed + inserted;
                continue;
            }
            const std::size_t start = moved(range.start, true);
            const std::size_t end = moved(range.start + range.length, false);
            range = {start, end > start ? end - start : 0};
        }
    }
    end_ = moved(end_, end_ < start_ + length_);
    if (holds(whole())) {
        length_ = length_ - removed + inserted;
    } else if (at + removed <= start_) {
        start_ = start_ - removed + inserted;
    } else if (at < start_ + length_) {
        isOver_ = true;  // a part of it is gone together with what stands beside
    }
}

std::string Session::valueOf(const std::string& name, std::string_view whole) const {
    for (const Place& place : rendered_.places) {
        if (place.name != name || place.ranges.empty()) continue;
        const sql::TextRange& first = place.ranges.front();
        if (first.start < start_ || first.start - start_ + first.length > whole.size()) return {};
        return std::string(whole.substr(first.start - start_, first.length));
    }
    return {};
}

std::map<std::string, std::string> Session::valuesIn(std::string_view whole) const {
    std::map<std::string, std::string> values;
    for (const Place& place : rendered_.places) {
        std::string value = valueOf(place.name, whole);
        if (value != "«" + place.name + "»") values.emplace(place.name, std::move(value));
    }
    return values;
}

std::optional<std::string> Session::renewed(std::string_view whole, const ColumnsOf& columns) {
    if (isOver_) return std::nullopt;
    const auto values = valuesIn(whole);
    // As it would stand with the columns that are shown: what is otherwise was changed by somebody.
    const ColumnsOf shown = [&](std::string_view table) {
        for (const auto& [place, known] : rendered_.columns) {
            const auto value = values.find(place);
            if (value != values.end() && value->second == table) return known;
        }
        return std::vector<ColumnOfTable>();
    };
    const bool isAsBefore = render(from_, values, shown, indent_).text == whole;
    if (rendered_.columns.empty() || !isAsBefore) return std::nullopt;
    Rendered fresh = render(from_, values, columns, indent_);
    if (fresh.text == whole) return std::nullopt;
    std::string text = fresh.text;
    const std::string at = rendered_.places[at_].name;
    take(std::move(fresh));
    const auto same = std::ranges::find(rendered_.places, at, &Place::name);
    at_ = same == rendered_.places.end() ? 0 : static_cast<std::size_t>(same - rendered_.places.begin());
    isOver_ = rendered_.places.empty();
    return text;
}

std::vector<sql::TextRange> Session::unfilled(std::string_view whole) const {
    std::vector<sql::TextRange> open;
    for (const Place& place : rendered_.places) {
        for (const sql::TextRange& range : place.ranges) {
            if (range.start < start_ || range.start - start_ + range.length > whole.size()) continue;
            if (whole.substr(range.start - start_, range.length) == "«" + place.name + "»") open.push_back(range);
        }
    }
    return open;
}

}  // namespace pantry::snippet
