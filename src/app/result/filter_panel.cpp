#include "app/result/filter_panel.h"

#include <QHBoxLayout>
#include <QMenu>
#include <QScreen>
#include <QVBoxLayout>
#include <algorithm>

#include "app/base/background.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/result/result_names.h"
#include "app/result/rule_colours.h"
#include "core/base/text.h"

namespace pantry::app {
namespace {

constexpr std::size_t kCommonest = 200;
constexpr int kFilterWidth = 300;

}  // namespace

FilterPanel::FilterPanel(QWidget* parent)
    : QFrame(parent, Qt::Popup),
      heading_(makeLabel({}, "heading", this)),
      not_(new QCheckBox(tr("not"), this)),
      test_(new QComboBox(this)),
      value_(new QLineEdit(this)),
      second_(new QLineEdit(this)),
      common_(new QListWidget(this)),
      problem_(makeLabel({}, "bad", this)) {
    name(this, resultName::kFilterPanel, tr("Condition on a column"));
    setProperty("look", "card");
    Theme::fit(this, [this] { setFixedWidth(Theme::px(kFilterWidth)); });
    name(not_, resultName::kFilterNot, tr("Rows that do not fulfil it"));
    name(test_, resultName::kFilterTest, tr("What is asked"));
    name(value_, resultName::kFilterValue, tr("Value"));
    name(second_, resultName::kFilterSecond, tr("Second value"));
    name(common_, resultName::kFilterCommon, tr("Commonest values, to tick"));
    name(problem_, resultName::kFilterProblem, tr("What is wrong"));
    second_->setPlaceholderText(tr("and"));
    problem_->setWordWrap(true);
    for (QLineEdit* edit : {value_, second_}) edit->setProperty("look", "code");
    auto* apply = makeButton(tr("Show these rows"), "main", resultName::kFilterApply, tr("Apply the condition"), this);
    auto* row = new QHBoxLayout;
    row->addWidget(not_);
    row->addWidget(test_, 1);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 10, 12, 12);
    layout->setSpacing(7);
    layout->addWidget(heading_);
    layout->addLayout(row);
    layout->addWidget(value_);
    layout->addWidget(second_);
    layout->addWidget(common_, 1);
    layout->addWidget(problem_);
    auto* colours = makeButton(tr("Colour them ▾"), "plain", resultName::kFilterColour,
                               tr("Give the cells that fulfil the condition a colour"), this);
    auto* menu = new QMenu(colours);
    for (const char* one : kRuleColours) {
        connect(menu->addAction(colourSpot(one), QLatin1String(one)), &QAction::triggered, this,
                [this, one] { colour(QLatin1String(one)); });
    }
    colours->setMenu(menu);
    connect(not_, &QCheckBox::toggled, colours, &QWidget::setDisabled);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(apply, 1);
    buttons->addWidget(colours);
    layout->addLayout(buttons);
    connect(test_, &QComboBox::currentIndexChanged, this, &FilterPanel::showTest);
    connect(value_, &QLineEdit::returnPressed, this, &FilterPanel::accept);
    connect(second_, &QLineEdit::returnPressed, this, &FilterPanel::accept);
    connect(apply, &QPushButton::clicked, this, &FilterPanel::accept);
}

