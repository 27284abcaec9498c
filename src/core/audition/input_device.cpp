// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/input_device.h"

namespace hr::audition {

std::vector<DeviceChoice> availableInputs()
{
    std::vector<DeviceChoice> choices = jackInputs();
    for (const auto& others : {pulseInputs(), alsaInputs()})
        choices.insert(choices.end(), others.begin(), others.end());
    return choices;
}

Result<std::unique_ptr<InputDevice>> openInput(const DeviceChoice& choice, double rate_hz)
{
    if (choice.system == "JACK")
        return openJackInput(choice.name);
    if (choice.system == "PulseAudio")
        return openPulseInput(choice.name, rate_hz);
    if (choice.system == "ALSA")
        return openAlsaInput(choice.name, rate_hz);
    return wrongRequest("Nothing can be recorded from \"" + choice.system +
                        "\": choose an input of JACK, PulseAudio or ALSA.");
}

} // namespace hr::audition
