#pragma once

#include <functional>
#include <string>

#include "core/data/view/grid_choices.h"
#include "core/snippet/snippets.h"
#include "core/store/export_presets.h"
#include "core/store/grid_choices_file.h"
#include "core/store/settings.h"
#include "core/store/window_state.h"
#include "core/work/owner_thread.h"
#include "core/work/surroundings.h"

namespace pantry::work {

/// What somebody has chosen: settings, how the window was left, how grids look, what exports were told. Each change is
/// in effect at once and written by another thread.
///
/// Threads: the owner's.
class Preferences {
public:
    /// `changed` hears of settings that are others now, chosen here or in another window.
    Preferences(Surroundings& around, std::function<void()> changed) : around_(around), changed_(std::move(changed)) {}
    ~Preferences();

    /// Reads what was chosen; small files, for the start of the program. What cannot be read is told.
    void open();

    [[nodiscard]] const store::Settings& settings() const { return settings_; }
    void changeSettings(const std::function<void(store::Settings&)>& change);
    /// Another window has written these.
    void take(const store::Settings& settings);

    [[nodiscard]] const store::WindowState& windowState() const { return windowState_; }
    /// Changes and keeps it, within a second: dragging changes it at every step.
    void changeWindowState(const std::function<void(store::WindowState&)>& change);
    void keepWindowState();

    /// What is chosen for the grid of a query; see store::gridKey().
    [[nodiscard]] data::GridChoices gridChoices(const std::string& key) const;
    void changeGridChoices(const std::string& key, const data::GridChoices& choices);

    [[nodiscard]] const store::ExportPresets& exportPresets() const { return exportPresets_; }
    /// Keeps what an export was told, for the next one in the same format, and its folder; empty when it had none.
    void noteExport(const exchange::ExportChoices& choices, const std::string& folder);
    void putExportPreset(const store::ExportPreset& preset);
    void removeExportPreset(const std::string& name);

    /// Somebody's own snippets.
    [[nodiscard]] const std::vector<snippet::Snippet>& snippets() const { return snippets_; }
    /// Takes the place of the one with the trigger `replaces`, which may be empty.
    void putSnippet(const snippet::Snippet& one, const std::string& replaces = {});
    void removeSnippet(const std::string& trigger);

private:
    Surroundings& around_;
    std::function<void()> changed_;
    store::Settings settings_;
    store::WindowState windowState_;
    store::WindowState keptWindowState_;  // as the file has it
    bool isKeepingDue_ = false;
    store::AllGridChoices gridChoices_;
    store::ExportPresets exportPresets_;
    std::vector<snippet::Snippet> snippets_;
    WhileThere whileThere_;
};

}  // namespace pantry::work
