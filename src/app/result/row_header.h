#pragma once

#include <QHeaderView>

namespace pantry::app {

/// The numbers of the rows. Its width follows from how many digits the last one has: Qt's own way lays out the text of
/// two hundred numbers whenever rows are added.
class RowHeader : public QHeaderView {
    Q_OBJECT

public:
    explicit RowHeader(QWidget* parent = nullptr);
    [[nodiscard]] QSize sizeHint() const override;
};

}  // namespace pantry::app
