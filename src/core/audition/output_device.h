// SPDX-License-Identifier: GPL-3.0-or-later
//
// Who keeps time and takes the sound: JACK, PulseAudio or ALSA, or the silent device, a clock that throws the
// sound away. They are spoken to directly: a switch must not wait in a server's buffer, and a server that dies
// must not take us with it.
#pragma once

#include "signal/result.h"

#include <functional>
#include <memory>
#include <string>
#include <vector>

namespace hr::audition {

/// Fills interleaved stereo; called on the device's thread.
using RenderCallback = std::function<void(float* interleaved, std::size_t frames)>;

inline constexpr std::size_t most_at_once = 16384; ///< frames

struct DeviceChoice {
    std::string system; ///< "JACK", "PulseAudio", "ALSA" or "silent"
    std::string name;   ///< of the device within it; empty: its default

    friend bool operator==(const DeviceChoice&, const DeviceChoice&) = default;
};

class OutputDevice {
public:
    virtual ~OutputDevice() = default; ///< stops; the callback is not called any more afterwards

    virtual const DeviceChoice& choice() const = 0;
    virtual double rateHz() const = 0;
    /// How long what the callback fills takes to be heard, as far as the system tells; once it has been
    /// started.
    virtual std::size_t latencyFrames() const = 0;
    /// Begins to call `render`, with all frames that it takes at once in one call up to most_at_once. `lost` is
    /// called on any thread, once, when the server or the hardware has gone. Errors name the device and say
    /// why.
    virtual Result<void> start(
        RenderCallback render, std::function<void()> lost = [] {}) = 0;
    /// False once the server or the hardware has gone.
    virtual bool isAlive() const = 0;
    /// How often since start() the server or the hardware went on without our sound, because the callback came
    /// too late (an "xrun"). What the callback itself had not ready is counted by the engine.
    virtual std::size_t xruns() const = 0;
};

/// What can be chosen now, the silent device last. Asks the servers, so it takes a while.
std::vector<DeviceChoice> availableDevices();

/// Not started yet. An Error where the choice cannot be opened.
Result<std::unique_ptr<OutputDevice>> openDevice(const DeviceChoice& choice);

/// The silent device at another rate than its own.
std::unique_ptr<OutputDevice> openSilentDevice(double rate_hz);

/// The first of JACK, PulseAudio and ALSA that answers, else the silent device.
std::unique_ptr<OutputDevice> openBestDevice();

} // namespace hr::audition
