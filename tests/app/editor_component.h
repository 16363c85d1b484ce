#pragma once

#include <QObject>

// The component's headers are written with words that this program does not use for Qt's.
#define signals Q_SIGNALS
#define slots Q_SLOTS
#include <Qsci/qsciscintilla.h>
#undef signals
#undef slots
