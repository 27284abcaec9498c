// SPDX-License-Identifier: GPL-3.0-or-later
//
// An engine whose clock is the test's: sound is pulled block by block, waiting for the lanes rather
// than underrunning.
#pragma once

#include "audition/engine.h"
#include "support/fixtures.h"

namespace hr::test {

inline audition::ContenderSpec contender(audition::ContenderId id, hosting::Location location = {},
                                         std::vector<double> values = {}, std::optional<double> gain_db = 0.0)
{
    return {id, 1, std::move(location), std::move(values), gain_db};
}

class DrivenEngine {
public:
    explicit DrivenEngine(double rate_hz = 48000) : engine(rate_hz) {}

    audition::Engine engine;

    /// Without playing on, until what was asked for is in place; false after ten seconds.
    bool settle()
    {
        for (int i = 0; i < 5000; ++i) {
            engine.applyPending();
            if (engine.isSettled())
                return true;
            QTest::qSleep(2);
            std::vector<float> none(2);
            engine.render(none.data(), 0);
        }
        return false;
    }

    /// Plays all of the source through these, the first of them heard; false after ten seconds.
    bool begin(const std::shared_ptr<const audition::Source>& source,
               std::vector<audition::ContenderSpec> contenders)
    {
        engine.hear(contenders.front().id);
        engine.setScene({source, source->whole(), std::move(contenders)});
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
            engine.applyPending();
            // The machine may be busy: nothing is to run dry here.
            const std::size_t enough = engine.aheadFrames() - audition::Lane::stretch_frames;
            for (int waited_ms = 0; engine.readyFrames() < enough && waited_ms < 5000; ++waited_ms)
                QTest::qSleep(1);
            engine.render(out.data() + 2 * done, count);
            done += count;
        }
        return out;
    }

    /// Plays on until what was asked for is in place, and as much again as `frames`; empty after ten seconds.
    std::vector<float> pullThrough(std::size_t frames, std::size_t block = 128)
    {
        std::vector<float> out;
        const auto add = [&out](const std::vector<float>& more) {
            out.insert(out.end(), more.begin(), more.end());
        };
        for (int i = 0; i < 5000 && !engine.isSettled(); ++i) {
            add(pull(block, block));
            QTest::qSleep(2);
        }
        if (!engine.isSettled())
            return {};
        add(pull(frames, block));
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
