#include "core/store/json_file.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <unistd.h>

#include <cerrno>
#include <chrono>
#include <thread>

#include "core/base/file.h"
#include "core/base/time.h"
#include "core/base/utf8.h"

namespace pantry::store {
namespace {

namespace fs = std::filesystem;

constexpr auto kLockTimeout = std::chrono::seconds(2);

/// Renames a file that cannot be understood, so that somebody can mend it by hand.
Result<JsonDocument> setAside(const fs::path& path, const std::string& why) {
    std::string stamp = base::isoUtc(base::now());
    std::erase_if(stamp, [](char c) { return c == ':' || c == '-'; });
    fs::path kept = path.string() + ".broken-" + stamp;
    std::error_code code;
    for (int n = 2; fs::exists(kept, code); ++n) kept = fmt::format("{}.broken-{}-{}", path.string(), stamp, n);
    fs::rename(path, kept, code);
    if (code) {
        return Error{.kind = ErrorKind::Damaged,
                     .message = fmt::format("{} cannot be understood: {}.", path.string(), why),
                     .hint = "Mend or move the file by hand."};
    }
    return JsonDocument{nlohmann::json::object(),
                        Error{.kind = ErrorKind::Damaged,
                              .message = fmt::format("{} could not be understood ({}).", path.filename().string(), why),
                              .hint = fmt::format("It was kept as {}.", kept.string())}};
}

std::string placeIn(const std::string& text, std::size_t byte) {
    const base::LinePosition place = base::linePositionAt(text, byte > 0 ? byte - 1 : 0);
    return fmt::format("line {}, column {}", place.line, place.column);
}

/// Refuses what is nested more deeply than anybody writes, while reading: the library's own walks recurse.
class DepthWatch : public nlohmann::json_sax<nlohmann::json> {
public:
    static constexpr int kDeepest = 200;

    bool null() override { return true; }
    bool boolean(bool) override { return true; }
    bool number_integer(number_integer_t) override { return true; }
    bool number_unsigned(number_unsigned_t) override { return true; }
    bool number_float(number_float_t, const string_t&) override { return true; }
    bool string(string_t&) override { return true; }
    bool binary(binary_t&) override { return true; }
    bool key(string_t&) override { return true; }
    bool start_object(std::size_t) override { return enter(); }
    bool start_array(std::size_t) override { return enter(); }
    bool end_object() override { return leave(); }
    bool end_array() override { return leave(); }
    bool parse_error(std::size_t position, const std::string& token, const nlohmann::detail::exception& e) override {
        byte = position;
        // Numbers beyond the range are the only other thing that the library finds here.
        why = dynamic_cast<const nlohmann::json::out_of_range*>(&e) != nullptr
                  ? fmt::format("the number {} is beyond all ranges", token.substr(0, 40))
                  : "no JSON";
        return false;
    }

    std::size_t byte = 0;
    std::string why;

private:
    bool enter() {
        if (++depth_ <= kDeepest) return true;
        why = "values are nested too deeply";
        return false;
    }
    bool leave() {
        --depth_;
        return true;
    }
    int depth_ = 0;
};

}  // namespace

Result<nlohmann::json> parseJson(std::string_view text) {
    DepthWatch watch;
    try {
        if (nlohmann::json::sax_parse(text, &watch)) return nlohmann::json::parse(text);
    } catch (const nlohmann::json::exception& e) {
        watch.why = e.what();
    }
    const std::string place = watch.byte > 0 ? " at " + placeIn(std::string(text), watch.byte) : std::string();
    return Error{.kind = ErrorKind::InvalidInput, .message = watch.why + place};
}

nlohmann::json& objectIn(nlohmann::json& content, const std::string& name) {
    nlohmann::json& member = content[name];
    if (!member.is_object()) member = nlohmann::json::object();
    return member;
}

Result<JsonDocument> readJsonFile(const fs::path& path, int version) {
    auto text = base::readFile(path);
    if (!text && text.error().kind == ErrorKind::NotFound) return JsonDocument{nlohmann::json::object(), std::nullopt};
    if (!text) return text.error();
    auto parsed = parseJson(*text);
    if (!parsed) return setAside(path, parsed.error().message);
    nlohmann::json content = std::move(*parsed);
    if (!content.is_object()) return setAside(path, "no JSON object");
    if (memberOr(content, "version", version) > version) {
        return Error{.kind = ErrorKind::TooNew,
                     .message = fmt::format("{} was written by a newer version of Agile Pantry.", path.string()),
                     .hint = "Use that version, or another home folder. The file was not changed."};
    }
    return JsonDocument{std::move(content), std::nullopt};
}

Status writeJsonFile(const fs::path& path, const nlohmann::json& content) {
    try {
        return base::writeFileAtomically(path, content.dump(2) + "\n");
    } catch (const nlohmann::json::exception& e) {
        return Error{.kind = ErrorKind::InvalidInput,
                     .message = fmt::format("{} cannot be written: {}.", path.string(), e.what())};
    }
}

Status changeJsonMembers(const fs::path& path, int version, const nlohmann::json& before, const nlohmann::json& wanted,
                         std::span<const char* const> gone) {
    const FileLock lock(path.string() + ".lock");
    if (!lock.status()) return lock.status();
    auto document = readJsonFile(path, version);
    if (!document) return document.error();
    nlohmann::json& object = document->content;
    object["version"] = version;
    for (const char* name : gone) object.erase(name);
    for (const auto& [name, value] : wanted.items()) {
        if (!object.contains(name) || !before.contains(name) || value != before[name]) object[name] = value;
    }
    return writeJsonFile(path, object);
}

FileLock::FileLock(const fs::path& path)
    : descriptor_(::open(path.c_str(), O_RDWR | O_CREAT | O_CLOEXEC | O_NONBLOCK | O_NOFOLLOW, 0600)) {
    if (descriptor_ < 0) {
        status_ = base::fileError(errno, "lock", path);
        return;
    }
    const auto deadline = std::chrono::steady_clock::now() + kLockTimeout;
    while (::flock(descriptor_, LOCK_EX | LOCK_NB) != 0) {
        if (base::isWithoutLocks(errno)) return;  // better written without a lock than not at all
        if (errno != EWOULDBLOCK && errno != EINTR) {
            status_ = base::fileError(errno, "lock", path);
            return;
        }
        if (std::chrono::steady_clock::now() > deadline) {
            status_ = Error{.kind = ErrorKind::Busy,
                            .message = fmt::format("Another program holds {}.", path.string()),
                            .hint = "Close it, and try again."};
            return;
        }
        std::this_thread::sleep_for(std::chrono::milliseconds(10));
    }
}

FileLock::~FileLock() {
    if (descriptor_ >= 0) ::close(descriptor_);
}

std::vector<std::string> textsIn(const nlohmann::json& object, const char* name) {
    std::vector<std::string> out;
    const auto found = object.find(name);
    if (found == object.end() || !found->is_array()) return out;
    for (const nlohmann::json& text : *found) {
        if (text.is_string()) out.push_back(text);
    }
    return out;
}

}  // namespace pantry::store
