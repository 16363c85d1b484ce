// The user guide as a page of the window, and its topics in the reach.
#include <gmock/gmock.h>

#include <QListWidget>
#include <QTextBrowser>
#include <algorithm>

#include "app/pages/guide/guide_page.h"
#include "app/window_fixture.h"

namespace pantry::app {
namespace {

using testing::HasSubstr;

class GuideWindowTest : public WindowTest {
protected:
    void openGuide() {
        key(Qt::Key_F1, Qt::ShiftModifier);
        EVENTUALLY(find(objectName::kGuidePage) != nullptr);
    }
    QListWidget* topics() { return find<QListWidget>(objectName::kGuideTopics); }
    std::string shown() { return fromQt(find<QTextBrowser>(objectName::kGuideText)->toPlainText()); }
};

TEST_F(GuideWindowTest, ItsTopicsAreFoundAndWalkedThroughByKeys) {
    openGuide();
    EXPECT_EQ(topics()->count(), static_cast<int>(guide().size()));
    EXPECT_EQ(fromQt(topics()->item(0)->text()), "The first minute");
    EXPECT_THAT(shown(), HasSubstr("With no connection saved yet"));
    type(QStringLiteral("freeze column"));
    EVENTUALLY(topics()->count() < 10 && topics()->count() > 0);
    EXPECT_THAT(shown(), HasSubstr("freeze"));
    const std::string first = shown();
    key(Qt::Key_A, Qt::ControlModifier);
    type(QStringLiteral("shelf"));
    EVENTUALLY(topics()->count() > 1);
    key(Qt::Key_Down);
    EXPECT_EQ(topics()->currentRow(), 1) << "the field keeps the focus";
    EXPECT_NE(shown(), first);
    type(QStringLiteral("zzz"));
    EVENTUALLY(topics()->count() == 0);
    EXPECT_THAT(shown(), HasSubstr("Nothing in the guide"));
}

TEST_F(GuideWindowTest, ATopicIsReachedFor) {
    key(Qt::Key_J, Qt::ControlModifier);
    type(QStringLiteral("h: parameters"));
    auto* list = find<QListWidget>(objectName::kReachList);
    EVENTUALLY(!list->findItems(QStringLiteral("Parameters"), Qt::MatchExactly).isEmpty());
    key(Qt::Key_Return);
    EVENTUALLY(find(objectName::kGuidePage) != nullptr && topics()->currentItem() != nullptr);
    EXPECT_EQ(fromQt(topics()->currentItem()->text()), "    Parameters");
    EXPECT_THAT(shown(), HasSubstr("strip under the band"));
    // Again, with words in the field that hide it.
    find<QLineEdit>(objectName::kGuideFind)->setText(QStringLiteral("odbc"));
    key(Qt::Key_J, Qt::ControlModifier);
    type(QStringLiteral("h: running regularly"));
    EVENTUALLY(!list->findItems(QStringLiteral("Running regularly"), Qt::MatchExactly).isEmpty());
    key(Qt::Key_Return);
    EVENTUALLY(shown().find("every few minutes") != std::string::npos);
}

}  // namespace
}  // namespace pantry::app
