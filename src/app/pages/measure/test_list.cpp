// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/measure/test_list.h"

#include "bench/suite.h"

namespace hr::app {

namespace {

constexpr int key_role = Qt::UserRole;
constexpr int test_row_px = 22;

} // namespace

TestList::TestList(QWidget* parent) : QListWidget(parent)
{
    setObjectName(QStringLiteral("tests"));
    setAccessibleName(tr("tests"));
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* overview = new QListWidgetItem(tr("Overview"), this);
    overview->setSizeHint({0, test_row_px});
    auto* figures_of_all = new QListWidgetItem(tr("All figures"), this);
    figures_of_all->setData(key_role, QLatin1String(figures));
    figures_of_all->setSizeHint({0, test_row_px});
    for (const bench::TestInfo& test : bench::allTests()) {
        auto* item = new QListWidgetItem(QString::fromStdString(test.name), this);
        item->setData(key_role, QString::fromStdString(test.key));
        item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
        item->setCheckState(test.key == "trust" ? Qt::Unchecked : Qt::Checked); // it takes half a minute
        item->setSizeHint({0, test_row_px});
        item->setToolTip(tr("Ticked: run by Measure"));
    }
    for (const auto& [key, words] : {std::pair(sweep, tr("Sweep a parameter")),
                                     {fit, tr("Set one like another")},
                                     {compared, tr("Are they the same?")},
                                     {live, tr("Live")},
                                     {checked, tr("The bench itself")}}) {
        auto* item = new QListWidgetItem(words, this);
        item->setData(key_role, QLatin1String(key));
        item->setSizeHint({0, test_row_px});
    }
    setCurrentRow(0);
    connect(this, &QListWidget::currentRowChanged, this, &TestList::chosen);
}

QString TestList::current() const
{
    return currentItem() ? currentItem()->data(key_role).toString() : QString();
}

void TestList::choose(const QString& key)
{
    for (int row = 0; row < count(); ++row)
        if (item(row)->data(key_role).toString() == key)
            setCurrentRow(row);
}

QStringList TestList::ticked() const
{
    QStringList keys;
    for (int row = 1; row < count(); ++row)
        if (item(row)->flags().testFlag(Qt::ItemIsUserCheckable) && item(row)->checkState() == Qt::Checked)
            keys << item(row)->data(key_role).toString();
    return keys;
}

} // namespace hr::app
