// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the specimens share: an LV2 effect whose ports are its inputs, its outputs, its key inputs, its
// controls and, where it tells one, its latency. A specimen is a struct with `about`, a table `controls`, a
// constructor from the sample rate and process(in, out, frames, values). describe.cpp writes the bundle's
// descriptions from the same tables.
#pragma once

#include <array>
#include <cstdint>
#include <cstring>
#include <lv2/atom/util.h>
#include <lv2/core/lv2.h>
#include <lv2/time/time.h>
#include <lv2/urid/urid.h>
#include <span>

namespace specimens {

/// Left, right, then the key's.
using Stereo = std::array<const float*, 4>;
using StereoOut = std::array<float*, 2>;

enum class Law { Linear, Logarithmic, Integer, Toggle };

struct Control {
    const char* symbol;
    const char* name;
    const char* unit; ///< of the LV2 units vocabulary ("db"), or a symbol of its own (":1"); "" for none
    float minimum, maximum, default_value;
    Law law = Law::Linear;
    const char* group = "";   ///< controls that belong together
    const char* choices = ""; ///< "0=soft,1=hard"
};

struct Preset {
    const char* name;
    std::array<std::pair<const char*, float>, 5> values; ///< up to five; the rest {nullptr, 0}
};

struct About {
    const char* slug; ///< its URI is urn:honest-rack:specimens:SLUG
    const char* name;
    const char* maker;
    const char* lv2_class; ///< "CompressorPlugin"
    const char* text;
    int inputs = 2, outputs = 2, keys = 0;
    bool tells_latency = false;
    bool takes_tempo = false;
};

template<class T>
constexpr int controlCount()
{
    if constexpr (requires { T::controls.size(); })
        return static_cast<int>(T::controls.size());
    else
        return T::controls;
}

template<class T>
constexpr About aboutOf()
{
    if constexpr (requires { T::about.slug; })
        return T::about;
    else
        return {};
}

template<class T>
using Values = std::array<float, static_cast<std::size_t>(controlCount<T>())>;

/// What a host says of tempo (http://lv2plug.in/ns/ext/time), as numbers of its own.
struct TempoWords {
    LV2_URID object = 0, position = 0, beats_per_minute = 0, a_float = 0;

    void lookUp(const LV2_Feature* const* features)
    {
        for (; features && *features; ++features)
            if (std::strcmp((*features)->URI, LV2_URID__map) == 0) {
                const auto* map = static_cast<const LV2_URID_Map*>((*features)->data);
                object = map->map(map->handle, LV2_ATOM__Object);
                position = map->map(map->handle, LV2_TIME__Position);
                beats_per_minute = map->map(map->handle, LV2_TIME__beatsPerMinute);
                a_float = map->map(map->handle, LV2_ATOM__Float);
            }
    }
    /// The last that was told in these events; 0: none.
    float tempoIn(const LV2_Atom_Sequence& events) const
    {
        float bpm = 0;
        LV2_ATOM_SEQUENCE_FOREACH(&events, event)
        {
            const auto* told = reinterpret_cast<const LV2_Atom_Object*>(&event->body);
            const LV2_Atom* value = nullptr;
            if (event->body.type == object && told->body.otype == position)
                lv2_atom_object_get(told, beats_per_minute, &value, 0);
            if (value && value->type == a_float)
                bpm = reinterpret_cast<const LV2_Atom_Float*>(value)->body;
        }
        return bpm;
    }
};

template<class T>
struct Instance {
    explicit Instance(double sample_rate_hz) : effect(sample_rate_hz) {}

    Stereo in{};
    StereoOut out{};
    std::array<float*, static_cast<std::size_t>(controlCount<T>())> ports{};
    float* latency = nullptr;
    const LV2_Atom_Sequence* time = nullptr; ///< where it is told the tempo
    TempoWords words;
    T effect;
};

template<class T>
LV2_Handle make(const LV2_Descriptor*, double sample_rate_hz, const char*, const LV2_Feature* const* features)
{
    auto* self = new Instance<T>(sample_rate_hz);
    if constexpr (aboutOf<T>().takes_tempo)
        self->words.lookUp(features);
    return self;
}

template<class T>
void connect(LV2_Handle handle, std::uint32_t port, void* data)
{
    constexpr About about = aboutOf<T>();
    auto& self = *static_cast<Instance<T>*>(handle);
    int index = static_cast<int>(port);
    if (index < about.inputs)
        self.in[static_cast<std::size_t>(index)] = static_cast<const float*>(data);
    else if ((index -= about.inputs) < about.outputs)
        self.out[static_cast<std::size_t>(index)] = static_cast<float*>(data);
    else if ((index -= about.outputs) < about.keys)
        self.in[static_cast<std::size_t>(2 + index)] = static_cast<const float*>(data);
    else if ((index -= about.keys) < controlCount<T>())
        self.ports[static_cast<std::size_t>(index)] = static_cast<float*>(data);
    else if (about.takes_tempo)
        self.time = static_cast<const LV2_Atom_Sequence*>(data);
    else
        self.latency = static_cast<float*>(data);
}

template<class T>
void run(LV2_Handle handle, std::uint32_t frames)
{
    auto& self = *static_cast<Instance<T>*>(handle);
    Values<T> values{};
    for (std::size_t i = 0; i < values.size(); ++i)
        values[i] = self.ports[i] ? *self.ports[i] : 0.0F;
    if constexpr (aboutOf<T>().takes_tempo)
        if (const float bpm = self.time ? self.words.tempoIn(*self.time) : 0; bpm > 0)
            self.effect.tempo_bpm = bpm;
    self.effect.process(self.in, self.out, frames, values);
    if constexpr (aboutOf<T>().tells_latency)
        if (self.latency)
            *self.latency = static_cast<float>(self.effect.latency());
}

template<class T>
void destroy(LV2_Handle handle)
{
    delete static_cast<Instance<T>*>(handle);
}

/// Those that can be reset without being made anew say so by a reset() of their own.
template<class T>
concept Resettable = requires(T& effect)
{
    effect.reset();
};

template<class T>
void activate(LV2_Handle handle)
{
    if constexpr (Resettable<T>)
        static_cast<Instance<T>*>(handle)->effect.reset();
}

template<class T>
constexpr LV2_Descriptor descriptor(const char* uri)
{
    return {uri,    make<T>, connect<T>, Resettable<T> ? activate<T> : nullptr,
            run<T>, nullptr, destroy<T>, nullptr};
}

} // namespace specimens
