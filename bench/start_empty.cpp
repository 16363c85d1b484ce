// What bench/start compares with: an empty window with the same editor component, which ends once it was painted.
#include <Qsci/qsciscintilla.h>

#include <QApplication>
#include <QMainWindow>
#include <QTimer>
#include <cstdlib>

int main(int argc, char** argv) {
    QApplication application(argc, argv);
    QApplication::setStyle(QStringLiteral("Fusion"));
    QMainWindow window;
    window.setCentralWidget(new QsciScintilla(&window));
    window.resize(1280, 800);
    window.show();
    window.repaint();
    QTimer::singleShot(0, &window, [] { std::_Exit(0); });
    return QApplication::exec();
}
