// SPDX-License-Identifier: GPL-3.0-or-later
//
// Sound from outside: what another program plays, a microphone or a line, as JACK, PulseAudio and ALSA offer
// it.
#pragma once

#include "audition/output_device.h"

namespace hr::audition {

/// Takes interleaved stereo as it comes; called on the device's thread, where it takes no lock, allocates
/// nothing and makes no system call.
using CaptureCallback = std::function<void(const float* interleaved, std::size_t frames)>;

class InputDevice {
public:
    virtual ~InputDevice() = default; ///< stops; the callback is not called any more afterwards

    virtual const DeviceChoice& choice() const = 0;
    virtual double rateHz() const = 0;
    /// How old what comes in is when it is handed over, as far as the system tells; once it has been started.
    virtual std::size_t latencyFrames() const = 0;
    /// Begins to call `take`. `lost` is called on any thread, once, when the server or the other program has
    /// gone. Errors name the input and say why.
    virtual Result<void> start(
        CaptureCallback take, std::function<void()> lost = [] {}) = 0;
};

/// What can be listened at now: of JACK every client that puts something out, but this program; of PulseAudio
/// every source, what sinks play included; of ALSA the default and every card. Asks the servers, so it takes a
/// while.
std::vector<DeviceChoice> availableInputs();

/// Not started yet. What has one channel is heard on both sides. `rate_hz`: its system converts to it, except
/// JACK, which has one rate for all; 0: the input's own.
Result<std::unique_ptr<InputDevice>> openInput(const DeviceChoice& choice, double rate_hz = 0);

// One a system; empty, or an Error, where its server does not answer.
std::vector<DeviceChoice> jackInputs();
std::vector<DeviceChoice> pulseInputs();
std::vector<DeviceChoice> alsaInputs();
Result<std::unique_ptr<InputDevice>> openJackInput(const std::string& name);
Result<std::unique_ptr<InputDevice>> openPulseInput(const std::string& name, double rate_hz);
Result<std::unique_ptr<InputDevice>> openAlsaInput(const std::string& name, double rate_hz);

} // namespace hr::audition
