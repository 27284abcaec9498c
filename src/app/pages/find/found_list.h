// SPDX-License-Identifier: GPL-3.0-or-later
//
// The processors that were found, one a row.
#pragma once

#include "models/processor_model.h"

#include <QTableView>

namespace hr::app {

class EmptyState;

class FoundList : public QTableView {
    Q_OBJECT
public:
    explicit FoundList(ProcessorModel& processors, QWidget* parent = nullptr);

    QStringList selectedIds() const;
    QStringList unmeasuredInSight() const;
    /// What goes on while there is nothing to list yet; empty: nothing does.
    void setUnderWay(const QStringList& jobs);
    /// It alone, whatever keys are held at the moment.
    void makeCurrent(const QModelIndex& index);
    /// Those that are listed, and nothing else; the first of them in sight.
    void selectAll(const QStringList& ids);
    using QTableView::selectAll;

signals:
    /// Where nothing is found: this would be.
    void askInstead(const hr::library::Query& asked);

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void showNothing();

    ProcessorModel& m_processors;
    /// Over the empty list: to put another page in its place at one key and back at the next takes too long.
    EmptyState* m_nothing;
    QStringList m_under_way;
};

} // namespace hr::app
