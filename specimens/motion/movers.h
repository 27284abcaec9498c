// SPDX-License-Identifier: GPL-3.0-or-later
//
// What moves by itself: chorus, flanger, phaser, tremolo, vibrato; and what moves pitch and width.
#pragma once

#include "parts.h"

namespace specimens {

/// A delay that swings; what its children do with it differs in depth, feedback and blend.
struct SwingingDelay {
    explicit SwingingDelay(double rate) : rate_hz(rate)
    {
        for (auto& line : lines)
            line.reset(static_cast<std::size_t>(0.06 * rate));
    }

protected:
    void swing(const Stereo& in, const StereoOut& out, std::uint32_t frames, double speed_hz, double centre_ms,
               double depth_ms, double feedback, double blend, double apart)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double left = wheel.next(speed_hz, rate_hz);
            const std::array<double, 2> turn{left, std::sin(2 * std::numbers::pi * (wheel.cycles + apart))};
            for (std::size_t side = 0; side < 2; ++side) {
                const double late = between(lines[side], 0.001 * (centre_ms + depth_ms * turn[side]) * rate_hz);
                lines[side].push(in[side][i] + feedback * late);
                out[side][i] = static_cast<float>((1 - blend) * in[side][i] + blend * late);
            }
        }
    }

    double rate_hz;
    Wheel wheel;
    std::array<hr::signal::DelayLine, 2> lines;
};

struct Shoal : SwingingDelay {
    static constexpr About about{"shoal", "Shoal", "Saltmarsh Instruments", "ChorusPlugin",
                                 "A chorus: many where one was."};
    static constexpr std::array controls{Control{"rate_hz", "Rate", "hz", 0.05F, 5, 0.6F, Law::Logarithmic},
                                         Control{"depth_ms", "Depth", "ms", 0.1F, 8, 3},
                                         Control{"blend_percent", "Blend", "pc", 0, 100, 50}};
    using SwingingDelay::SwingingDelay;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<Shoal>& c)
    {
        swing(in, out, frames, c[0], 15, c[1], 0, c[2] / 100, 0.25);
    }
};

struct Undertow : SwingingDelay {
    static constexpr About about{"undertow", "Undertow", "Kelp & Cordage", "FlangerPlugin",
                                 "A flanger with feedback."};
    static constexpr std::array controls{Control{"rate_hz", "Rate", "hz", 0.02F, 3, 0.2F, Law::Logarithmic},
                                         Control{"depth_ms", "Depth", "ms", 0.1F, 3, 1.5F},
                                         Control{"feedback_percent", "Feedback", "pc", -90, 90, 50}};
    using SwingingDelay::SwingingDelay;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<Undertow>& c)
    {
        swing(in, out, frames, c[0], 0.2 + c[1], c[1], c[2] / 100, 0.5, 0);
    }
};

struct Flagstaff : SwingingDelay {
    static constexpr About about{"flagstaff", "Flagstaff", "Ferrylight", "ModulatorPlugin",
                                 "A vibrato, on both sides alike."};
    static constexpr std::array controls{Control{"rate_hz", "Rate", "hz", 0.5F, 12, 5, Law::Logarithmic},
                                         Control{"depth_cents", "Depth", "cent", 0, 80, 15}};
    using SwingingDelay::SwingingDelay;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<Flagstaff>& c)
    {
        const double depth_ms = 1000 * (std::exp2(c[1] / 1200) - 1) / (2 * std::numbers::pi * c[0]);
        swing(in, out, frames, c[0], depth_ms + 0.1, depth_ms, 0, 1, 0);
    }
};

/// Six first-order all-passes that sweep.
struct Eddy {
    static constexpr About about{"eddy", "Eddy", "Ninth Groyne", "PhaserPlugin", "A phaser of six stages."};
    static constexpr std::array controls{Control{"rate_hz", "Rate", "hz", 0.02F, 5, 0.3F, Law::Logarithmic},
                                         Control{"low_hz", "From", "hz", 60, 1000, 200, Law::Logarithmic},
                                         Control{"high_hz", "To", "hz", 500, 8000, 2500, Law::Logarithmic}};

    explicit Eddy(double rate) : rate_hz(rate) {}
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<Eddy>& c)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double part = 0.5 + 0.5 * wheel.next(c[0], rate_hz);
            const double turned_hz = std::min(0.45 * rate_hz, c[1] * std::pow(c[2] / c[1], part));
            const double a = AllPasses<6>::coefficientFor(turned_hz, rate_hz);
            for (std::size_t side = 0; side < 2; ++side)
                out[side][i] = static_cast<float>(0.5 * (in[side][i] + sides[side].next(in[side][i], a)));
        }
    }

