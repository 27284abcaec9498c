// SPDX-License-Identifier: GPL-3.0-or-later
//
// A search where the cursor is, for the processor that is to stand there: before anything is typed those that
// were used lately, favourites, and every kind with what it is for.
#pragma once

#include "models/processor_model.h"
#include "widgets/search_popup.h"

#include <functional>

namespace hr::app {

class AddStage : public SearchPopup {
    Q_OBJECT
public:
    /// `take` is called with the id, once; not at all where nothing is chosen. `what` says what it is for.
    static void open(ProcessorModel& processors, QWidget* over, const QPoint& at, const QString& what,
                     std::function<void(const QString& id)> take);

private:
    AddStage(ProcessorModel& processors, QWidget* over, const QString& what,
             std::function<void(const QString& id)> take);
    void fill(const QString& text);
    void addHeading(const QString& text);
    void addProcessor(const library::Entry& entry);
    void addKinds();
    void take(const QListWidgetItem& item);

    ProcessorModel& m_processors;
    std::function<void(const QString& id)> m_take;
};

} // namespace hr::app
