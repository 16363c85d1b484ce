#pragma once

#include <cstdint>
#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/base/shared_text.h"
#include "core/base/text_history.h"
#include "core/store/kept_parameters.h"
#include "core/store/text_file.h"

namespace pantry::store {

/// Of what can be undone in a sheet, so much is kept between starts.
inline constexpr std::size_t kMaxHistoryBytes = 256 << 10;
inline constexpr std::size_t kMaxHistorySteps = 500;

/// A sheet as it is kept between starts.
struct SheetState {
    std::string id;
    std::string title;
    std::string connectionId;   ///< empty while none is chosen
    std::string database = {};  ///< one other than the connection's own
    std::string schema = {};    ///< where names are looked for first, when it was chosen for this sheet
    base::SharedText text;
    std::size_t caret = 0;  ///< byte offset
    double position = 0;    ///< among the open sheets; smaller stands further left
    bool isCurrent = false;
    bool isPinned = false;
    bool isBeside = false;                 ///< it stands beside the others
    std::optional<FileOfSheet> file = {};  ///< where its text is saved, besides here
    KeptParameters parameters = {};        ///< what those of its statements stand for
    base::TextSteps history = {};          ///< what can be undone in the text, and done again
    friend bool operator==(const SheetState&, const SheetState&) = default;
};

/// The folder with the open sheets, a file each. A sheet belongs to the window (process) that wrote it last; a new
/// window takes over those whose window is gone, be it closed or killed.
///
/// Threads: one at a time; other processes may use the same folder.
class SheetStore {
public:
    explicit SheetStore(std::filesystem::path folder) : folder_(std::move(folder)) {}

    Status save(const SheetState& sheet) const;
    Status remove(const std::string& id) const;

    /// Puts a sheet away: it no longer comes back by itself, and can be reopened. The last fifty are kept.
    Status close(const SheetState& sheet) const;
    /// Takes the sheet that was closed last back; nothing when there is none.
    Result<std::optional<SheetState>> reopenLast() const;

    /// The sheets no living window holds, in order; they belong to this window from now on. A file that cannot be
    /// understood is kept aside.
    Result<std::vector<SheetState>> takeOver() const;

private:
    [[nodiscard]] std::filesystem::path fileOf(const std::string& id) const;
    [[nodiscard]] std::filesystem::path closedFolder() const { return folder_ / "closed"; }
    /// Closed sheets, the one closed last first.
    [[nodiscard]] std::vector<std::filesystem::path> closedFiles() const;

    std::filesystem::path folder_;
};

}  // namespace pantry::store
