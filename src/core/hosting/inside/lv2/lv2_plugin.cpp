// SPDX-License-Identifier: GPL-3.0-or-later
//
// An LV2 plug-in as a Processor.
#include "hosting/inside/block_adapter.h"
#include "hosting/inside/format.h"
#include "hosting/inside/lv2/lv2_features.h"
#include "hosting/inside/lv2/lv2_presets.h"
#include "hosting/inside/lv2/lv2_state.h"
#include "hosting/inside/lv2/lv2_world.h"
#include "hosting/inside/shared_object.h"
#include "hosting/wire.h"

#include <algorithm>
#include <cmath>
#include <lv2/atom/atom.h>
#include <lv2/atom/forge.h>
#include <lv2/buf-size/buf-size.h>
#include <lv2/time/time.h>

namespace hr::hosting::inside {

namespace {

struct FreeInstance {
    void operator()(LilvInstance* instance) const
    {
        lilv_instance_deactivate(instance);
        lilv_instance_free(instance);
    }
};

class Lv2Plugin : public processors::Processor {
public:
    Lv2Plugin(World world, const LilvPlugin* plugin, Lv2Description description, bool fixed_block)
        : m_world(std::move(world)), m_plugin(plugin), m_info(std::move(description.info)),
          m_ports(std::move(description.ports)), m_fixed_block(fixed_block), m_controls(m_ports.size()),
          m_atoms(m_ports.size())
    {
        for (std::size_t i = 0; i < m_ports.size(); ++i)
            if (m_ports[i].role == PortRole::ControlIn)
                m_controls[i] = static_cast<float>(m_info.parameters[m_ports[i].parameter].default_value);
    }

    const processors::ProcessorInfo& info() const noexcept override { return m_info; }

    Result<void> prepare(const processors::PlayConditions& conditions) override
    {
        m_rate_hz = conditions.sample_rate_hz;
        for (const Lv2Port& port : m_ports)
            if (port.role == PortRole::ControlIn)
                setParameter(port.parameter,
                             static_cast<double>(m_controls[static_cast<std::size_t>(&port - m_ports.data())]));
        setTempo(conditions.tempo_bpm);
        const MadeFor made_for{conditions.sample_rate_hz, conditions.block_frames, m_state};
        // The next activate() forgets all that depends on what was heard (lv2core.ttl), where there is one.
        if (m_instance && conditions.may_keep_instance && m_made_for == made_for &&
            lilv_instance_get_descriptor(m_instance.get())->activate)
            lilv_instance_deactivate(m_instance.get());
        else if (auto made = make(conditions); !made)
            return made;
        m_made_for = made_for;
        lilv_instance_activate(m_instance.get());
        m_features->schedule().finish(m_instance.get());
        return {};
    }

    void setState(const std::string& state) override { m_state = state; }
    std::string state() const override
    {
        return m_instance ? stateOf(m_world.get(), *m_features, m_plugin, m_instance.get()) : m_state;
    }

    void setParameter(std::size_t index, double value) noexcept override
    {
        for (std::size_t i = 0; i < m_ports.size(); ++i)
            if (m_ports[i].role == PortRole::ControlIn && m_ports[i].parameter == index)
                m_controls[i] =
                    static_cast<float>(processors::insideAtRate(m_info.parameters[index], value, m_rate_hz));
    }

    void setTempo(double bpm) noexcept override
    {
        m_tempo_bpm = bpm;
        m_tempo_due = m_tempo_bpm > 0;
        for (std::size_t i = 0; i < m_ports.size() && m_tempo_due; ++i)
            if (m_ports[i].role == PortRole::ControlIn && m_ports[i].takes_tempo)
                setParameter(m_ports[i].parameter, m_tempo_bpm);
    }

    void process(const float* const* in, float* const* out, std::size_t frames) noexcept override
    {
        std::size_t audio_in = 0;
        std::size_t key_in = m_info.audio_in; // key channels come after the others
        std::size_t audio_out = 0;
        for (std::uint32_t i = 0; i < m_ports.size(); ++i) {
            switch (m_ports[i].role) {
            case PortRole::AudioIn:
                lilv_instance_connect_port(m_instance.get(), i, const_cast<float*>(in[audio_in++]));
                break;
            case PortRole::KeyIn:
                lilv_instance_connect_port(m_instance.get(), i, const_cast<float*>(in[key_in++]));
                break;
            case PortRole::AudioOut:
                lilv_instance_connect_port(m_instance.get(), i, out[audio_out++]);
                break;
            case PortRole::AtomIn:
            case PortRole::AtomOut:
                emptyAtom(i);
                break;
            default:
                break;
            }
        }
        m_tempo_due = false;
        lilv_instance_run(m_instance.get(), static_cast<std::uint32_t>(frames));
        m_features->schedule().finish(m_instance.get());
    }

