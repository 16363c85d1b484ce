#include "core/store/log.h"

#include <spdlog/sinks/null_sink.h>
#include <spdlog/sinks/rotating_file_sink.h>
#include <spdlog/spdlog.h>

namespace pantry::store {

void startLog(const Home& home, bool isVerbose) {
    constexpr std::size_t kFileBytes = 1'000'000;
    spdlog::drop_all();  // one of before
    std::shared_ptr<spdlog::logger> logger;
    std::error_code code;
    const auto kind = std::filesystem::status(home.logFile(), code).type();
    const bool isFile = kind == std::filesystem::file_type::regular || kind == std::filesystem::file_type::not_found;
    try {
        if (!isFile) throw spdlog::spdlog_ex("the log is no file");  // a pipe would hold us
        logger = spdlog::rotating_logger_mt("agile-pantry", home.logFile().string(), kFileBytes, 2);
    } catch (const spdlog::spdlog_ex&) {
        logger = spdlog::null_logger_mt("agile-pantry-silent");
    }
    logger->set_level(isVerbose ? spdlog::level::debug : spdlog::level::info);
    logger->flush_on(spdlog::level::info);
    logger->set_pattern("%Y-%m-%d %H:%M:%S.%e %L %v");
    spdlog::set_default_logger(std::move(logger));
}

void log(LogLevel level, std::string_view line) {
    constexpr spdlog::level::level_enum kLevels[] = {spdlog::level::debug, spdlog::level::info, spdlog::level::warn};
    spdlog::default_logger_raw()->log(kLevels[static_cast<std::size_t>(level)], line);
}

}  // namespace pantry::store
