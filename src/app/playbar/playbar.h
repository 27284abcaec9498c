// SPDX-License-Identifier: GPL-3.0-or-later
//
// The strip that never goes away: source, section, play; output level, limiter, device; fair line.
#pragma once

#include "actions/action_list.h"
#include "models/blind_trials.h"
#include "models/line_up.h"
#include "playbar/source_menu.h"

#include <QFrame>

class QComboBox;
class QPushButton;
class QLabel;

namespace hr::app {

class ElidedLabel;
class FairLine;
class WaveformView;

class Playbar : public QFrame {
    Q_OBJECT
public:
    struct Services {
        Transport& transport;
        OutputSwitch& output;
        LineUp& line_up;
        BlindTrials& trials;
        SourceList& sources;
        SourceNotes& notes;
        SourceTempo& tempo;
        OutsideInput& outside;
        LivePlay& live_play;
        ActionList& actions;
        Jobs& jobs;
        Notices& notices;
    };
    /// Adds what it can do to the actions.
    explicit Playbar(const Services& services, QWidget* parent = nullptr);

private:
    void addActions();
    void coverForTrial();
    SourceMenuServices sourceServices() const;
    QWidget* makeSource();
    QWidget* makeWaveform();
    QWidget* makeFairness();
    void showSource();
    void showLive();
    void showPosition(std::size_t frame);
    void showLevels(const OutputLevels& levels);
    void showLimiter(bool holds);
    void showUnderruns(const Underruns& underruns);
    void showFairness();
    void showMonitor();
    void fillDevices();
    void showDevices(const std::vector<audition::DeviceChoice>& choices);

    const Services m_services;
    ElidedLabel* m_name = nullptr;
    ElidedLabel* m_about = nullptr;
    QPushButton* m_play = nullptr;
    QPushButton* m_next = nullptr;
    QPushButton* m_sources = nullptr;
    QLabel* m_position = nullptr;
    WaveformView* m_waveform = nullptr;
    ElidedLabel* m_loop = nullptr;
    QLabel* m_levels = nullptr;
    QLabel* m_limiter = nullptr;
    ElidedLabel* m_listened = nullptr;
    QLabel* m_underruns = nullptr;
    QComboBox* m_device = nullptr;
    QLabel* m_fair = nullptr;
    FairLine* m_line = nullptr;
    int m_limiter_ticks = 0; // the light stays on long enough to be seen
    std::size_t m_underruns_shown = 0;
};

} // namespace hr::app
