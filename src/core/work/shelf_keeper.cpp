#include "core/work/shelf_keeper.h"

namespace pantry::work {

void ShelfKeeper::refresh() {
    if (isReading_) {
        isStale_ = true;
        return;
    }
    isReading_ = true;
    ask<Read>(
        [](Shelves& shelves) -> Result<Read> {
            auto queries = shelves.find({});
            if (!queries) return queries.error();
            auto infos = shelves.infos();
            if (!infos) return infos.error();
            return Read{std::move(*queries), std::move(*infos)};
        },
        [this](const Result<Read>& read) {
            isReading_ = false;
            if (read) {
                take(*read);
            } else {
                around_.raise(read.error());
            }
            if (std::exchange(isStale_, false)) refresh();
        });
}

void ShelfKeeper::take(Read read) {
    queries_ = std::move(read.queries);
    infos_ = std::move(read.infos);
    isRead_ = true;
    changed_();
}

std::optional<store::QueryPlace> ShelfKeeper::placeOf(const std::filesystem::path& file) const {
    for (const ShelfInfo& info : infos_) {
        const std::string folder = info.folder.string() + "/";
        const std::string path = file.string();
        if (path.starts_with(folder)) return store::QueryPlace{info.name, path.substr(folder.size())};
    }
    return std::nullopt;
}

std::filesystem::path ShelfKeeper::fileOf(const store::QueryPlace& place) const {
    for (const ShelfInfo& info : infos_) {
        if (info.name == place.shelf) return info.folder / place.path;
    }
    return {};
}

}  // namespace pantry::work
