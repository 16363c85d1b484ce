#include "core/exchange/compression.h"

#include <zlib.h>
#include <zstd.h>

#include <array>
#include <new>

namespace pantry::exchange {
namespace {

constexpr std::size_t kRoom = std::size_t{1} << 16;

class Gzip final : public Compressor {
public:
    Gzip() {
        constexpr int kGzipHeader = 16;  // added to the window's bits, as zlib's manual has it
        if (deflateInit2(&stream_, Z_DEFAULT_COMPRESSION, Z_DEFLATED, MAX_WBITS + kGzipHeader, 8, Z_DEFAULT_STRATEGY) !=
            Z_OK) {
            throw std::bad_alloc();
        }
    }
    ~Gzip() override { deflateEnd(&stream_); }
    Gzip(const Gzip&) = delete;
    Gzip& operator=(const Gzip&) = delete;

    void put(std::string_view piece, std::string& out) override { work(piece, Z_NO_FLUSH, out); }
    void finish(std::string& out) override { work({}, Z_FINISH, out); }

private:
    void work(std::string_view piece, int flush, std::string& out) {
        // zlib only reads what its interface takes without const.
        stream_.next_in = reinterpret_cast<Bytef*>(const_cast<char*>(piece.data()));
        stream_.avail_in = static_cast<uInt>(piece.size());
        do {
            const std::size_t at = out.size();
            out.resize(at + kRoom);
            stream_.next_out = reinterpret_cast<Bytef*>(out.data() + at);
            stream_.avail_out = kRoom;
            deflate(&stream_, flush);
            out.resize(at + kRoom - stream_.avail_out);
        } while (stream_.avail_out == 0);
    }

    z_stream stream_{};
};

class Zstd final : public Compressor {
public:
    Zstd() : context_(ZSTD_createCCtx()) {
        if (!context_) throw std::bad_alloc();
        ZSTD_CCtx_setParameter(context_.get(), ZSTD_c_checksumFlag, 1);
    }
    void put(std::string_view piece, std::string& out) override { work(piece, ZSTD_e_continue, out); }
    void finish(std::string& out) override { work({}, ZSTD_e_end, out); }

private:
    void work(std::string_view piece, ZSTD_EndDirective directive, std::string& out) {
        ZSTD_inBuffer in{.src = piece.data(), .size = piece.size(), .pos = 0};
        for (bool isOver = false; !isOver;) {
            const std::size_t at = out.size();
            out.resize(at + kRoom);
            ZSTD_outBuffer room{.dst = out.data() + at, .size = kRoom, .pos = 0};
            const std::size_t left = ZSTD_compressStream2(context_.get(), &room, &in, directive);
            out.resize(at + room.pos);
            isOver = ZSTD_isError(left) != 0 || (directive == ZSTD_e_end ? left == 0 : in.pos == in.size);
        }
    }

    struct Free {
        void operator()(ZSTD_CCtx* context) const { ZSTD_freeCCtx(context); }
    };
    std::unique_ptr<ZSTD_CCtx, Free> context_;
};

}  // namespace

std::string_view compressionName(Compression compression) {
    constexpr std::array<std::string_view, kCompressions> kNames{"Not compressed", "gzip", "Zstandard"};
    return kNames[static_cast<std::size_t>(compression)];
}

std::string_view compressionWord(Compression compression) {
    constexpr std::array<std::string_view, kCompressions> kWords{"none", "gzip", "zstd"};
    return kWords[static_cast<std::size_t>(compression)];
}

std::string_view compressionEnding(Compression compression) {
    constexpr std::array<std::string_view, kCompressions> kEndings{"", ".gz", ".zst"};
    return kEndings[static_cast<std::size_t>(compression)];
}

std::unique_ptr<Compressor> makeCompressor(Compression compression) {
    switch (compression) {
        case Compression::None: return nullptr;
        case Compression::Gzip: return std::make_unique<Gzip>();
        case Compression::Zstd: return std::make_unique<Zstd>();
    }
    return nullptr;
}

}  // namespace pantry::exchange
