#include "app/look/missing_glyphs.h"

#include <QApplication>
#include <QGlyphRun>
#include <QHash>
#include <QTextLayout>
#include <algorithm>

namespace pantry::app {
namespace {

constexpr char32_t kLooked = 0x0250;  // below it stands what every font has

/// Whether the usual font, or one that takes its place, has a sign for a character.
bool hasGlyph(char32_t c) {
    static QHash<char32_t, bool> known;
    const auto found = known.constFind(c);
    if (found != known.constEnd()) return *found;
    QTextLayout layout(QString::fromUcs4(&c, 1), QFont(QStringLiteral("Hack")));
    layout.beginLayout();
    layout.createLine();
    layout.endLayout();
    bool has = true;
    for (const QGlyphRun& run : layout.glyphRuns()) {
        const QList<quint32> glyphs = run.glyphIndexes();
        has = has && std::ranges::none_of(glyphs, [](quint32 glyph) { return glyph == 0; });
    }
    known.insert(c, has);
    return has;
}

/// What has no sign by nature: blanks, marks that join to others, selectors.
bool isInvisible(char32_t c) {
    switch (QChar::category(c)) {
        case QChar::Mark_NonSpacing:
        case QChar::Mark_Enclosing:
        case QChar::Mark_SpacingCombining:
        case QChar::Separator_Space:
        case QChar::Separator_Line:
        case QChar::Separator_Paragraph:
        case QChar::Other_Control:
        case QChar::Other_Format:
        case QChar::Other_Surrogate: return true;
        default: return c >= 0x2400 && c < 0x2440;  // that stand for what has no sign
    }
}

}  // namespace

QString withMissingGlyphsNamed(const QString& text) {
    if (std::ranges::all_of(text, [](QChar c) { return c.unicode() < kLooked; })) return text;
    QString out;
    out.reserve(text.size());
    for (const char32_t c : text.toUcs4()) {
        if (c < kLooked || isInvisible(c) || hasGlyph(c)) {
            out += QString::fromUcs4(&c, 1);
        } else {
            out += QStringLiteral("⟨U+%1⟩").arg(static_cast<uint>(c), 4, 16, QLatin1Char('0')).toUpper();
        }
    }
    return out;
}

}  // namespace pantry::app
