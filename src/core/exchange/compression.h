#pragma once

#include <cstdint>
#include <memory>
#include <string>
#include <string_view>

namespace pantry::exchange {

enum class Compression : std::uint8_t { None, Gzip, Zstd };
inline constexpr std::size_t kCompressions = 3;
[[nodiscard]] std::string_view compressionName(Compression compression);    ///< for people
[[nodiscard]] std::string_view compressionWord(Compression compression);    ///< none, gzip, zstd
[[nodiscard]] std::string_view compressionEnding(Compression compression);  ///< of a file, with its dot; may be empty

/// Makes bytes fewer, piece by piece.
///
/// Threads: one at a time.
class Compressor {
public:
    virtual ~Compressor() = default;
    virtual void put(std::string_view piece, std::string& out) = 0;
    /// Ends the file, so that what was put can be read back.
    virtual void finish(std::string& out) = 0;
};

/// nullptr for None.
[[nodiscard]] std::unique_ptr<Compressor> makeCompressor(Compression compression);

}  // namespace pantry::exchange
