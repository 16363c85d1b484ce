#pragma once

namespace pantry::app::objectName {

// What tests, the tour and the style sheet find widgets by; apart from their visible text.
inline constexpr const char* kMainWindow = "mainWindow";
inline constexpr const char* kLeftColumn = "leftColumn";
inline constexpr const char* kCatalogPage = "catalogPage";
inline constexpr const char* kLedgerPage = "ledgerPage";
inline constexpr const char* kCatalogTab = "catalogTab";
inline constexpr const char* kLedgerTab = "ledgerTab";
inline constexpr const char* kConnectionList = "connectionList";
inline constexpr const char* kCatalogFind = "catalogFind";
inline constexpr const char* kObjectList = "objectList";
inline constexpr const char* kObjectCard = "objectCard";
inline constexpr const char* kObjectPage = "objectPage";
inline constexpr const char* kObjectFirstRows = "objectFirstRows";
inline constexpr const char* kLedgerFind = "ledgerFind";
inline constexpr const char* kLedgerList = "ledgerList";
inline constexpr const char* kLedgerScope = "ledgerScope";
inline constexpr const char* kSheetTabs = "sheetTabs";
inline constexpr const char* kSheetPage = "sheetPage";
inline constexpr const char* kContextBand = "contextBand";
inline constexpr const char* kBandConnection = "bandConnection";
inline constexpr const char* kRunButton = "runButton";
inline constexpr const char* kRunAllButton = "runAllButton";
inline constexpr const char* kStopButton = "stopButton";
inline constexpr const char* kFormatButton = "formatButton";
inline constexpr const char* kEditor = "editor";
inline constexpr const char* kCompletion = "completion";
inline constexpr const char* kTray = "tray";
inline constexpr const char* kResultPane = "resultPane";
inline constexpr const char* kResultGrid = "resultGrid";
inline constexpr const char* kResultSummary = "resultSummary";
inline constexpr const char* kResultFind = "resultFind";
inline constexpr const char* kResultFilter = "resultFilter";
inline constexpr const char* kAllRowsButton = "allRowsButton";
inline constexpr const char* kCopyButton = "copyButton";
inline constexpr const char* kExportButton = "exportButton";
inline constexpr const char* kExportPanel = "exportPanel";
inline constexpr const char* kExportFile = "exportFile";
inline constexpr const char* kExportStart = "exportStart";
inline constexpr const char* kExportStop = "exportStop";
inline constexpr const char* kExportClose = "exportClose";
inline constexpr const char* kExportState = "exportState";
inline constexpr const char* kCloseUp = "closeUp";
inline constexpr const char* kCloseUpValue = "closeUpValue";
inline constexpr const char* kCloseUpRow = "closeUpRow";
inline constexpr const char* kReachButton = "reachButton";
inline constexpr const char* kReach = "reach";
inline constexpr const char* kReachInput = "reachInput";
inline constexpr const char* kReachList = "reachList";
inline constexpr const char* kConnectionsPage = "connectionsPage";
inline constexpr const char* kNewConnection = "newConnection";
inline constexpr const char* kConnectionForm = "connectionForm";
inline constexpr const char* kFormAddress = "formAddress";
inline constexpr const char* kFormName = "formName";
inline constexpr const char* kFormGroup = "formGroup";
inline constexpr const char* kFormFile = "formFile";
inline constexpr const char* kFormChooseFile = "formChooseFile";
inline constexpr const char* kFormOnConnect = "formOnConnect";
inline constexpr const char* kFormReadOnly = "formReadOnly";
inline constexpr const char* kFormSaveOpen = "formSaveOpen";
inline constexpr const char* kFormSave = "formSave";
inline constexpr const char* kFormTest = "formTest";
inline constexpr const char* kFormDuplicate = "formDuplicate";
inline constexpr const char* kFormRemove = "formRemove";
inline constexpr const char* kFormState = "formState";
inline constexpr const char* kStatusKept = "statusKept";
inline constexpr const char* kStatusSelection = "statusSelection";
inline constexpr const char* kStatusCaret = "statusCaret";
inline constexpr const char* kStatusTimes = "statusTimes";
inline constexpr const char* kNotice = "notice";

}  // namespace pantry::app::objectName
