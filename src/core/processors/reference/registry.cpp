// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/reference/registry.h"

#include "processors/reference/anchors.h"
#include "processors/reference/clips.h"
#include "processors/reference/dynamics.h"
#include "processors/reference/filters.h"
#include "processors/reference/gain.h"
#include "processors/reference/grain.h"
#include "processors/reference/movements.h"
#include "processors/reference/times.h"

#include <array>

namespace hr::processors {

namespace {

template<class T>
std::unique_ptr<Processor> make()
{
    return std::make_unique<T>();
}

using Maker = std::unique_ptr<Processor> (*)();
constexpr std::array<std::pair<const char*, Maker>, 19> references{{{"gain", make<Gain>},
                                                                    {"low-pass", make<LowPass>},
                                                                    {"high-pass", make<HighPass>},
                                                                    {"peak-filter", make<PeakFilter>},
                                                                    {"low-shelf", make<LowShelf>},
                                                                    {"high-shelf", make<HighShelf>},
                                                                    {"hard-clip", make<HardClip>},
                                                                    {"cubic-clip", make<CubicClip>},
                                                                    {"compressor", make<Compressor>},
                                                                    {"gate", make<Gate>},
                                                                    {"feedback-delay", make<FeedbackDelay>},
                                                                    {"noise-reverb", make<NoiseReverb>},
                                                                    {"tremolo", make<Tremolo>},
                                                                    {"vibrato", make<Vibrato>},
                                                                    {"added-noise", make<AddedNoise>},
                                                                    {"reduction", make<Reduction>},
                                                                    {"width", make<Width>},
                                                                    {"added-latency", make<AddedLatency>},
                                                                    {"anchor", make<AnchorLowPass>}}};
constexpr std::string_view prefix = "reference:";

} // namespace

std::unique_ptr<Processor> makeReference(const std::string& id)
{
    for (const auto& [name, maker] : references)
        if (isReferenceId(id) && id.substr(prefix.size()) == name)
            return maker();
    return nullptr;
}

bool isReferenceId(const std::string& id)
{
    return id.starts_with(prefix);
}

std::vector<ProcessorInfo> referenceInfos()
{
    std::vector<ProcessorInfo> infos;
    for (const auto& [name, maker] : references)
        infos.push_back(maker()->info());
    return infos;
}

} // namespace hr::processors