private:
    double rate_hz;
    Wheel wheel;
    std::array<AllPasses<6>, 2> sides;
};

struct Swell {
    static constexpr About about{"swell", "Swell", "Bollard Works", "ModulatorPlugin",
                                 "A tremolo, from side to side if asked."};
    static constexpr std::array controls{Control{"rate_hz", "Rate", "hz", 0.1F, 15, 4, Law::Logarithmic},
                                         Control{"depth_db", "Depth", "db", 0, 30, 6},
                                         Control{"apart_deg", "Apart", "degree", 0, 180, 0}};

    explicit Swell(double rate) : rate_hz(rate) {}
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<Swell>& c)
    {
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double left = wheel.next(c[0], rate_hz);
            const std::array<double, 2> turn{left,
                                             std::sin(2 * std::numbers::pi * (wheel.cycles + c[2] / 360))};
            for (std::size_t side = 0; side < 2; ++side)
                out[side][i] = static_cast<float>(in[side][i] * fromDb(-c[1] * (0.5 - 0.5 * turn[side])));
        }
    }

private:
    double rate_hz;
    Wheel wheel;
};

struct Spreader {
    static constexpr About about{"spreader", "Spreader", "Saltmarsh Instruments", "SpatialPlugin",
                                 "Width: the side against the middle."};
    static constexpr std::array controls{Control{"width_db", "Width", "db", -40, 12, 3},
                                         Control{"balance_db", "Balance", "db", -12, 12, 0}};

    explicit Spreader(double) {}
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<Spreader>& c)
    {
        const double width = fromDb(c[0]);
        for (std::uint32_t i = 0; i < frames; ++i) {
            const double middle = 0.5 * (in[0][i] + in[1][i]);
            const double side = width * 0.5 * (in[0][i] - in[1][i]);
            out[0][i] = static_cast<float>(fromDb(-0.5 * c[1]) * (middle + side));
            out[1][i] = static_cast<float>(fromDb(0.5 * c[1]) * (middle - side));
        }
    }
};

/// Promises two channels and gives one twice.
struct TwinHulls {
    static constexpr About about{"twin-hulls", "Twin Hulls", "Ninth Groyne", "SpatialPlugin",
                                 "A stereo enhancer that leaves no stereo: both sides get the same."};
    static constexpr std::array controls{Control{"depth_percent", "Depth", "pc", 0, 100, 50}};

    explicit TwinHulls(double) {}
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<TwinHulls>& c)
    {
        for (std::uint32_t i = 0; i < frames; ++i)
            out[0][i] = out[1][i] = static_cast<float>((0.5 + 0.002 * c[0]) * (in[0][i] + in[1][i]));
    }
};

/// Two grains that cross over while they run at another speed.
struct Halyard {
    static constexpr About about{"halyard", "Halyard", "Kelp & Cordage", "PitchPlugin",
                                 "Pitch up or down by whole and part tones."};
    static constexpr std::array controls{Control{"shift_semitones", "Shift", "semitone12TET", -12, 12, 3},
                                         Control{"blend_percent", "Blend", "pc", 0, 100, 100}};
    static constexpr std::array presets{Preset{"Octave below", {{{"shift_semitones", -12}}}}};

    explicit Halyard(double rate) : grain(0.06 * rate)
    {
        for (auto& line : lines)
            line.reset(static_cast<std::size_t>(grain) + 4);
    }
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const Values<Halyard>& c)
    {
        const double step = (1 - std::exp2(c[0] / 12)) / grain;
        const double blend = c[1] / 100;
        for (std::uint32_t i = 0; i < frames; ++i) {
            at += step;
            at -= std::floor(at);
            for (std::size_t side = 0; side < 2; ++side) {
                lines[side].push(in[side][i]);
                double sum = 0;
                for (const double offset : {0.0, 0.5}) {
                    const double part = at + offset - std::floor(at + offset);
                    sum += std::pow(std::sin(std::numbers::pi * part), 2) * between(lines[side], part * grain);
                }
                out[side][i] = static_cast<float>((1 - blend) * in[side][i] + blend * sum);
            }
        }
    }

private:
    double grain, at = 0;
    std::array<hr::signal::DelayLine, 2> lines;
};

} // namespace specimens
