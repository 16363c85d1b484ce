#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QFrame>
#include <QHBoxLayout>
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
#include "core/work/export_job.h"

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
    void dressParts();
    QHBoxLayout* makeTop();
    QHBoxLayout* makeTargetRow();
    QHBoxLayout* makeButtonRow();
    QWidget* makePresetRow();
    void connectParts();
    void chooseFile();
    void adopt(ResultSource* source);
    void noteFile();
    void offerReplacing(bool isThere);
    [[nodiscard]] Rows rowsOffered(bool isNarrowed) const;
    void offerFile();
    void offerRows();
    void offerPresets();
    void takePreset(const exchange::ExportChoices& choices);
    void keepPreset();
    void start();
    void beginWriting();
    void refuse(const QString& text);
    void write();
    void showEnd(const work::ExportJob::End& end);
    void deliver(const std::string& text);
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
    QWidget* body_;
    QLabel* from_;
    QComboBox* rows_;
    QCheckBox* ownConnection_;
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

    QString ending_;                                  // of the file's name, as it was given last
    bool isRowsChosen_ = false;                       // by somebody; until then the choice follows the grid
    bool isFileNamed_ = false;                        // by somebody; until then the name follows the result
    bool isStartDue_ = false;                         // when the rows are arranged
    QPointer<ResultSource> offered_;                  // whose rows are offered now
    std::vector<std::pair<int, bool>> shownColumns_;  // as they were when they were offered
    QTimer fileTimer_;
    work::ExportJob job_;
};

}  // namespace pantry::app
