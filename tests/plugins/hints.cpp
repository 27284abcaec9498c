// SPDX-License-Identifier: GPL-3.0-or-later
//
// A LADSPA plug-in with one control for every kind of hint, which puts out the value of the third; and one with
// a key input, which puts out what it gets there.
#include <algorithm>
#include <array>
#include <ladspa.h>

namespace {

constexpr std::array<const char*, 12> names{"In",    "Out",    "Level (dB)", "Cutoff [Hz]", "Part of the rate",
                                            "Steps", "On",     "Tuning",     "Free",        "Twin",
                                            "Twin",  "latency"};
constexpr auto control = LADSPA_PORT_INPUT | LADSPA_PORT_CONTROL;
constexpr std::array<LADSPA_PortDescriptor, 12> ports{LADSPA_PORT_INPUT | LADSPA_PORT_AUDIO,
                                                      LADSPA_PORT_OUTPUT | LADSPA_PORT_AUDIO,
                                                      control,
                                                      control,
                                                      control,
                                                      control,
                                                      control,
                                                      control,
                                                      control,
                                                      control,
                                                      control,
                                                      LADSPA_PORT_OUTPUT | LADSPA_PORT_CONTROL};
constexpr auto bounded = LADSPA_HINT_BOUNDED_BELOW | LADSPA_HINT_BOUNDED_ABOVE;
constexpr std::array<LADSPA_PortRangeHint, 12> ranges{
    {{0, 0, 0},
     {0, 0, 0},
     {bounded | LADSPA_HINT_DEFAULT_MAXIMUM, -30, 10},
     {bounded | LADSPA_HINT_LOGARITHMIC | LADSPA_HINT_DEFAULT_MIDDLE, 100, 10000},
     {bounded | LADSPA_HINT_SAMPLE_RATE | LADSPA_HINT_DEFAULT_MIDDLE, 0, 0.5F},
     {bounded | LADSPA_HINT_INTEGER | LADSPA_HINT_DEFAULT_LOW, 0, 7},
     {LADSPA_HINT_TOGGLED | LADSPA_HINT_DEFAULT_1, 0, 0},
     {bounded | LADSPA_HINT_DEFAULT_440, 400, 500},
     {LADSPA_HINT_DEFAULT_100, 0, 0},
     {bounded, 0, 1},
     {bounded, 0, 1},
     {0, 0, 0}}};

using Connections = std::array<LADSPA_Data*, 12>;

LADSPA_Handle make(const LADSPA_Descriptor*, unsigned long)
{
    return new Connections{};
}
void connectPort(LADSPA_Handle self, unsigned long port, LADSPA_Data* place)
{
    (*static_cast<Connections*>(self))[port] = place;
}
void run(LADSPA_Handle self, unsigned long frames)
{
    auto& at = *static_cast<Connections*>(self);
    std::fill_n(at[1], frames, *at[4]);
    *at[11] = 96;
}
void destroy(LADSPA_Handle self)
{
    delete static_cast<Connections*>(self);
}

const LADSPA_Descriptor plugin{0,
                               "hints",
                               0,
                               "Every hint",
                               "Honest Rack tests",
                               "",
                               names.size(),
                               ports.data(),
                               names.data(),
                               ranges.data(),
                               nullptr,
                               make,
                               connectPort,
                               nullptr,
                               run,
                               nullptr,
                               nullptr,
                               nullptr,
                               destroy};

constexpr std::array<const char*, 5> keyed_names{"Input", "Side-chain in", "Output", "Key out", "Attack (s)"};
constexpr std::array<LADSPA_PortDescriptor, 5> keyed_ports{
    LADSPA_PORT_INPUT | LADSPA_PORT_AUDIO, LADSPA_PORT_INPUT | LADSPA_PORT_AUDIO,
    LADSPA_PORT_OUTPUT | LADSPA_PORT_AUDIO, LADSPA_PORT_OUTPUT | LADSPA_PORT_AUDIO, control};
/// A place between bounds that are not there: no default at all.
constexpr std::array<LADSPA_PortRangeHint, 5> keyed_ranges{
    {{0, 0, 0},
     {0, 0, 0},
     {0, 0, 0},
     {0, 0, 0},
     {LADSPA_HINT_BOUNDED_BELOW | LADSPA_HINT_DEFAULT_HIGH, 0.1F, 0}}};

void runKeyed(LADSPA_Handle self, unsigned long frames)
{
    auto& at = *static_cast<Connections*>(self);
    std::copy_n(at[0], frames, at[2]);
    std::copy_n(at[1], frames, at[3]);
}

const LADSPA_Descriptor keyed{4711,
                              "keyed",
                              0,
                              "Nobody knows",
                              "Honest Rack tests",
                              "",
                              keyed_names.size(),
                              keyed_ports.data(),
                              keyed_names.data(),
                              keyed_ranges.data(),
                              nullptr,
                              make,
                              connectPort,
                              nullptr,
                              runKeyed,
                              nullptr,
                              nullptr,
                              nullptr,
                              destroy};

} // namespace

extern "C" __attribute__((visibility("default"))) const LADSPA_Descriptor*
ladspa_descriptor(unsigned long index)
{
    return index == 0 ? &plugin : index == 1 ? &keyed : nullptr;
}
