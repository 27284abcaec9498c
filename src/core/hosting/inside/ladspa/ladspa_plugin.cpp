// SPDX-License-Identifier: GPL-3.0-or-later
//
// LADSPA through its header. A library describes itself only by being loaded.
#include "hosting/inside/format.h"
#include "hosting/inside/ladspa/ladspa_description.h"
#include "hosting/inside/shared_object.h"
#include "hosting/path_text.h"
#include "hosting/wire.h"
#include "processors/plain_text.h"

#include <algorithm>
#include <cmath>
#include <dlfcn.h>

namespace hr::hosting::inside {

namespace {

class LadspaPlugin : public processors::Processor {
public:
    LadspaPlugin(const LADSPA_Descriptor& plugin, processors::ProcessorInfo info)
        : m_plugin(plugin), m_info(std::move(info)), m_controls(plugin.PortCount)
    {
        for (unsigned long port = 0; port < plugin.PortCount; ++port) {
            const auto what = plugin.PortDescriptors[port];
            if (isKeyInput(plugin, port))
                m_key_in.push_back(port);
            else if (LADSPA_IS_PORT_AUDIO(what))
                (LADSPA_IS_PORT_INPUT(what) ? m_audio_in : m_audio_out).push_back(port);
            else if (LADSPA_IS_PORT_INPUT(what))
                m_control_in.push_back(port);
            else if (tellsLatency(plugin, port))
                m_latency = port;
        }
        for (std::size_t i = 0; i < m_control_in.size(); ++i)
            setParameter(i, m_info.parameters[i].default_value);
    }
    ~LadspaPlugin() override { end(); }
    LadspaPlugin(const LadspaPlugin&) = delete;
    LadspaPlugin& operator=(const LadspaPlugin&) = delete;

    const processors::ProcessorInfo& info() const noexcept override { return m_info; }

    Result<void> prepare(const processors::PlayConditions& conditions) override
    {
        const bool keeps = m_instance && conditions.may_keep_instance && m_plugin.activate &&
                           m_rate_hz == conditions.sample_rate_hz;
        m_rate_hz = conditions.sample_rate_hz;
        if (keeps && m_plugin.deactivate)
            m_plugin.deactivate(m_instance); // the next activate() forgets what was heard (ladspa.h)
        if (!keeps) {
            end();
            const auto rate = static_cast<unsigned long>(std::lround(m_rate_hz));
            m_instance = m_plugin.instantiate(&m_plugin, rate);
            if (!m_instance)
                return wrongRequest("it refuses to be made at " + std::to_string(rate) + " Hz");
        }
        for (std::size_t i = 0; i < m_control_in.size(); ++i)
            keepInside(i);
        for (unsigned long port = 0; port < m_plugin.PortCount; ++port)
            if (LADSPA_IS_PORT_CONTROL(m_plugin.PortDescriptors[port]))
                m_plugin.connect_port(m_instance, port, &m_controls[port]);
        if (m_plugin.activate)
            m_plugin.activate(m_instance);
        return {};
    }

    void setParameter(std::size_t index, double value) noexcept override
    {
        m_controls[m_control_in[index]] = static_cast<float>(value);
        keepInside(index);
    }

    void process(const float* const* in, float* const* out, std::size_t frames) noexcept override
    {
        for (std::size_t c = 0; c < m_audio_in.size(); ++c)
            m_plugin.connect_port(m_instance, m_audio_in[c], const_cast<float*>(in[c]));
        for (std::size_t k = 0; k < m_key_in.size(); ++k)
            m_plugin.connect_port(m_instance, m_key_in[k], const_cast<float*>(in[m_audio_in.size() + k]));
        for (std::size_t c = 0; c < m_audio_out.size(); ++c)
            m_plugin.connect_port(m_instance, m_audio_out[c], out[c]);
        m_plugin.run(m_instance, frames);
    }

    std::size_t latencySamples() const noexcept override
    {
        return m_latency ? processors::wholeLatency(static_cast<double>(m_controls[*m_latency])) : 0;
    }

private:
    /// Bounds that scale with the rate are described at 48 kHz; at a lower one they are nearer.
    void keepInside(std::size_t index) noexcept
    {
        float& value = m_controls[m_control_in[index]];
        value = static_cast<float>(
            processors::insideAtRate(m_info.parameters[index], static_cast<double>(value), m_rate_hz));
    }

    void end()
    {
        if (!m_instance)
            return;
        if (m_plugin.deactivate)
            m_plugin.deactivate(m_instance);
        m_plugin.cleanup(m_instance);
        m_instance = nullptr;
    }

    const LADSPA_Descriptor& m_plugin;
    processors::ProcessorInfo m_info;
    LADSPA_Handle m_instance = nullptr;
    double m_rate_hz = processors::described_rate_hz;
    std::vector<LADSPA_Data> m_controls; // by port: control inputs and outputs
    std::vector<unsigned long> m_audio_in, m_key_in, m_audio_out, m_control_in;
    std::optional<unsigned long> m_latency;
};

FaultOr<LADSPA_Descriptor_Function> openEntry(const std::filesystem::path& file)
{
    auto library = openSharedObject(file, {"ladspa_descriptor"});
    if (!library)
        return tl::make_unexpected(library.error());
    return reinterpret_cast<LADSPA_Descriptor_Function>(dlsym(*library, "ladspa_descriptor"));
}

class HostedLadspa : public HostedFormat {
public:
    std::string key() const override { return "ladspa"; }

    /// Every effect of the library; generators (no audio in) are left out.
    FaultOr<BundleContents> describe(const std::filesystem::path& file) const override
    {
        auto entry = openEntry(file);
        if (!entry)
            return tl::make_unexpected(entry.error());
        BundleContents contents;
        for (unsigned long i = 0; const LADSPA_Descriptor* plugin = (*entry)(i); ++i) {
            auto info = inside::describe(*plugin, file);
            if (!info)
                contents.broken.push_back(
                    {"ladspa:" + pathText(file.stem()) + ":" +
                         (plugin->Label ? processors::plainText(plugin->Label, processors::longest_name)
                                        : std::to_string(i)),
                     info.error()});
            else if (const std::string reason = whyNotHosted(*info); !reason.empty())
                contents.left_out.push_back({info->id, info->name, reason});
            else
                contents.processors.push_back(std::move(*info));
        }
        return contents;
    }

    FaultOr<std::unique_ptr<processors::Processor>> load(const std::filesystem::path& file,
                                                         const std::string& id) const override
    {
        const std::string label = id.substr(id.rfind(':') + 1);
        auto entry = openEntry(file);
        if (!entry)
            return tl::make_unexpected(entry.error());
        for (unsigned long i = 0; const LADSPA_Descriptor* plugin = (*entry)(i); ++i) {
            if (!plugin->Label || label != processors::plainText(plugin->Label, processors::longest_name))
                continue;
            auto info = inside::describe(*plugin, file);
            if (!info)
                return tl::make_unexpected(info.error());
            if (const std::string reason = whyNotHosted(*info); !reason.empty())
                return fault(Phase::Load, Cause::UnsupportedFeature, reason);
            return std::make_unique<LadspaPlugin>(*plugin, std::move(*info));
        }
        return fault(Phase::Load, Cause::MissingSymbol, "\"" + label + "\" in " + file.string());
    }
};

} // namespace

std::unique_ptr<HostedFormat> hostedLadspa()
{
    return std::make_unique<HostedLadspa>();
}

} // namespace hr::hosting::inside
