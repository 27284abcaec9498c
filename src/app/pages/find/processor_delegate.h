// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "models/processor_model.h"

#include <QStyledItemDelegate>

namespace hr::app {

/// A row of the list: the name with what was searched for marked, the maker below it.
class ProcessorDelegate : public QStyledItemDelegate {
    Q_OBJECT
public:
    ProcessorDelegate(const ProcessorModel& model, QObject* parent)
        : QStyledItemDelegate(parent), m_model(model)
    {
    }

    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override;

private:
    void paintName(QPainter* painter, const QRect& box, const QModelIndex& index) const;

    const ProcessorModel& m_model;
};

} // namespace hr::app
