// SPDX-License-Identifier: GPL-3.0-or-later
//
// What goes to the device, as levels for the strip: a reader of the sum.
#pragma once

#include "audition/engine.h"
#include "signal/loudness.h"

namespace hr::app {

class OutputMeter {
public:
    explicit OutputMeter(audition::Engine& engine);

    struct Levels {
        std::optional<double> momentary_lufs; ///< of the last 400 ms; empty below -70
        double peak_dbfs = -200;              ///< since the last read()
    };
    Levels read();

private:
    std::shared_ptr<audition::TapReader> m_reader;
    signal::LoudnessMeter m_meter;
};

} // namespace hr::app
