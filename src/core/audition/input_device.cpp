// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/input_device.h"

namespace hr::audition {

std::vector<DeviceChoice> availableInputs()
{
    std::vector<DeviceChoice> choices = jackInputs();
    const auto others = pulseInputs();
    choices.insert(choices.end(), others.begin(), others.end());
    return choices;
}

Result<std::unique_ptr<InputDevice>> openInput(const DeviceChoice& choice)
{
    if (choice.system == "JACK")
        return openJackInput(choice.name);
    if (choice.system == "PulseAudio")
        return openPulseInput(choice.name);
    return wrongRequest("Nothing can be recorded from \"" + choice.system +
                        "\": choose an input of JACK or PulseAudio.");
}

} // namespace hr::audition
