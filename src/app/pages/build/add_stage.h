// SPDX-License-Identifier: GPL-3.0-or-later
//
// A search where the cursor is, for the processor that is to stand there: before anything is typed those that
// were used lately, favourites, and every kind with what it is for.
#pragma once

#include "models/processor_model.h"

#include <QWidget>
#include <functional>

class QLineEdit;
class QListWidget;

namespace hr::app {

class AddStage : public QWidget {
    Q_OBJECT
public:
    /// `take` is called with the id, once; not at all where nothing is chosen. `what` says what it is for.
    static void open(ProcessorModel& processors, QWidget* over, const QPoint& at, const QString& what,
                     std::function<void(const QString& id)> take);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    AddStage(ProcessorModel& processors, QWidget* over, const QString& what,
             std::function<void(const QString& id)> take);
    void fill(const QString& text);
    void addHeading(const QString& text);
    void addProcessor(const library::Entry& entry);
    void addKinds();
    void takeCurrent();
    void step(int rows);

    ProcessorModel& m_processors;
    std::function<void(const QString& id)> m_take;
    QLineEdit* m_edit;
    QListWidget* m_list;
};

} // namespace hr::app
