#include "core/store/export_presets.h"

#include <algorithm>

#include "core/base/utf8.h"
#include "core/store/json_file.h"

namespace pantry::store {
namespace {

using exchange::ExportChoices;
using exchange::Format;
using nlohmann::json;

constexpr int kPresetsVersion = 1;
constexpr std::size_t kMaxBatchRows = 100'000;

json toJson(const ExportChoices& choices) {
    const exchange::CsvOptions& csv = choices.forms.csv;
    const exchange::ValueFormat& valueFormat = choices.forms.valueFormat;
    json out{{"encoding", exchange::encodingWord(choices.encoding)},
             {"compression", exchange::compressionWord(choices.compression)},
             {"delimiter", csv.delimiter},
             {"headings", csv.hasHeadings},
             {"quoting", exchange::quotingWord(csv.quoting)},
             {"quote", std::string(1, csv.quote)},
             {"escape", std::string(1, csv.escape)},
             {"lineEnd", csv.lineEnd},
             {"true", valueFormat.trueText},
             {"false", valueFormat.falseText},
             {"dates", exchange::dateFormWord(valueFormat.dateForm)},
             {"decimalSign", std::string(1, valueFormat.decimalSign)},
             {"trims", valueFormat.trimsTrailingBlanks},
             {"guardsFormulas", valueFormat.guardsFormulas},
             {"batchRows", choices.forms.insert.batchRows},
             {"createTable", choices.forms.insert.hasCreateTable},
             {"indented", choices.forms.isJsonIndented},
             {"inexactAsText", choices.forms.isInexactText}};
    if (valueFormat.nullText) out["null"] = *valueFormat.nullText;
    return out;
}

char characterOr(const json& object, const char* name, std::string_view allowed) {
    const auto text = memberOr<std::string>(object, name, "");
    const bool isAllowed = text.size() == 1 && allowed.find(text.front()) != std::string_view::npos;
    return isAllowed ? text.front() : allowed.front();
}

ExportChoices fromJson(const json& object, Format format) {
    ExportChoices out{.format = format};
    out.encoding = choiceOr<exchange::Encoding, exchange::kEncodings>(object, "encoding", exchange::encodingWord);
    out.compression =
        choiceOr<exchange::Compression, exchange::kCompressions>(object, "compression", exchange::compressionWord);
    exchange::CsvOptions& csv = out.forms.csv;
    csv.delimiter = memberOr<std::string>(object, "delimiter", ",");
    csv.hasHeadings = memberOr(object, "headings", true);
    csv.quoting = choiceOr<exchange::Quoting, exchange::kQuotings>(object, "quoting", exchange::quotingWord);
    csv.quote = characterOr(object, "quote", "\"'");
    csv.escape = characterOr(object, "escape", std::string(1, csv.quote) + "\\");
    csv.lineEnd = memberOr<std::string>(object, "lineEnd", "\r\n");
    exchange::ValueFormat& valueFormat = out.forms.valueFormat;
    if (object.contains("null")) valueFormat.nullText = memberOr<std::string>(object, "null", "");
    valueFormat.trueText = memberOr<std::string>(object, "true", "");
    valueFormat.falseText = memberOr<std::string>(object, "false", "");
    valueFormat.dateForm = choiceOr<exchange::DateForm, exchange::kDateForms>(object, "dates", exchange::dateFormWord);
    valueFormat.decimalSign = characterOr(object, "decimalSign", ".,");
    valueFormat.trimsTrailingBlanks = memberOr(object, "trims", false);
    valueFormat.guardsFormulas = memberOr(object, "guardsFormulas", false);
    out.forms.insert.batchRows =
        std::clamp<std::size_t>(memberOr<std::size_t>(object, "batchRows", 100), 1, kMaxBatchRows);
    out.forms.insert.hasCreateTable = memberOr(object, "createTable", false);
    out.forms.isJsonIndented = memberOr(object, "indented", false);
    out.forms.isInexactText = memberOr(object, "inexactAsText", false);
    return out;
}

/// Reads, changes and writes the file while nobody else does.
template <class Change>
Status changeFile(const std::filesystem::path& path, Change change) {
    const FileLock lock(path.string() + ".lock");
    if (!lock.status()) return lock.status();
    auto document = readJsonFile(path, kPresetsVersion);
    if (!document) return document.error();
    document->content["version"] = kPresetsVersion;
    change(document->content);
    return writeJsonFile(path, document->content);
}

}  // namespace

Result<ExportPresets> loadExportPresets(const std::filesystem::path& path) {
    auto document = readJsonFile(path, kPresetsVersion);
    if (!document) return document.error();
    const json& content = document->content;
    ExportPresets out;
    out.folder = memberOr<std::string>(content, "folder", "");
    out.lastFormat = exchange::formatFromWord(memberOr<std::string>(content, "lastFormat", ""));
    if (const auto last = content.find("last"); last != content.end() && last->is_object()) {
        for (const auto& [word, object] : last->items()) {
            if (const auto format = exchange::formatFromWord(word)) out.lastUsed[*format] = fromJson(object, *format);
        }
    }
    if (const auto named = content.find("named"); named != content.end() && named->is_object()) {
        for (const auto& [name, object] : named->items()) {
            const auto format = exchange::formatFromWord(memberOr<std::string>(object, "format", ""));
            if (format) out.named.push_back({name, fromJson(object, *format)});
        }
    }
    return out;
}

Status saveLastExport(const std::filesystem::path& path, const ExportChoices& choices, const std::string& folder) {
    return changeFile(path, [&](json& content) {
        const std::string word(exchange::formatWord(choices.format));
        content["lastFormat"] = word;
        if (!folder.empty()) content["folder"] = base::toValidUtf8(folder);
        objectIn(content, "last")[word] = toJson(choices);
    });
}

Status saveExportPreset(const std::filesystem::path& path, const ExportPreset& preset) {
    return changeFile(path, [&](json& content) {
        objectIn(content, "named")[preset.name] = toJson(preset.choices);
        content["named"][preset.name]["format"] = exchange::formatWord(preset.choices.format);
    });
}

Status removeExportPreset(const std::filesystem::path& path, const std::string& name) {
    return changeFile(path, [&](json& content) { objectIn(content, "named").erase(name); });
}

}  // namespace pantry::store
