// Everything that a person uses has a name for tests and one for those who hear the window instead of seeing it.
#include <QAbstractButton>
#include <QAbstractItemView>
#include <QComboBox>
#include <QLineEdit>
#include <QSpinBox>

#include "app/base/text.h"
#include "app/results_fixture.h"

namespace pantry::app {
namespace {

class NamesTest : public ResultsWindowTest {
protected:
    /// Names of what can have the focus and lacks one; what Qt makes by itself inside its widgets is left out.
    QStringList nameless() {
        QStringList lacking;
        for (QWidget* widget : window_->findChildren<QWidget*>()) {
            if (!widget->isVisible() || widget->focusPolicy() == Qt::NoFocus || isInside(widget)) continue;
            const auto* button = qobject_cast<QAbstractButton*>(widget);
            const bool isHeard =
                !widget->accessibleName().isEmpty() || (button != nullptr && !button->text().isEmpty());
            const QString what =
                QLatin1String(widget->metaObject()->className()) + QLatin1Char(' ') + widget->objectName();
            if (widget->objectName().isEmpty()) lacking << what + QStringLiteral(" has no objectName");
            if (!isHeard) lacking << what + QStringLiteral(" has no accessible name");
        }
        return lacking;
    }
    static bool isInside(const QWidget* widget) {
        const QString name = widget->objectName();
        const bool isPart = name.startsWith(QLatin1String("qt_")) || name.startsWith(QLatin1String("Scroll"));
        const bool isOne = qobject_cast<const QAbstractButton*>(widget) != nullptr ||
                           qobject_cast<const QLineEdit*>(widget) != nullptr ||
                           qobject_cast<const QComboBox*>(widget) != nullptr ||
                           qobject_cast<const QAbstractSpinBox*>(widget) != nullptr ||
                           qobject_cast<const QAbstractItemView*>(widget) != nullptr;
        const QWidget* parent = widget->parentWidget();
        const bool isPartOfAnother = qobject_cast<const QComboBox*>(parent) != nullptr ||
                                     qobject_cast<const QAbstractSpinBox*>(parent) != nullptr ||
                                     qobject_cast<const QAbstractItemView*>(parent) != nullptr;
        return isPart || !isOne || isPartOfAnother;
    }
};

TEST_F(NamesTest, OfASheetWithAResult) {
    run(QStringLiteral("SELECT * FROM tree"));
    EXPECT_THAT(fromQt(nameless().join(QLatin1Char('\n'))), testing::IsEmpty());
    pane()->openExport();
    EXPECT_THAT(fromQt(nameless().join(QLatin1Char('\n'))), testing::IsEmpty());
}

TEST_F(NamesTest, OfTheConnectionsAndTheirForm) {
    window_->showConnections();
    click(objectName::kNewConnection);
    EXPECT_THAT(fromQt(nameless().join(QLatin1Char('\n'))), testing::IsEmpty());
}

TEST_F(NamesTest, OfTheLedger) {
    run(QStringLiteral("SELECT * FROM tree"));
    window_->findChild<QAction*>(QStringLiteral("command.view.ledger"))->trigger();
    EXPECT_THAT(fromQt(nameless().join(QLatin1Char('\n'))), testing::IsEmpty());
}

}  // namespace
}  // namespace pantry::app
