// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/network.h"

#include "processors/states.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>

namespace hr::processors {

namespace {

void resize(StereoBuffer& buffer, std::size_t frames)
{
    for (auto& channel : buffer)
        channel.assign(frames, 0.0F);
}

/// What people read before the names of a node's parameters: "2 Leveler", "bands b1".
std::string titleOf(const Node& node, std::size_t stage_count, const Processor* processor)
{
    if (node.kind != NodeKind::Stage)
        return word(node.kind) + " " + node.id;
    return std::to_string(stage_count) + " " + (processor ? processor->info().name : "missing");
}

/// What a stage says, as of the whole: its parameters begin elsewhere there, and its latency is not all.
class StageEvents : public EventSink {
public:
    StageEvents(EventSink& chain, std::size_t first_parameter) : m_chain(chain), m_first(first_parameter) {}

    void parameterMoved(std::size_t index, double value) override
    {
        m_chain.parameterMoved(m_first + index, value);
    }
    void gestureBegan(std::size_t index) override { m_chain.gestureBegan(m_first + index); }
    void gestureEnded(std::size_t index) override { m_chain.gestureEnded(m_first + index); }
    void stateChanged() override { m_chain.stateChanged(); }
    void latencyChanged(std::size_t) override {} // the chain's own is told with each run
    void wantsRestart() override { m_chain.wantsRestart(); }

private:
    EventSink& m_chain;
    const std::size_t m_first;
};

} // namespace

Result<std::unique_ptr<Network>> Network::make(const std::string& id, const std::string& name,
                                               const Graph& graph, Stages stages)
{
    auto schedule = compile(graph);
    if (!schedule)
        return tl::make_unexpected(schedule.error());
    std::unique_ptr<Network> network(new Network(graph, std::move(*schedule)));
    std::size_t stage_count = 0;
    for (const Node& node : graph.nodes) {
        std::unique_ptr<Processor> processor;
        if (const auto found = stages.find(node.id); found != stages.end())
            processor = std::move(found->second);
        stage_count += node.kind == NodeKind::Stage ? 1 : 0;
        const bool wired = std::ranges::any_of(
            graph.edges, [&](const Edge& edge) { return edge.to == node.id && edge.input == "key"; });
        if (wired && processor && processor->info().key_in == 0)
            return wrongRequest("An edge goes to the key input of \"" + node.id + "\", which has none");
        const std::string title = titleOf(node, stage_count, processor.get());
        network->m_units.push_back(makeUnit(node, title, wired, std::move(processor)));
    }
    network->describe(id, name);
    return network;
}

Network::Network(Graph graph, Schedule schedule)
    : m_graph(std::move(graph)), m_schedule(std::move(schedule)), m_waits(m_graph.edges.size()),
      m_outputs(m_schedule.output_count), m_at(m_schedule.output_count), m_arrival(m_schedule.output_count),
      m_sums(m_graph.nodes.size() + 1)
{
    // Only where several edges meet can one have to wait for another.
    const auto meet = [&](const std::vector<std::vector<Schedule::Input>>& inputs) {
        std::size_t edges = 0;
        for (const auto& input : inputs)
            edges += input.size();
        for (const auto& input : inputs)
            for (const Schedule::Input& in : input)
                m_waits[in.edge].needed = edges > 1;
    };
    for (const Schedule::Step& step : m_schedule.steps) {
        meet(step.inputs);
        m_sums[step.node].resize(step.inputs.size());
    }
    meet(m_schedule.out);
    m_sums.back().resize(1);
}

void Network::describe(const std::string& id, const std::string& name)
{
    m_info.id = id;
    m_info.name = name;
    m_info.kind = "chain";
    m_info.format = "chain";
    m_info.audio_in = m_info.audio_out = 2;
    for (std::size_t n = 0; n < m_units.size(); ++n) {
        const std::string& node = m_graph.nodes[n].id;
        std::size_t index = 0;
        m_info.takes_tempo = m_info.takes_tempo || m_units[n]->takesTempo();
        for (Unit::Parameter& parameter : m_units[n]->parameters()) {
            parameter.info.key = text(Address{node, parameter.of_chain, parameter.info.key});
            m_info.parameters.push_back(std::move(parameter.info));
            m_targets.push_back({n, index++});
        }
        for (PresetInfo& preset : m_units[n]->presets()) {
            preset.name = text(Address{node, false, preset.name});
            for (auto& [key, value] : preset.values)
                key = text(Address{node, false, key});
            m_info.presets.push_back(std::move(preset));
        }
    }
}

Result<void> Network::prepare(const PlayConditions& conditions)
{
    for (StereoBuffer& output : m_outputs)
        resize(output, conditions.block_frames);
    for (auto& sums : m_sums)
        for (StereoBuffer& sum : sums)
            resize(sum, conditions.block_frames);
    for (Wait& wait : m_waits)
        wait.delay.reset();
    std::ranges::fill(m_arrival, std::size_t{0});
    m_powers.assign(m_units.size(), {});
    m_rate_hz = conditions.sample_rate_hz;
    for (std::size_t n = 0; n < m_units.size(); ++n) {
        tellNode(n + 1);
        if (auto ready = m_units[n]->prepare(conditions); !ready)
            return tl::make_unexpected(
                Error{ready.error().blame, m_graph.nodes[n].id + ": " + ready.error().text});
    }
    tellNode(0);
    // As far as it is known before anything has run.
    for (const Schedule::Step& step : m_schedule.steps)
        for (std::size_t o = 0; o < step.output_count; ++o)
            m_arrival[step.first_output + o] =
                latestArrival(step.inputs) + m_units[step.node]->latencySamples();
    m_latency = latestArrival(m_schedule.out);
    return {};
}

std::size_t Network::latestArrival(const std::vector<std::vector<Schedule::Input>>& inputs) const noexcept
{
    std::size_t latest = 0;
    for (const auto& edges : inputs)
        for (const Schedule::Input& edge : edges)
            latest = std::max(latest, m_arrival[edge.output]);
    return latest;
}

void Network::setEvents(EventSink* events)
{
    m_stage_events.clear();
    for (std::size_t n = 0; n < m_units.size(); ++n) {
        m_stage_events.emplace_back();
        Processor* stage = m_units[n]->processor();
        if (!stage)
            continue;
        // A stage's own parameters are the last of its node.
        const auto next =
            std::ranges::find_if(m_targets, [n](const Target& target) { return target.node > n; });
        const auto first = static_cast<std::size_t>(next - m_targets.begin()) - stage->info().parameters.size();
        if (events)
            m_stage_events.back() = std::make_unique<StageEvents>(*events, first);
        stage->setEvents(m_stage_events.back().get());
    }
}

void Network::setState(const std::string& state)
{
    const States states = unpacked(state).value_or(States());
    for (std::size_t n = 0; n < m_units.size(); ++n)
        if (Processor* stage = m_units[n]->processor()) {
            const auto own = states.find(m_graph.nodes[n].id);
            stage->setState(own == states.end() ? "" : own->second);
        }
}

std::string Network::state() const
{
    States states;
    for (std::size_t n = 0; n < m_units.size(); ++n)
        if (const Processor* stage = m_units[n]->processor())
            states[m_graph.nodes[n].id] = stage->state();
    return packed(states);
}

Network::Stages Network::takeStages()
{
    Stages stages;
    for (std::size_t n = 0; n < m_units.size(); ++n)
        if (auto stage = m_units[n]->takeProcessor())
            stages[m_graph.nodes[n].id] = std::move(stage);
    return stages;
}

void Network::setParameter(std::size_t index, double value) noexcept
{
    m_units[m_targets[index].node]->setParameter(m_targets[index].index, value);
}

void Network::setTempo(double bpm) noexcept
{
    for (const auto& unit : m_units)
        unit->setTempo(bpm);
}

/// The sum of these edges, each waiting `until` that many samples after the chain's input.
void Network::gather(const std::vector<Schedule::Input>& edges, std::size_t until, StereoBuffer& into,
                     StereoPointers& result, std::size_t frames) noexcept
{
    result = {};
    if (edges.size() == 1 && !m_waits[edges.front().edge].needed) {
        result = m_at[edges.front().output];
        return;
    }
    for (std::size_t e = 0; e < edges.size(); ++e) {
        const std::size_t output = edges[e].output;
        // The buffer of the first output is free: the chain's input lies where it was handed over.
        const std::array<float*, 2> to{e == 0 ? into[0].data() : m_outputs[0][0].data(),
                                       e == 0 ? into[1].data() : m_outputs[0][1].data()};
        m_waits[edges[e].edge].delay.run(m_at[output], until - m_arrival[output], to, frames);
        for (std::size_t c = 0; c < 2 && e > 0; ++c)
            for (std::size_t i = 0; i < frames; ++i)
                into[c][i] += to[c][i];
    }
    if (!edges.empty())
        result = {into[0].data(), into[1].data()};
}

void Network::tellGain(std::size_t node, const StereoPointers& in, const StereoBuffer& out,
                       std::size_t frames) noexcept
{
    constexpr double followed_s = 0.05;
    constexpr double nothing = 1e-10; // -100 dBFS
    const auto sumOfSquares = [frames](const float* left, const float* right) {
        std::array<float, 8> sums{}; // side by side: of a block, single precision is plenty for a meter
        std::size_t i = 0;
        for (; left && i + sums.size() <= frames; i += sums.size())
            for (std::size_t k = 0; k < sums.size(); ++k)
                sums[k] += left[i + k] * left[i + k] + right[i + k] * right[i + k];
        for (; left && i < frames; ++i)
            sums[0] += left[i] * left[i] + right[i] * right[i];
        return static_cast<double>(std::accumulate(sums.begin(), sums.end(), 0.0F));
    };
    const auto count = static_cast<double>(frames);
    const double follow = 1 - std::exp(-count / (followed_s * m_rate_hz));
    Powers& powers = m_powers[node];
    powers.in += (sumOfSquares(in[0], in[1]) / (2 * count) - powers.in) * follow;
    powers.out += (sumOfSquares(out[0].data(), out[1].data()) / (2 * count) - powers.out) * follow;
    if (!std::isfinite(powers.in + powers.out))
        powers = {}; // what was no number once is no reason to tell nothing from then on
    const double gain_db = powers.in > nothing ? 10 * std::log10(std::max(powers.out, nothing) / powers.in)
                                               : std::numeric_limits<double>::quiet_NaN();
    m_watch.gains_db[node].store(static_cast<float>(gain_db), std::memory_order_relaxed);
}

void Network::process(const float* const* in, float* const* out, std::size_t frames) noexcept
{
    m_at[0] = {in[0], in[1]};
    std::array<StereoPointers, 2> inputs{};
    for (const Schedule::Step& step : m_schedule.steps) {
        const std::size_t until = latestArrival(step.inputs);
        for (std::size_t i = 0; i < step.inputs.size(); ++i)
            gather(step.inputs[i], until, m_sums[step.node][i], inputs[i], frames);
        Unit& unit = *m_units[step.node];
        tellNode(step.node + 1);
        unit.run({std::span(inputs).first(step.inputs.size()), m_at[0], until},
                 std::span(m_outputs).subspan(step.first_output, step.output_count), frames);
        if (step.node < m_watch.gains_db.size() && m_graph.nodes[step.node].kind == NodeKind::Stage)
            tellGain(step.node, inputs[0], m_outputs[step.first_output], frames);
        for (std::size_t o = step.first_output; o < step.first_output + step.output_count; ++o) {
            m_at[o] = {m_outputs[o][0].data(), m_outputs[o][1].data()};
            m_arrival[o] = until + unit.latencySamples();
        }
    }
    tellNode(0);
    m_latency = latestArrival(m_schedule.out);
    StereoPointers sum{};
    gather(m_schedule.out[0], m_latency, m_sums.back()[0], sum, frames);
    for (std::size_t c = 0; c < 2; ++c)
        std::copy_n(sum[c], frames, out[c]);
}

} // namespace hr::processors
