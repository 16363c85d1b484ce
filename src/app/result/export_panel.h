#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QElapsedTimer>
#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QProgressBar>
#include <QPushButton>
#include <QScrollArea>
#include <QTimer>
#include <functional>
#include <memory>

#include "app/desk/desk.h"
#include "app/result/export_columns.h"
#include "app/result/export_form.h"
#include "app/source/result_source.h"
#include "core/exchange/row_export.h"

namespace pantry::app {

/// What the grid shows and has selected, asked for when it is needed.
struct GridWishes {
    std::function<std::vector<std::size_t>()> selectedRows;  ///< positions in the view, ascending
    std::function<std::vector<std::pair<int, bool>>()>
        shownColumns;              ///< from left to right, with whether each is shown
    std::function<void()> settle;  ///< what was typed to narrow the rows holds from now on
};

/// Writes a result to a file, the clipboard or a new sheet: names the result it takes, says how many rows and columns
/// there are and how many will go, shows the first lines and the progress, and can be stopped.
class ExportPanel : public QFrame {
    Q_OBJECT

public:
    ExportPanel(Desk& desk, GridWishes grid, QWidget* parent = nullptr);
    ~ExportPanel() override;

    void open(ResultSource* source);
    /// Follows the chosen source while no export runs.
    void setSource(ResultSource* source);
    /// The rows of the grid, or what is selected of them, changed: what is offered follows, and is told.
    void noteRows();

Q_SIGNALS:
    void sheetWanted(const QString& title, const QString& text);
    void closeRequested();

private:
    enum class Rows { Selected, Shown, Fetched, FromServer };
    enum class Target { File, Clipboard, Sheet };

    void makeLayout();
    void connectParts();
    void chooseFile();
    void adopt(ResultSource* source);
    void noteFile();
    [[nodiscard]] Rows rowsOffered(bool isNarrowed) const;
    void offerFile();
    void offerRows();
    void offerPresets();
    void takePreset(const exchange::ExportChoices& choices);
    void keepPreset();
    void start();
    [[nodiscard]] std::unique_ptr<exchange::ExportTarget> makeTarget();
    void beginWriting();
    void write();
    void startFromView(const std::shared_ptr<exchange::RowExport>& out);
    void startFromServer(const std::shared_ptr<exchange::RowExport>& out);
    void stop();
    void end(const std::shared_ptr<exchange::RowExport>& out, const Status& status);
    void noteInLedger();
    void noteEnd(const exchange::RowExport& out, const Status& status);
    void showEnd(const exchange::RowExport& out, const Status& status, const QString& part);
    void deliver();
    void showProgress();
    void refresh();
    void noteFormat();
    void showPreview();
    [[nodiscard]] bool isWholeHere() const;
    [[nodiscard]] Rows rows() const { return static_cast<Rows>(rows_->currentData().toInt()); }
    [[nodiscard]] Target target() const { return static_cast<Target>(target_->currentData().toInt()); }
    [[nodiscard]] exchange::ExportChoices choices() const;
    [[nodiscard]] QString ending() const;
    [[nodiscard]] QString path() const;

    Desk& desk_;
    GridWishes grid_;
    QPointer<ResultSource> source_;
    QLabel* from_;
    QComboBox* rows_;
    QCheckBox* ownLine_;
    QComboBox* format_;
    QPushButton* presets_;
    QWidget* presetRow_;
    QLineEdit* presetName_;
    QComboBox* target_;
    QLineEdit* file_;
    QPushButton* choose_;
    QCheckBox* replace_;
    QLineEdit* table_;
    ExportColumns* columns_;
    ExportForm* form_;
    QPlainTextEdit* preview_;
    QScrollArea* scroll_;
    QTimer previewTimer_;
    QTimer progressTimer_;
    QProgressBar* progress_;
    QLabel* state_;
    QPushButton* start_;
    QPushButton* stop_;

    bool isRunning_ = false;
    QString ending_;                                  // of the file's name, as it was given last
    bool isRowsChosen_ = false;                       // by somebody; until then the choice follows the grid
    bool isFileNamed_ = false;                        // by somebody; until then the name follows the result
    bool isStartDue_ = false;                         // when the rows are arranged
    QPointer<ResultSource> offered_;                  // whose rows are offered now
    std::vector<std::pair<int, bool>> shownColumns_;  // as they were when they were offered
    QTimer fileTimer_;
    std::shared_ptr<exchange::RowExport> output_;
    const exchange::TextTarget* text_ = nullptr;  // output_'s, when it goes to no file
    QElapsedTimer since_;
    base::Cancellation cancellation_;
    std::shared_ptr<db::Session> session_;  // an export from the server has a line of its own, unless told otherwise
    db::RunHandle handle_;
    std::size_t total_ = 0;
    std::shared_ptr<std::int64_t> ledgerId_;  // of an export from the server; 0 until the ledger has told
};

}  // namespace pantry::app
