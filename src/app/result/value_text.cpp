#include "app/result/value_text.h"

#include <QBuffer>
#include <QImageReader>
#include <QJsonDocument>
#include <QObject>

#include "app/base/text.h"
#include "core/base/text.h"
#include "core/base/utf8.h"
#include "core/exchange/json_text.h"

namespace pantry::app {
namespace {

constexpr std::size_t kValueBytes = 200'000;
constexpr qsizetype kLongestLine = 1000;  // the text widget lays a longer one out for seconds
constexpr std::size_t kShownHexBytes = 16'384;
constexpr std::size_t kBytesPerLine = 8;
constexpr std::size_t kLongestPicture = 16'000'000;

QString hexTable(std::string_view bytes) {
    QString out;
    const std::size_t shown = std::min(bytes.size(), kShownHexBytes);
    for (std::size_t i = 0; i < shown; i += kBytesPerLine) {
        QString hex;
        QString text;
        for (std::size_t k = i; k < std::min(i + kBytesPerLine, shown); ++k) {
            const auto byte = static_cast<unsigned char>(bytes[k]);
            hex += QStringLiteral("%1 ").arg(byte, 2, 16, QLatin1Char('0'));
            text += byte >= 0x20 && byte < 0x7F ? QChar(byte) : QChar(0x00B7);
        }
        out += QStringLiteral("%1  %2 %3\n").arg(i, 4, 16, QLatin1Char('0')).arg(hex, -24).arg(text);
    }
    return out;
}

/// What a picture shows, no larger than needed; null for what is none, or damaged.
QImage pictureOf(std::string_view bytes) {
    constexpr int kSide = 96;
    if (bytes.size() > kLongestPicture) return {};
    QByteArray data = QByteArray::fromRawData(bytes.data(), static_cast<qsizetype>(bytes.size()));
    QBuffer buffer(&data);
    buffer.open(QIODevice::ReadOnly);
    QImageReader reader(&buffer);
    if (!reader.canRead()) return {};
    const QSize whole = reader.size();
    const QSize side(kSide, kSide);
    if (whole.isValid()) reader.setScaledSize(whole.scaled(side, Qt::KeepAspectRatio));
    const QImage read = reader.read();
    return read.isNull() ? read : read.scaled(side, Qt::KeepAspectRatio, Qt::SmoothTransformation);
}

/// Control characters shown as symbols, except those that lay text out.
QString readable(std::string_view text) {
    QString out = toQt(text);
    for (QChar& c : out) {
        if (c.unicode() < 0x20 && c != QLatin1Char('\n') && c != QLatin1Char('\t') && c != QLatin1Char('\r')) {
            c = QChar(0x2400 + c.unicode());
        }
    }
    return out;
}

/// The text with a line break after every so many characters of an endless line.
QString withShortLines(const QString& text) {
    QString out;
    qsizetype lineLength = 0;
    for (qsizetype i = 0; i < text.size(); ++i) {
        lineLength = text[i] == QLatin1Char('\n') ? 0 : lineLength + 1;
        if (lineLength > kLongestLine && !text[i].isLowSurrogate()) {
            out += QLatin1Char('\n');
            lineLength = 1;
        }
        out += text[i];
    }
    return out;
}

}  // namespace

ValueText valueText(const data::Cell& cell, data::ColumnType type) {
    switch (cell.kind) {
        case data::CellKind::Null: return {.text = {}, .facts = QObject::tr("null: no value")};
        case data::CellKind::Integer:
        case data::CellKind::Real:
            return {.text = toQt(data::toText(cell)), .facts = QObject::tr("number, exact as sent")};
        case data::CellKind::Binary: {
            const QImage picture = pictureOf(cell.bytes);
            QString facts = QObject::tr("binary · %1").arg(toQt(base::readableBytes(cell.bytes.size())));
            if (!picture.isNull()) facts += QObject::tr(" · picture");
            const bool isCut = cell.bytes.size() > kShownHexBytes;
            if (isCut) facts += QObject::tr(" · the first %1 shown").arg(toQt(base::readableBytes(kShownHexBytes)));
            return {hexTable(cell.bytes), facts, picture, isCut};
        }
        case data::CellKind::Text: break;
    }
    if (cell.bytes.empty()) return {.text = {}, .facts = QObject::tr("empty text (not null)")};
    const bool isCut = cell.bytes.size() > kValueBytes;
    QString facts = isCut ? toQt(base::readableBytes(cell.bytes.size()))
                          : toQt(base::counted(static_cast<std::int64_t>(base::codePointCount(cell.bytes)), "character",
                                               "characters"));
    const bool mayBeJson = type == data::ColumnType::Json || cell.bytes.front() == '{' || cell.bytes.front() == '[';
    if (mayBeJson && !isCut) {
        const auto document =
            QJsonDocument::fromJson(QByteArray(cell.bytes.data(), static_cast<qsizetype>(cell.bytes.size())));
        if (!document.isNull()) {
            return {toQt(exchange::indentedJson(cell.bytes)), facts + QObject::tr(" · JSON, indented here")};
        }
    }
    if (isCut)
        facts +=
            QObject::tr(" · the first %1 shown; copy or export takes all").arg(toQt(base::readableBytes(kValueBytes)));
    const QString text = readable(base::prefixOf(cell.bytes, kValueBytes));
    const QString broken = withShortLines(text);
    if (broken.size() != text.size()) facts += QObject::tr(" · long lines broken here");
    return {broken, facts, {}, isCut};
}

}  // namespace pantry::app
