#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QProgressBar>
#include <QPushButton>
#include <QTimer>
#include <memory>

#include "app/sheet/sheet.h"
#include "core/exchange/file_export.h"
#include "core/exchange/formats.h"

namespace pantry::app {

/// Writes a result to a file: names the result it takes, says how many rows there are and how many will go, shows
/// progress and can be stopped.
class ExportPanel : public QFrame {
    Q_OBJECT

public:
    explicit ExportPanel(Sheet& sheet, QWidget* parent = nullptr);
    ~ExportPanel() override;

    void open(Card* card);
    /// Follows the chosen card while no export runs.
    void setCard(Card* card);

private:
    void chooseFile();
    void start();
    void startFromView(std::shared_ptr<exchange::ExportFile> file);
    void startFromServer(std::shared_ptr<exchange::ExportFile> file);
    void stop();
    void finish(const Status& status, qulonglong rows);
    void showProgress(qulonglong rows);
    void refresh();
    [[nodiscard]] bool isWholeHere() const;
    [[nodiscard]] exchange::Format format() const;
    [[nodiscard]] exchange::FormatChoices choices() const;
    void showFormat();
    void showPreview();

    Sheet& sheet_;
    QPointer<Card> card_;
    QLabel* source_;
    QLineEdit* file_;
    QComboBox* format_;
    QWidget* csvFields_;
    QWidget* insertFields_;
    QLineEdit* table_;
    QCheckBox* createTable_;
    QPlainTextEdit* preview_;
    QTimer previewTimer_;
    QComboBox* delimiter_;
    QComboBox* lineEnd_;
    QComboBox* encoding_;
    QLineEdit* nullText_;
    QCheckBox* headings_;
    QCheckBox* quoteAll_;
    QProgressBar* progress_;
    QLabel* state_;
    QPushButton* start_;
    QPushButton* stop_;

    bool isRunning_ = false;
    std::shared_ptr<exchange::ExportFile> output_;
    base::Cancellation cancellation_;
    std::unique_ptr<db::Session> session_;  // an export from the server has a line of its own
    db::RunHandle handle_;
    qulonglong total_ = 0;
};

}  // namespace pantry::app
