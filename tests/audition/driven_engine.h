// SPDX-License-Identifier: GPL-3.0-or-later
//
// An engine whose clock is the test's: sound is pulled block by block, waiting for the lanes rather
// than underrunning.
#pragma once

#include "audition/engine.h"
#include "support/fixtures.h"

namespace hr::test {

class DrivenEngine {
public:
    explicit DrivenEngine(double rate_hz = 48000) : engine(rate_hz) {}

    audition::Engine engine;

    /// Until what was asked for is in place and `engine` plays; false after ten seconds.
    bool settle()
    {
        for (int i = 0; i < 4000; ++i) {
            engine.tend();
            if (engine.isSettled())
                return true;
            QTest::qSleep(2);
            std::vector<float> block(2 * 64);
            engine.render(block.data(), 64);
        }
        return false;
    }

    /// Plays all of the source through these lanes; false after ten seconds.
    bool begin(const std::shared_ptr<const audition::Source>& source,
               const std::vector<audition::LaneSpec>& lanes)
    {
        engine.setSource(source, source->whole());
        engine.setLineUp(lanes);
        const bool settled = settle();
        engine.play();
        return settled;
    }

    /// Left and right, interleaved; each block waits until the lanes have it.
    std::vector<float> pull(std::size_t frames, std::size_t block = 128)
    {
        std::vector<float> out(2 * frames);
        for (std::size_t done = 0; done < frames;) {
            const std::size_t count = std::min(block, frames - done);
            engine.tend();
            // Enough for a ring that ran dry to be heard again.
            using audition::Lane;
            const auto enough =
                std::min(count + Lane::ahead_frames / 2, Lane::ahead_frames - Lane::stretch_frames);
            for (int waited_ms = 0; engine.readyFrames() < enough && waited_ms < 5000; ++waited_ms)
                QTest::qSleep(1); // the machine may be busy: nothing is to run dry here
            engine.render(out.data() + 2 * done, count);
            done += count;
        }
        return out;
    }
};

inline std::vector<float> side(const std::vector<float>& interleaved, std::size_t which)
{
    std::vector<float> one;
    for (std::size_t i = which; i < interleaved.size(); i += 2)
        one.push_back(interleaved[i]);
    return one;
}

} // namespace hr::test
