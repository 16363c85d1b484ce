#pragma once

#include <string>
#include <string_view>

#include "core/base/result.h"

namespace pantry::shelf {

/// What a file or folder on the shelf is called for a title: “Scab by plot” becomes scab-by-plot. Letters of all
/// alphabets stay; blanks and what file systems mind become hyphens. Never empty.
[[nodiscard]] std::string fileNameFor(std::string_view title);

/// How people read the name of a file or folder: scab-by-plot.sql becomes “Scab by plot”.
[[nodiscard]] std::string titleOfName(std::string_view name);

/// The folder of a path, without a slash at its end; empty for the shelf itself.
[[nodiscard]] std::string folderOf(std::string_view path);
/// The last part of a path.
[[nodiscard]] std::string nameOf(std::string_view path);

/// Whether something can stand at that path of a shelf. Errors: InvalidInput for paths that lead out of it or into
/// hidden folders, that are empty, too long, or hold control characters.
Status checkPath(std::string_view path);

/// Whether the shelf shows a file of that name: .sql and .md.
[[nodiscard]] bool isShown(std::string_view name);
[[nodiscard]] bool isNotebook(std::string_view name);

}  // namespace pantry::shelf
