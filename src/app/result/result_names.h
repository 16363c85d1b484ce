#pragma once

/// Names of the parts of a result that tests and style sheets look for; see also base/object_names.h.
namespace pantry::app::resultName {

inline constexpr const char* kViewGrid = "viewGrid";
inline constexpr const char* kViewRecord = "viewRecord";
inline constexpr const char* kViewText = "viewText";
inline constexpr const char* kViewJson = "viewJson";
inline constexpr const char* kViewProfile = "viewProfile";
inline constexpr const char* kChangeStrip = "changeStrip";
inline constexpr const char* kChangeText = "changeText";
inline constexpr const char* kShowDifferences = "showDifferences";
inline constexpr const char* kResultText = "resultText";
inline constexpr const char* kViewMessages = "viewMessages";
inline constexpr const char* kColumnsButton = "columnsButton";
inline constexpr const char* kColumnsPanel = "columnsPanel";
inline constexpr const char* kColumnsFind = "columnsFind";
inline constexpr const char* kColumnsList = "columnsList";
inline constexpr const char* kCountAll = "countAllButton";
inline constexpr const char* kRecordTable = "recordTable";
inline constexpr const char* kRecordNext = "recordNext";
inline constexpr const char* kRecordBefore = "recordBefore";
inline constexpr const char* kPlainText = "resultText";
inline constexpr const char* kPlainTextCopy = "resultTextCopy";
inline constexpr const char* kProfilePage = "profilePage";
inline constexpr const char* kMessagesList = "messagesList";
inline constexpr const char* kMessagesAll = "messagesAll";
inline constexpr const char* kFilterBar = "filterBar";
inline constexpr const char* kFilterJoin = "filterJoin";
inline constexpr const char* kFilterPanel = "filterPanel";
inline constexpr const char* kFilterTest = "filterTest";
inline constexpr const char* kFilterNot = "filterNot";
inline constexpr const char* kFilterValue = "filterValue";
inline constexpr const char* kFilterSecond = "filterSecond";
inline constexpr const char* kFilterCommon = "filterCommon";
inline constexpr const char* kFilterApply = "filterApply";
inline constexpr const char* kFilterColour = "filterColour";
inline constexpr const char* kFilterProblem = "filterProblem";
inline constexpr const char* kColumnMenu = "columnMenu";
inline constexpr const char* kFrozenGrid = "frozenGrid";
inline constexpr const char* kCompareButton = "compareButton";
inline constexpr const char* kComparePanel = "comparePanel";
inline constexpr const char* kCompareBefore = "compareBefore";
inline constexpr const char* kCompareAfter = "compareAfter";
inline constexpr const char* kCompareKeys = "compareKeys";
inline constexpr const char* kCompareStart = "compareStart";
inline constexpr const char* kCompareStop = "compareStop";
inline constexpr const char* kCompareState = "compareState";
inline constexpr const char* kCompareClose = "compareClose";
inline constexpr const char* kFollowList = "followList";

}  // namespace pantry::app::resultName