    std::size_t latencySamples() const noexcept override
    {
        for (std::size_t i = 0; i < m_ports.size(); ++i)
            if (m_ports[i].is_latency)
                return processors::wholeLatency(static_cast<double>(m_controls[i]));
        return 0;
    }

private:
    struct MadeFor {
        double sample_rate_hz = 0;
        std::size_t block_frames = 0;
        std::string state;
        bool operator==(const MadeFor&) const = default;
    };

    Result<void> make(const processors::PlayConditions& conditions)
    {
        m_instance.reset();
        m_features = std::make_unique<Lv2Features>(conditions, m_fixed_block);
        m_words = wordsOf(*m_features);
        m_instance.reset(lilv_plugin_instantiate(m_plugin, conditions.sample_rate_hz, m_features->list()));
        if (!m_instance)
            return wrongRequest("it refuses to be made at " +
                                std::to_string(std::lround(conditions.sample_rate_hz)) + " Hz");
        m_unused.assign(conditions.block_frames, 0.0F);
        m_silence.assign(conditions.block_frames, 0.0F);
        for (std::uint32_t i = 0; i < m_ports.size(); ++i)
            connectOnce(i);
        // What it wants to begin with beside its controls, which are ours to set; then what it was given.
        restoreState(defaultState(m_world.get(), m_features->urids(), m_plugin));
        if (!m_state.empty() && !restoreState(stateFrom(m_world.get(), m_features->urids(), m_state)))
            return wrongRequest("the state it was given is not one of LV2");
        return {};
    }

    bool restoreState(const State& state)
    {
        if (state)
            lilv_state_restore(state.get(), m_instance.get(), nullptr, nullptr, 0, m_features->list());
        return state != nullptr;
    }

    /// What stays where it is for the life of the instance.
    void connectOnce(std::uint32_t i)
    {
        void* place = nullptr;
        switch (m_ports[i].role) {
        case PortRole::ControlIn:
        case PortRole::ControlOut:
            place = &m_controls[i];
            break;
        case PortRole::AtomIn:
        case PortRole::AtomOut:
            // In eights, because sequences hold 64-bit times.
            m_atoms[i].assign((m_ports[i].atom_bytes + sizeof(LV2_Atom_Sequence)) / 8 + 1, 0);
            place = m_atoms[i].data();
            break;
        case PortRole::CvIn:
            place = m_silence.data();
            break;
        case PortRole::CvOut:
            place = m_unused.data();
            break;
        default:
            break;
        }
        lilv_instance_connect_port(m_instance.get(), i, place);
    }

    void emptyAtom(std::uint32_t i) noexcept
    {
        auto* sequence = reinterpret_cast<LV2_Atom_Sequence*>(m_atoms[i].data());
        if (m_ports[i].role == PortRole::AtomIn) {
            sequence->atom = {sizeof(LV2_Atom_Sequence_Body), m_words.sequence};
            sequence->body = {0, 0};
            if (m_tempo_due && m_ports[i].takes_tempo)
                tellTempo(i);
        } else {
            sequence->atom = {static_cast<std::uint32_t>(m_ports[i].atom_bytes), m_words.chunk};
        }
    }

    /// As a transport that has just begun to move, at the first frame (http://lv2plug.in/ns/ext/time).
    void tellTempo(std::uint32_t i) noexcept
    {
        LV2_Atom_Forge& forge = m_words.forge;
        lv2_atom_forge_set_buffer(&forge, reinterpret_cast<std::uint8_t*>(m_atoms[i].data()),
                                  m_atoms[i].size() * sizeof(std::uint64_t));
        LV2_Atom_Forge_Frame sequence;
        LV2_Atom_Forge_Frame position;
        lv2_atom_forge_sequence_head(&forge, &sequence, 0);
        lv2_atom_forge_frame_time(&forge, 0);
        lv2_atom_forge_object(&forge, &position, 0, m_words.position);
        lv2_atom_forge_key(&forge, m_words.frame);
        lv2_atom_forge_long(&forge, 0);
        for (const auto& [key, value] : {std::pair(m_words.speed, 1.0F),
                                         {m_words.beats_per_minute, static_cast<float>(m_tempo_bpm)},
                                         {m_words.beats_per_bar, 4.0F},
                                         {m_words.bar_beat, 0.0F}}) {
            lv2_atom_forge_key(&forge, key);
            lv2_atom_forge_float(&forge, value);
        }
        lv2_atom_forge_key(&forge, m_words.bar);
        lv2_atom_forge_long(&forge, 0);
        lv2_atom_forge_key(&forge, m_words.beat_unit);
        lv2_atom_forge_int(&forge, 4);
        lv2_atom_forge_pop(&forge, &position);
        lv2_atom_forge_pop(&forge, &sequence);
    }

