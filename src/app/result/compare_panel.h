#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QFrame>
#include <QLabel>
#include <QListWidget>
#include <QPointer>
#include <QProgressBar>
#include <QPushButton>
#include <functional>
#include <vector>

#include "app/source/result_source.h"
#include "core/data/view/comparison.h"

namespace pantry::app {

/// Lays two results beside each other: chooses the other one, and the columns by which rows belong together; the
/// differences become a source of their own.
class ComparePanel : public QFrame {
    Q_OBJECT

public:
    /// `sources` gives the results with rows that are open, those beside this one first.
    explicit ComparePanel(std::function<std::vector<ResultSource*>()> sources, QWidget* parent = nullptr);
    ~ComparePanel() override;

    /// `primaryKey`: the columns of the source that are the key of their table, as far as that is known.
    void open(ResultSource* source, const std::vector<std::size_t>& primaryKey);

Q_SIGNALS:
    /// The differences are there, with a title for them and words that sum them up.
    void compared(const QString& title, const data::ResultSetPtr& differences, const QString& text);
    void closeRequested();

private:
    void offerSources(ResultSource* after);
    void noteCards();
    void showKeys(const std::vector<std::size_t>& proposed);
    void proposeKeys();
    [[nodiscard]] std::vector<std::size_t> keysOfTable() const;
    void swap();
    void start();
    void stop();
    void finish(const std::optional<data::Comparison>& comparison, const data::ResultSetPtr& rows);
    void refresh();
    [[nodiscard]] ResultSource* sourceIn(const QComboBox* box) const;
    [[nodiscard]] std::vector<std::size_t> keys() const;
    [[nodiscard]] QString columnWords() const;
    [[nodiscard]] QString partText() const;

    std::function<std::vector<ResultSource*>()> sources_;
    std::vector<QPointer<ResultSource>> offered_;
    data::ColumnMatch match_;
    QComboBox* before_;
    QComboBox* after_;
    QLabel* label_;
    QListWidget* keys_;
    QCheckBox* sameRows_;
    QPushButton* start_;
    QPushButton* stop_;
    QProgressBar* progress_;
    QLabel* state_;
    bool isRunning_ = false;
    base::Cancellation cancellation_;
    base::Cancellation proposal_;
    QPointer<ResultSource> keyed_;  // the source whose key is known
    std::vector<std::size_t> primaryKey_;
};

}  // namespace pantry::app
