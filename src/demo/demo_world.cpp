#include "demo/demo_world.h"

#include <fmt/format.h>
#include <zlib.h>

#include <chrono>

namespace pantry::demo {
namespace {

std::string bigEndian(std::uint32_t value) {
    std::string out;
    for (int shift = 24; shift >= 0; shift -= 8) out += static_cast<char>(value >> shift & 0xFF);
    return out;
}

std::string pngChunk(const std::string& type, const std::string& data) {
    const std::string body = type + data;
    const auto sum = crc32(0, reinterpret_cast<const Bytef*>(body.data()), static_cast<uInt>(body.size()));
    return bigEndian(static_cast<std::uint32_t>(data.size())) + body + bigEndian(static_cast<std::uint32_t>(sum));
}

std::string deflated(const std::string& data) {
    uLongf size = compressBound(static_cast<uLong>(data.size()));
    std::string out(size, '\0');
    compress(reinterpret_cast<Bytef*>(out.data()), &size, reinterpret_cast<const Bytef*>(data.data()),
             static_cast<uLong>(data.size()));
    out.resize(size);
    return out;
}

}  // namespace

std::string dateText(int days) {
    const std::chrono::year_month_day d{std::chrono::sys_days{std::chrono::days{days}}};
    return fmt::format("{:04}-{:02}-{:02}", static_cast<int>(d.year()), static_cast<unsigned>(d.month()),
                       static_cast<unsigned>(d.day()));
}

std::string timeText(std::int64_t seconds) {
    const auto day = static_cast<int>(seconds / 86400);
    const auto rest = seconds % 86400;
    return fmt::format("{} {:02}:{:02}:{:02}", dateText(day), rest / 3600, rest % 3600 / 60, rest % 60);
}

std::string amountText(std::int64_t hundredths) {
    const char* sign = hundredths < 0 ? "-" : "";
    const auto size = hundredths < 0 ? -hundredths : hundredths;
    return fmt::format("{}{}.{:02}", sign, size / 100, size % 100);
}

/// A jar: a coloured disc with a pale band across it.
std::string labelPicture(std::uint32_t rgb, int size) {
    std::string rows;
    for (int y = 0; y < size; ++y) {
        rows += '\0';  // no filter
        for (int x = 0; x < size; ++x) {
            const int dx = 2 * x - size + 1;
            const int dy = 2 * y - size + 1;
            const bool isJar = dx * dx + dy * dy <= size * size;
            const bool isBand = y > size / 3 && y < size * 2 / 3;
            const std::uint32_t colour = !isJar ? 0xFFFDF8 : isBand ? 0xF3EAD3 : rgb;
            for (int shift = 16; shift >= 0; shift -= 8) rows += static_cast<char>(colour >> shift & 0xFF);
        }
    }
    const std::string header = bigEndian(static_cast<std::uint32_t>(size)) +
                               bigEndian(static_cast<std::uint32_t>(size)) + std::string("\x08\x02\x00\x00\x00", 5);
    return "\x89PNG\r\n\x1A\n" + pngChunk("IHDR", header) + pngChunk("IDAT", deflated(rows)) + pngChunk("IEND", "");
}

std::string longRemark(std::size_t bytes) {
    constexpr std::string_view kSentences[] = {
        "Walked the row twice; the lower branches are still wet at noon. ",
        "Two boxes stood under the third tree and nobody knows whose they are.\n",
        "The ladder needs a new foot before anyone climbs it again. ",
        "Asked for a second opinion: scab or only sunburn? ",
        "Fruit sound, colour late, birds early.\n\n",
    };
    std::string out;
    for (std::size_t i = 0; out.size() < bytes; ++i) out += kSentences[i * 7 % std::size(kSentences)];
    out.resize(bytes);
    return out;
}

}  // namespace pantry::demo
