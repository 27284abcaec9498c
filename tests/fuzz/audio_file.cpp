// SPDX-License-Identifier: GPL-3.0-or-later
//
// Whatever file is opened as sound: a sentence, or finite samples.
#include "signal/audio_file.h"
#include "fuzz.h"
#include "signal/finite.h"

using namespace hr;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const fuzz::MemoryFile file(data, size);
    const auto audio = signal::readAudioFile(file.path());
    if (audio)
        fuzz::must(audio->channels() >= 1 && audio->frames() > 0 && signal::allFinite(audio->samples()));
    else
        fuzz::must(!audio.error().text.empty());
    return 0;
}
