#pragma once

#include <QFrame>
#include <QVBoxLayout>

#include "core/data/view/column_profile.h"

namespace pantry::app {

/// The profile of one column.
class ProfileCard : public QFrame {
    Q_OBJECT

public:
    ProfileCard(const data::Column& column, std::size_t number, QWidget* parent = nullptr);

    void setProfile(const data::ColumnProfile& profile);

Q_SIGNALS:
    void conditionWanted(const pantry::data::Condition& condition);

private:
    void addFacts(const data::ColumnProfile& profile);
    void addCommonest(const data::ColumnProfile& profile);
    void addFarOut(const data::ColumnProfile& profile);

    data::Column column_;
    std::size_t number_;
    QVBoxLayout* layout_;
};

}  // namespace pantry::app