    /// What process() needs of the vocabulary: looking words up may lock.
    struct Words {
        LV2_URID sequence = 0, chunk = 0, position = 0, frame = 0, speed = 0, beats_per_minute = 0,
                 beats_per_bar = 0, beat_unit = 0, bar = 0, bar_beat = 0;
        LV2_Atom_Forge forge{};
    };
    static Words wordsOf(Lv2Features& features)
    {
        Words words{features.map(LV2_ATOM__Sequence),
                    features.map(LV2_ATOM__Chunk),
                    features.map(LV2_TIME__Position),
                    features.map(LV2_TIME__frame),
                    features.map(LV2_TIME__speed),
                    features.map(LV2_TIME__beatsPerMinute),
                    features.map(LV2_TIME__beatsPerBar),
                    features.map(LV2_TIME__beatUnit),
                    features.map(LV2_TIME__bar),
                    features.map(LV2_TIME__barBeat),
                    {}};
        lv2_atom_forge_init(&words.forge, features.urids());
        return words;
    }

    World m_world;
    const LilvPlugin* m_plugin;
    processors::ProcessorInfo m_info;
    std::vector<Lv2Port> m_ports;
    bool m_fixed_block;
    MadeFor m_made_for;  // the instance
    std::string m_state; // to begin with; empty: its default
    double m_rate_hz = processors::described_rate_hz;
    double m_tempo_bpm = 0;   // 0: none
    bool m_tempo_due = false; // with the next block
    Words m_words;
    std::vector<float> m_controls; // by port index: control inputs and outputs
    std::vector<std::vector<std::uint64_t>> m_atoms;
    std::vector<float> m_silence, m_unused;
    std::unique_ptr<Lv2Features> m_features;
    std::unique_ptr<LilvInstance, FreeInstance> m_instance; // before the features it was given
};

/// The library it names, opened once before lilv does, for a reason where that fails.
FaultOr<void> checkLibrary(const LilvPlugin* plugin)
{
    const LilvNode* uri = lilv_plugin_get_library_uri(plugin);
    char* name = uri ? lilv_file_uri_parse(lilv_node_as_uri(uri), nullptr) : nullptr;
    if (!name)
        return fault(Phase::Load, Cause::InvalidDescription, "it names no library (lv2:binary)");
    const std::string path = name;
    lilv_free(name);
    auto library = openSharedObject(path, {"lv2_descriptor", "lv2_lib_descriptor"});
    return library ? FaultOr<void>() : tl::make_unexpected(library.error());
}

bool requiresFeature(const Lv2Description& description, const char* feature)
{
    return std::ranges::find(description.required_features, feature) != description.required_features.end();
}

class HostedLv2 : public HostedFormat {
public:
    std::string key() const override { return "lv2"; }

    /// Reads text only; loads no library.
    FaultOr<BundleContents> describe(const std::filesystem::path& bundle) const override
    {
        const World world = openBundle(bundle);
        BundleContents contents = describeAll(world.get());
        contents.presets = presetsIn(world.get());
        if (contents.processors.empty() && contents.broken.empty() && contents.presets.empty() &&
            contents.left_out.empty() && !isTurtle(bundle / "manifest.ttl"))
            return fault(Phase::Read, Cause::InvalidDescription, "its manifest.ttl is not valid Turtle");
        return contents;
    }

    FaultOr<std::unique_ptr<processors::Processor>> load(const std::filesystem::path& bundle,
                                                         const std::string& id) const override
    {
        World world = openBundle(bundle);
        const LilvPlugin* plugin = findPlugin(world.get(), id.substr(id.find(':') + 1));
        if (!plugin)
            return fault(Phase::Read, Cause::InvalidDescription,
                         "the bundle " + bundle.string() + " does not describe it");
        auto description = inside::describe(world.get(), plugin);
        if (!description)
            return tl::make_unexpected(description.error());
        if (const std::string reason = whyNotHosted(description->info); !reason.empty())
            return fault(Phase::Load, Cause::UnsupportedFeature, reason);
        for (const std::string& feature : description->required_features)
            if (!Lv2Features::offers(feature))
                return fault(Phase::Load, Cause::UnsupportedFeature, feature);
        for (const std::string& option : description->required_options)
            if (!Lv2Features::offersOption(option))
                return fault(Phase::Load, Cause::UnsupportedFeature, "the option " + option);
        if (auto library = checkLibrary(plugin); !library)
            return tl::make_unexpected(library.error());
        const bool power_of_two = requiresFeature(*description, LV2_BUF_SIZE__powerOf2BlockLength);
        const bool fixed_block = power_of_two || requiresFeature(*description, LV2_BUF_SIZE__fixedBlockLength);
        std::unique_ptr<processors::Processor> made =
            std::make_unique<Lv2Plugin>(std::move(world), plugin, std::move(*description), fixed_block);
        if (fixed_block)
            made = std::make_unique<BlockAdapter>(std::move(made), power_of_two);
        return made;
    }
};

} // namespace

std::unique_ptr<HostedFormat> hostedLv2()
{
    return std::make_unique<HostedLv2>();
}

} // namespace hr::hosting::inside
