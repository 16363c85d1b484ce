#include "core/work/preferences.h"

#include <algorithm>
#include <chrono>

#include "core/store/snippets_file.h"

namespace pantry::work {

Preferences::~Preferences() { keepWindowState(); }

void Preferences::open() {
    const store::Home& home = around_.home();
    if (auto settings = store::loadSettings(home.settingsFile())) {
        settings_ = settings->settings;
        if (settings->notice) around_.raise(*settings->notice);
    } else {
        around_.raise(settings.error());
    }
    if (auto state = store::loadWindowState(home.windowFile(), home.settingsFile())) {
        windowState_ = keptWindowState_ = *state;
    } else {
        around_.raise(state.error());
    }
    if (auto presets = store::loadExportPresets(home.exportsFile())) exportPresets_ = std::move(*presets);
    if (auto snippets = store::loadSnippets(home.snippetsFile())) {
        snippets_ = std::move(*snippets);
    } else {
        around_.raise(snippets.error());
    }
    if (auto choices = store::loadGridChoices(home.gridChoicesFile())) {
        gridChoices_ = std::move(*choices);
    } else {
        around_.raise(choices.error());
    }
}

void Preferences::putSnippet(const snippet::Snippet& one, const std::string& replaces) {
    const std::string& known = replaces.empty() ? one.trigger : replaces;
    const auto at = std::ranges::find(snippets_, known, &snippet::Snippet::trigger);
    at == snippets_.end() ? snippets_.push_back(one) : void(*at = one);
    around_.write(
        [file = around_.home().snippetsFile(), one, replaces] { return store::saveSnippet(file, one, replaces); });
    changed_();
}

void Preferences::removeSnippet(const std::string& trigger) {
    std::erase_if(snippets_, [&](const snippet::Snippet& one) { return one.trigger == trigger; });
    around_.write([file = around_.home().snippetsFile(), trigger] { return store::removeSnippet(file, trigger); });
    changed_();
}

void Preferences::changeSettings(const std::function<void(store::Settings&)>& change) {
    const store::Settings before = settings_;
    change(settings_);
    if (settings_ == before) return;
    around_.noteChange();
    around_.write([file = around_.home().settingsFile(), settings = settings_, before] {
        return store::saveSettings(file, settings, before);
    });
    changed_();
}

void Preferences::take(const store::Settings& settings) {
    if (settings == settings_) return;
    settings_ = settings;
    changed_();
}

void Preferences::changeWindowState(const std::function<void(store::WindowState&)>& change) {
    change(windowState_);
    if (windowState_ == keptWindowState_ || std::exchange(isKeepingDue_, true)) return;
    around_.owner().postAfter(std::chrono::seconds(1), whileThere_([this] { keepWindowState(); }));
}

void Preferences::keepWindowState() {
    isKeepingDue_ = false;
    if (windowState_ == keptWindowState_) return;
    around_.write([file = around_.home().windowFile(), state = windowState_, before = keptWindowState_] {
        return store::saveWindowState(file, state, before);
    });
    keptWindowState_ = windowState_;
}

data::GridChoices Preferences::gridChoices(const std::string& key) const {
    const auto found = gridChoices_.find(key);
    return found == gridChoices_.end() ? data::GridChoices{} : found->second;
}

void Preferences::changeGridChoices(const std::string& key, const data::GridChoices& choices) {
    if (gridChoices(key) == choices) return;
    gridChoices_[key] = choices;
    around_.write(
        [file = around_.home().gridChoicesFile(), key, choices] { return store::saveGridChoices(file, key, choices); });
}

void Preferences::noteExport(const exchange::ExportChoices& choices, const std::string& folder) {
    if (!folder.empty()) exportPresets_.folder = folder;
    exportPresets_.lastFormat = choices.format;
    exportPresets_.lastUsed[choices.format] = choices;
    around_.write([file = around_.home().exportsFile(), choices, folder] {
        return store::saveLastExport(file, choices, folder);
    });
}

void Preferences::putExportPreset(const store::ExportPreset& preset) {
    auto& named = exportPresets_.named;
    std::erase_if(named, [&](const auto& other) { return other.name == preset.name; });
    named.insert(std::ranges::upper_bound(named, preset.name, {}, &store::ExportPreset::name), preset);
    around_.write([file = around_.home().exportsFile(), preset] { return store::saveExportPreset(file, preset); });
}

void Preferences::removeExportPreset(const std::string& name) {
    std::erase_if(exportPresets_.named, [&](const auto& preset) { return preset.name == name; });
    around_.write([file = around_.home().exportsFile(), name] { return store::removeExportPreset(file, name); });
}

}  // namespace pantry::work
