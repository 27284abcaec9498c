// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the specimens share: a stereo LV2 effect with two inputs, two outputs and then its controls.
// A specimen is a struct with `static constexpr int controls`, a constructor from the sample rate and
// process(in, out, frames, controls).
#pragma once

#include <array>
#include <cstdint>
#include <lv2/core/lv2.h>

namespace specimens {

using Stereo = std::array<const float*, 2>;
using StereoOut = std::array<float*, 2>;

template<class T>
struct Instance {
    explicit Instance(double sample_rate_hz) : effect(sample_rate_hz) {}

    Stereo in{};
    StereoOut out{};
    std::array<float*, T::controls> ports{};
    T effect;
};

template<class T>
LV2_Handle make(const LV2_Descriptor*, double sample_rate_hz, const char*, const LV2_Feature* const*)
{
    return new Instance<T>(sample_rate_hz);
}

template<class T>
void connect(LV2_Handle handle, std::uint32_t port, void* data)
{
    auto& self = *static_cast<Instance<T>*>(handle);
    if (port < 2)
        self.in[port] = static_cast<const float*>(data);
    else if (port < 4)
        self.out[port - 2] = static_cast<float*>(data);
    else if (port - 4 < self.ports.size())
        self.ports[port - 4] = static_cast<float*>(data);
}

template<class T>
void run(LV2_Handle handle, std::uint32_t frames)
{
    auto& self = *static_cast<Instance<T>*>(handle);
    std::array<float, T::controls> values{};
    for (std::size_t i = 0; i < values.size(); ++i)
        values[i] = self.ports[i] ? *self.ports[i] : 0.0F;
    self.effect.process(self.in, self.out, frames, values);
}

template<class T>
void destroy(LV2_Handle handle)
{
    delete static_cast<Instance<T>*>(handle);
}

template<class T>
constexpr LV2_Descriptor descriptor(const char* uri)
{
    return {uri, make<T>, connect<T>, nullptr, run<T>, nullptr, destroy<T>, nullptr};
}

} // namespace specimens
