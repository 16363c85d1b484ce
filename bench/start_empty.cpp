// What bench/start compares with: an empty window with the same editor component, which ends once it was painted.
#include <Qsci/qsciscintilla.h>

#include <QApplication>
#include <QMainWindow>

#include "first_picture.h"

int main(int argc, char** argv) {
    QApplication application(argc, argv);
    QApplication::setStyle(QStringLiteral("Fusion"));
    QMainWindow window;
    const pantry::bench::FirstPicture firstPicture;
    window.setCentralWidget(new QsciScintilla(&window));
    window.resize(1280, 800);
    window.show();
    return QApplication::exec();
}
