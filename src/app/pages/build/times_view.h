// SPDX-License-Identifier: GPL-3.0-or-later
//
// Note values at the tempo of the source, as times and as rates. A click puts one into the parameter in hand.
#pragma once

#include "services/source_tempo.h"

#include <QWidget>

class QLabel;
class QTableWidget;

namespace hr::app {

class TimesView : public QWidget {
    Q_OBJECT
public:
    explicit TimesView(SourceTempo& tempo, QWidget* parent = nullptr);

signals:
    void chosen(const QString& note);

private:
    void reload();

    SourceTempo& m_tempo;
    QLabel* m_told;
    QTableWidget* m_table;
};

} // namespace hr::app
