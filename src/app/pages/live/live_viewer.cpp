// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/live/live_viewer.h"

namespace hr::app {

LiveViewer::LiveViewer(LiveTap& tap, QWidget* parent) : QWidget(parent), m_tap(tap)
{
    connect(&m_tap, &LiveTap::updated, this, [this] {
        if (isVisible())
            refresh();
    });
}

void LiveViewer::showEvent(QShowEvent* event)
{
    QWidget::showEvent(event);
    m_tap.watch(this, true);
    refresh();
}

void LiveViewer::hideEvent(QHideEvent* event)
{
    QWidget::hideEvent(event);
    m_tap.watch(this, false);
}

} // namespace hr::app
