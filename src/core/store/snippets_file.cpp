#include "core/store/snippets_file.h"

#include <algorithm>

#include "core/base/utf8.h"
#include "core/store/json_file.h"

namespace pantry::store {
namespace {

using nlohmann::json;
using snippet::Snippet;

constexpr int kSnippetsVersion = 1;

json snippetJson(const Snippet& one) {
    json dialects = json::array();
    for (const sql::Dialect dialect : one.dialects) dialects.push_back(sql::dialectName(dialect));
    return {{"trigger", base::toValidUtf8(one.trigger)},
            {"title", base::toValidUtf8(one.title)},
            {"text", base::toValidUtf8(one.text)},
            {"dialects", dialects}};
}

Snippet snippetFrom(const json& object) {
    Snippet one{.trigger = memberOr<std::string>(object, "trigger", ""),
                .title = memberOr<std::string>(object, "title", ""),
                .text = memberOr<std::string>(object, "text", ""),
                .dialects = {}};
    for (const auto& word : memberOr<std::vector<std::string>>(object, "dialects", {})) {
        if (const auto dialect = sql::dialectFromName(word)) one.dialects.push_back(*dialect);
    }
    return one;
}

/// Reads, changes and writes the list while nobody else does.
template <class Change>
Status changeSnippets(const std::filesystem::path& path, Change change) {
    const FileLock lock(path.string() + ".lock");
    if (!lock.status()) return lock.status();
    auto document = readJsonFile(path, kSnippetsVersion);
    if (!document) return document.error();
    json& content = document->content;
    content["version"] = kSnippetsVersion;
    if (!content.contains("snippets") || !content["snippets"].is_array()) content["snippets"] = json::array();
    change(content["snippets"]);
    return writeJsonFile(path, content);
}

auto withTrigger(json& list, const std::string& trigger) {
    return std::ranges::find_if(
        list, [&](const json& one) { return one.is_object() && memberOr<std::string>(one, "trigger", "") == trigger; });
}

}  // namespace

Result<std::vector<Snippet>> loadSnippets(const std::filesystem::path& path) {
    auto document = readJsonFile(path, kSnippetsVersion);
    if (!document) return document.error();
    std::vector<Snippet> all;
    const auto list = document->content.find("snippets");
    if (list == document->content.end() || !list->is_array()) return all;
    for (const json& object : *list) {
        if (object.is_object()) all.push_back(snippetFrom(object));
    }
    return all;
}

Status saveSnippet(const std::filesystem::path& path, const Snippet& one, const std::string& replaces) {
    return changeSnippets(path, [&](json& list) {
        auto at = withTrigger(list, replaces.empty() ? one.trigger : replaces);
        if (at == list.end()) {
            list.push_back(snippetJson(one));
        } else {
            at->update(snippetJson(one));
        }
    });
}

Status removeSnippet(const std::filesystem::path& path, const std::string& trigger) {
    return changeSnippets(path, [&](json& list) {
        const auto at = withTrigger(list, trigger);
        if (at != list.end()) list.erase(at);
    });
}

}  // namespace pantry::store
