// SPDX-License-Identifier: GPL-3.0-or-later
//
// Plug-ins that are silent unless the host keeps its word about one LV2 feature each.
#include <array>
#include <bit>
#include <cstdint>
#include <cstring>
#include <lv2/atom/atom.h>
#include <lv2/buf-size/buf-size.h>
#include <lv2/core/lv2.h>
#include <lv2/options/options.h>
#include <lv2/state/state.h>
#include <lv2/urid/urid.h>
#include <lv2/worker/worker.h>

namespace {

struct Effect {
    const float* in = nullptr;
    float* out = nullptr;
    const LV2_Worker_Schedule* schedule = nullptr;
    const LV2_URID_Map* map = nullptr;
    std::uint32_t least_block = 0, most_block = 0;
    float gain = 0;
};

Effect& of(LV2_Handle handle)
{
    return *static_cast<Effect*>(handle);
}

LV2_Handle make(const LV2_Descriptor*, double, const char*, const LV2_Feature* const* features)
{
    auto* effect = new Effect;
    const LV2_Options_Option* options = nullptr;
    for (; *features; ++features) {
        const auto is = [&](const char* uri) { return std::strcmp((*features)->URI, uri) == 0; };
        if (is(LV2_URID__map))
            effect->map = static_cast<const LV2_URID_Map*>((*features)->data);
        if (is(LV2_WORKER__schedule))
            effect->schedule = static_cast<const LV2_Worker_Schedule*>((*features)->data);
        if (is(LV2_OPTIONS__options))
            options = static_cast<const LV2_Options_Option*>((*features)->data);
    }
    for (; options && options->key; ++options) {
        if (options->key == effect->map->map(effect->map->handle, LV2_BUF_SIZE__minBlockLength))
            effect->least_block = *static_cast<const std::uint32_t*>(options->value);
        if (options->key == effect->map->map(effect->map->handle, LV2_BUF_SIZE__maxBlockLength))
            effect->most_block = *static_cast<const std::uint32_t*>(options->value);
    }
    return effect;
}

void connect(LV2_Handle handle, std::uint32_t port, void* data)
{
    if (port == 0)
        of(handle).in = static_cast<const float*>(data);
    else
        of(handle).out = static_cast<float*>(data);
}

void pass(LV2_Handle handle, std::uint32_t frames)
{
    for (std::uint32_t i = 0; i < frames; ++i)
        of(handle).out[i] = of(handle).gain * of(handle).in[i];
}

void runFixed(LV2_Handle handle, std::uint32_t frames)
{
    Effect& self = of(handle);
    self.gain = frames == self.least_block && frames == self.most_block ? 1.0F : 0.0F;
    pass(handle, frames);
}

void runPower(LV2_Handle handle, std::uint32_t frames)
{
    runFixed(handle, frames);
    if (!std::has_single_bit(frames))
        std::memset(of(handle).out, 0, frames * sizeof(float));
}

void runWorking(LV2_Handle handle, std::uint32_t frames)
{
    const float half = 0.5F;
    of(handle).schedule->schedule_work(of(handle).schedule->handle, sizeof half, &half);
    pass(handle, frames);
}

LV2_Worker_Status work(LV2_Handle, LV2_Worker_Respond_Function respond, LV2_Worker_Respond_Handle to,
                       std::uint32_t, const void* data)
{
    const float doubled = 2 * *static_cast<const float*>(data);
    return respond(to, sizeof doubled, &doubled);
}

LV2_Worker_Status workDone(LV2_Handle handle, std::uint32_t, const void* data)
{
    of(handle).gain = *static_cast<const float*>(data);
    return LV2_WORKER_SUCCESS;
}

LV2_State_Status save(LV2_Handle handle, LV2_State_Store_Function store, LV2_State_Handle to, std::uint32_t,
                      const LV2_Feature* const*)
{
    const Effect& self = of(handle);
    const auto map = [&self](const char* uri) { return self.map->map(self.map->handle, uri); };
    return store(to, map("urn:honest-rack:tests:gain"), &self.gain, sizeof self.gain, map(LV2_ATOM__Float),
                 LV2_STATE_IS_POD | LV2_STATE_IS_PORTABLE);
}

LV2_State_Status restore(LV2_Handle handle, LV2_State_Retrieve_Function retrieve, LV2_State_Handle from,
                         std::uint32_t, const LV2_Feature* const*)
{
    Effect& self = of(handle);
    std::size_t size = 0;
    std::uint32_t type = 0;
    std::uint32_t flags = 0;
    const auto key = self.map->map(self.map->handle, "urn:honest-rack:tests:gain");
    if (const void* value = retrieve(from, key, &size, &type, &flags); value && size == sizeof(float))
        std::memcpy(&self.gain, value, sizeof(float));
    return LV2_STATE_SUCCESS;
}

const void* extension(const char* uri)
{
    static const LV2_Worker_Interface worker{work, workDone, nullptr};
    static const LV2_State_Interface state{save, restore};
    if (std::strcmp(uri, LV2_WORKER__interface) == 0)
        return &worker;
    return std::strcmp(uri, LV2_STATE__interface) == 0 ? &state : nullptr;
}

void destroy(LV2_Handle handle)
{
    delete static_cast<Effect*>(handle);
}

constexpr LV2_Descriptor effect(const char* uri, void (*run)(LV2_Handle, std::uint32_t))
{
    return {uri, make, connect, nullptr, run, nullptr, destroy, extension};
}

constexpr std::array effects{effect("urn:honest-rack:tests:fixed-block", runFixed),
                             effect("urn:honest-rack:tests:power-of-two-block", runPower),
                             effect("urn:honest-rack:tests:working", runWorking),
                             effect("urn:honest-rack:tests:default-state", pass),
                             effect("urn:honest-rack:tests:needs-option", pass)};

} // namespace

LV2_SYMBOL_EXPORT const LV2_Descriptor* lv2_descriptor(std::uint32_t index)
{
    return index < effects.size() ? &effects[index] : nullptr;
}
