// SPDX-License-Identifier: GPL-3.0-or-later
//
// Something that shows what is live: it is computed only while it can be seen.
#pragma once

#include "models/live_tap.h"

#include <QWidget>

namespace hr::app {

class LiveViewer : public QWidget {
    Q_OBJECT
public:
    explicit LiveViewer(LiveTap& tap, QWidget* parent = nullptr);

protected:
    /// Whenever something new can be seen.
    virtual void refresh() = 0;
    LiveTap& tap() const { return m_tap; }
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    LiveTap& m_tap;
};

} // namespace hr::app