void FilterPanel::open(const data::ResultView& view, const data::Condition& condition, const QPoint& at) {
    columns_ = view.result()->columns();
    start_ = condition;
    const data::Column& column = columns_[condition.column];
    heading_->setText(tr("Rows whose %1").arg(toQt(column.name)));
    not_->setChecked(condition.isNegated);
    test_->clear();
    for (const data::Test test : data::testsFor(column)) test_->addItem(toQt(data::testText(test)), int(test));
    test_->setCurrentIndex(std::max(0, test_->findData(int(condition.test))));
    const auto& values = condition.values;
    value_->setText(values.empty() || condition.test == data::Test::OneOf ? QString() : toQt(values[0]));
    second_->setText(values.size() > 1 && condition.test == data::Test::Between ? toQt(values[1]) : QString());
    problem_->hide();
    common_->clear();
    showTest();
    cancellation_.request();
    cancellation_ = base::Cancellation();
    inBackground(
        this,
        [whole = data::ResultView(view.result()), c = condition.column, cancellation = cancellation_] {
            return data::commonestValues(whole, c, kCommonest, cancellation);
        },
        [this](const std::optional<std::vector<data::ColumnProfile::Common>>& found) {
            if (found) showCommon(*found);
        });
    adjustSize();
    const QRect screen = this->screen()->availableGeometry();
    move(std::min(at.x(), screen.right() - width()), std::min(at.y(), screen.bottom() - 360));
    QFrame::show();
    value_->setFocus();
}

data::Test FilterPanel::test() const { return static_cast<data::Test>(test_->currentData().toInt()); }

/// Only what the test wants is asked for.
void FilterPanel::showTest() {
    const auto operands = data::operandCount(test());
    value_->setVisible(operands && *operands > 0);
    second_->setVisible(operands == 2);
    common_->setVisible(!operands || test() == data::Test::Equals);
    problem_->hide();
    const bool isSpan = test() == data::Test::OlderThan;
    const bool isCount = test() == data::Test::Largest || test() == data::Test::Smallest;
    value_->setPlaceholderText(isSpan                          ? tr("30 days")
                               : isCount                       ? tr("10")
                               : test() == data::Test::Matches ? tr("a regular expression")
                                                               : tr("value"));
    adjustSize();
}

void FilterPanel::showCommon(const std::vector<data::ColumnProfile::Common>& values) {
    for (const auto& value : values) {
        auto* item =
            new QListWidgetItem(tr("%1 ×  %2")
                                    .arg(toQt(base::grouped(static_cast<std::int64_t>(value.count))),
                                         value.text.empty() ? tr("(empty text)") : toQt(base::oneLine(value.text, 60))),
                                common_);
        item->setData(Qt::UserRole, QByteArray::fromStdString(value.text));
        item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
        const bool isTicked =
            start_.test == data::Test::OneOf && std::ranges::find(start_.values, value.text) != start_.values.end();
        item->setCheckState(isTicked ? Qt::Checked : Qt::Unchecked);
    }
}

/// Ticks speak for themselves, whatever test stands above them.
data::Condition FilterPanel::condition() const {
    data::Condition out{.column = start_.column, .test = test(), .isNegated = not_->isChecked()};
    if (!common_->isHidden()) {
        for (int i = 0; i < common_->count(); ++i) {
            const QListWidgetItem* item = common_->item(i);
            if (item->checkState() == Qt::Checked)
                out.values.push_back(item->data(Qt::UserRole).toByteArray().toStdString());
        }
        if (!out.values.empty()) {
            out.test = data::Test::OneOf;
            return out;
        }
    }
    const std::size_t wanted = data::operandCount(out.test).value_or(0);
    if (wanted > 0) out.values.push_back(fromQt(value_->text()));
    if (wanted > 1) out.values.push_back(fromQt(second_->text()));
    return out;
}

void FilterPanel::accept() {
    const data::Condition wanted = condition();
    if (!check(wanted)) return;
    hide();
    Q_EMIT accepted(wanted);
}

void FilterPanel::colour(const QString& colour) {
    const data::Condition wanted = condition();
    if (!check(wanted)) return;
    hide();
    Q_EMIT colourWanted(wanted, colour);
}

bool FilterPanel::check(const data::Condition& wanted) {
    const Status status = data::checkCondition(wanted, columns_);
    if (status) return true;
    problem_->setText(toQt(status.error()));
    problem_->show();
    adjustSize();
    return false;
}

}  // namespace pantry::app

#include "moc_filter_panel.cpp"
