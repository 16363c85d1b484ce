#pragma once

#include <QFrame>
#include <QIcon>
#include <QLabel>
#include <QLayout>
#include <QListWidget>
#include <QPushButton>
#include <QSplitter>
#include <QString>

namespace pantry::app {

// Small helpers that make widgets the way the style sheet knows them by their property "look".

QLabel* makeLabel(const QString& text, const char* look, QWidget* parent = nullptr);
QPushButton* makeButton(const QString& text, const char* look, const char* objectName, const QString& accessibleName,
                        QWidget* parent = nullptr);
QFrame* makeFrame(const char* look, QWidget* parent = nullptr);
/// A splitter with a line between its parts, which do not vanish.
QSplitter* makeSplitter(Qt::Orientation orientation, QWidget* parent);

/// Changes the look of a widget that is shown already.
void setLook(QWidget* widget, const char* look);

/// Removes and deletes everything in a layout.
void clearLayout(QLayout* layout);

/// Goes up or down in a list whose field has the focus; false for other keys than the arrows and the page keys.
bool stepInList(QListWidget* list, int key, int pageRows);

/// Puts a part that was made late where it belongs in the round of the Tab key: behind another widget, or all that is
/// in it. The part keeps its own order.
void putBehindInTabOrder(QWidget* before, QWidget* part);

/// Whether an event asks if Return with another key belongs to the widget before the window does something with it; it
/// does then.
bool claimsReturn(QEvent* event, Qt::KeyboardModifier with = Qt::ControlModifier);

/// Names a widget for tests and for screen readers.
void name(QWidget* widget, const char* objectName, const QString& accessibleName);

/// Marks a heading that opens and closes something, in the colours of the theme as it is.
void showFold(QPushButton* heading, bool isOpen);

/// A small square of a connection's colour before words.
[[nodiscard]] QIcon markIcon(const QColor& colour);

}  // namespace pantry::app
