#include "core/store/home.h"

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <cctype>
#include <chrono>
#include <cstdlib>
#include <string>
#include <string_view>

#include "core/base/file.h"
#include "core/base/output_file.h"

namespace pantry::store {
namespace {

namespace fs = std::filesystem;

std::string_view environment(const char* name) {
    const char* value = std::getenv(name);
    return value == nullptr ? std::string_view() : std::string_view(value);
}

/// Without one nothing may be written anywhere: below a device nobody can make a folder.
const fs::path kNowhere = "/dev/null/agile-pantry has no home";

fs::path personalFolder() {
    const fs::path home(environment("HOME"));
    return home.is_absolute() ? home : kNowhere;
}

/// The specification says that a relative path in one of its variables counts as none.
fs::path xdgFolder(const char* variable, const char* fallback) {
    const fs::path wanted(environment(variable));
    const fs::path base = wanted.is_absolute() ? wanted : personalFolder() / fallback;
    return base / "agile-pantry";
}

/// A file of ours, or a folder, with rights for nobody else.
void makePrivate(const fs::path& path, bool isFolder) {
    struct stat info {};
    if (::lstat(path.c_str(), &info) != 0 || info.st_uid != ::geteuid()) return;
    const mode_t wanted = isFolder ? 0700 : 0600;
    const bool isOfKind = isFolder ? S_ISDIR(info.st_mode) : S_ISREG(info.st_mode);
    if (isOfKind && (info.st_mode & 0077) != 0) (void)::chmod(path.c_str(), wanted);
}

/// What writeFileAtomically() calls a file until it is whole: six letters behind the name.
bool isUnfinished(const fs::path& path) {
    const std::string ending = path.extension().string();
    const bool isSix = ending.size() == 7 && std::all_of(ending.begin() + 1, ending.end(),
                                                         [](unsigned char c) { return std::isalnum(c) != 0; });
    return isSix && path.stem().has_extension() && path.stem().extension() != ".lock";
}

/// Left by a writer that was killed: whoever writes holds its lock.
bool isAbandoned(const fs::path& path) {
    std::error_code code;
    const auto written = fs::last_write_time(path, code);
    if (code || fs::file_time_type::clock::now() - written < std::chrono::seconds(1)) return false;
    const int descriptor = ::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NOFOLLOW | O_NONBLOCK);
    if (descriptor < 0) return false;
    const bool isFree = ::flock(descriptor, LOCK_EX | LOCK_NB) == 0;
    ::close(descriptor);
    return isFree;
}

void tidy(const fs::path& folder) {
    std::error_code code;
    makePrivate(folder, true);
    for (fs::directory_iterator entry(folder, code), end; !code && entry != end; entry.increment(code)) {
        std::error_code ignored;
        if (isUnfinished(entry->path()) && isAbandoned(entry->path())) {
            fs::remove(entry->path(), ignored);
        } else {
            makePrivate(entry->path(), false);
        }
    }
    base::protectFolder(folder);
}

}  // namespace

Home findHome(const std::optional<fs::path>& wanted) {
    fs::path single = wanted.value_or(fs::path(environment("AGILE_PANTRY_HOME")));
    if (!single.empty()) {
        std::error_code code;
        const fs::path whole = fs::absolute(single, code);
        if (code) return {kNowhere, kNowhere, kNowhere};
        return {whole, whole, whole};
    }
    return {xdgFolder("XDG_CONFIG_HOME", ".config"), xdgFolder("XDG_DATA_HOME", ".local/share"),
            xdgFolder("XDG_STATE_HOME", ".local/state")};
}

Status Home::prepare() const {
    for (const fs::path& folder : {config, data, state}) {
        if (!folder.string().starts_with(kNowhere.string())) continue;
        return Error{.kind = ErrorKind::NotFound,
                     .message = "There is no home folder: the variable HOME is not set.",
                     .hint = "Set it, or name a folder with --home. Nothing is kept until then."};
    }
    for (const fs::path& folder : {config, data, state, sheetsFolder()}) {
        if (Status status = base::makeFolder(folder); !status) {
            Error error = status.error();
            error.hint = "Choose another home folder with --home.";
            return error;
        }
        tidy(folder);
    }
    return {};
}

}  // namespace pantry::store
