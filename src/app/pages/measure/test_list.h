// SPDX-License-Identifier: GPL-3.0-or-later
//
// The tests of the bench as a list: the one in sight is chosen, those ticked are run by Measure.
#pragma once

#include <QListWidget>

namespace hr::app {

class TestList : public QListWidget {
    Q_OBJECT
public:
    explicit TestList(QWidget* parent = nullptr);

    static constexpr auto checked = "checked";   ///< in place of a test: the bench against what is known
    static constexpr auto figures = "figures";   ///< in place of a test: all figures side by side
    static constexpr auto compared = "compared"; ///< in place of a test: whether they are the same
    static constexpr auto fit = "fit";           ///< in place of a test: one set like another
    static constexpr auto live = "live";         ///< in place of a test: what plays, as it plays
    static constexpr auto sweep = "sweep";       ///< in place of a test: a parameter through its range

    /// Key of the test that is to be seen; empty: the overview.
    QString current() const;
    void choose(const QString& key);
    /// Keys of those that are ticked, in the order of the suite.
    QStringList ticked() const;

signals:
    void chosen();
};

} // namespace hr::app
