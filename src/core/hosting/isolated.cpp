// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/isolated.h"

#include "hosting/assemble.h"
#include "hosting/local_instance.h"

namespace hr::hosting {

namespace {

/// A stage in a worker of its own, as a processor of this process. What goes wrong is kept until asked for.
class RemoteProcessor : public processors::Processor {
public:
    explicit RemoteProcessor(std::unique_ptr<Instance> instance) : m_instance(std::move(instance))
    {
        for (const auto& p : info().parameters)
            m_values.push_back(p.default_value);
    }

    const processors::ProcessorInfo& info() const noexcept override { return m_instance->info(); }
    Result<void> prepare(const processors::PlayConditions& conditions) override
    {
        if (auto started = m_instance->start(conditions, m_values); !started) {
            m_fault = started.error();
            return wrongRequest(sentence(*m_fault));
        }
        return {};
    }
    void setParameter(std::size_t index, double value) noexcept override
    {
        m_values[index] = value;
        m_instance->setParameter(index, value);
    }
    void process(const float* const* in, float* const* out, std::size_t frames) noexcept override
    {
        if (m_fault)
            return;
        const std::size_t channels_in = info().audio_in + info().key_in;
        if (auto done =
                m_instance->process(std::span(in, channels_in), std::span(out, info().audio_out), frames);
            !done)
            m_fault = done.error();
    }
    std::size_t latencySamples() const noexcept override { return m_instance->latencySamples(); }

    const std::optional<Fault>& fault() const { return m_fault; }

private:
    std::unique_ptr<Instance> m_instance;
    std::vector<double> m_values;
    std::optional<Fault> m_fault;
};

struct Watched {
    std::string name; ///< "stage 2, lv2:urn:…"
    const RemoteProcessor* processor;
};

class IsolatedInstance : public LocalInstance {
public:
    IsolatedInstance(std::unique_ptr<processors::Processor> whole, std::vector<Watched> watched)
        : LocalInstance(std::move(whole)), m_watched(std::move(watched))
    {
    }

    FaultOr<void> start(const processors::PlayConditions& conditions, std::span<const double> values) override
    {
        return orStageFault(LocalInstance::start(conditions, values));
    }
    FaultOr<void> process(std::span<const float* const> in, std::span<float* const> out,
                          std::size_t frames) override
    {
        return orStageFault(LocalInstance::process(in, out, frames));
    }
    using LocalInstance::process;

private:
    FaultOr<void> orStageFault(const FaultOr<void>& result) const
    {
        for (const auto& [name, processor] : m_watched)
            if (const auto& failed = processor->fault())
                return fault(failed->stage, failed->cause, name + ": " + failed->detail);
        return result;
    }

    std::vector<Watched> m_watched; // owned by the series
};

} // namespace

FaultOr<std::unique_ptr<Instance>> openIsolated(const Location& location, TimeLimits limits)
{
    std::vector<Watched> watched;
    const LoadOne load = [&](const Location& one) -> FaultOr<std::unique_ptr<processors::Processor>> {
        auto instance = openInstance(one, Channels::Own, limits);
        if (!instance)
            return tl::make_unexpected(instance.error());
        auto remote = std::make_unique<RemoteProcessor>(std::move(*instance));
        std::size_t number = 1;
        while (number <= location.stages.size() && !(location.stages[number - 1] == one))
            ++number;
        watched.push_back({"stage " + std::to_string(number) + ", " + one.id, remote.get()});
        return remote;
    };
    auto whole = assemble(location, Channels::Stereo, load);
    if (!whole)
        return tl::make_unexpected(whole.error());
    return std::make_unique<IsolatedInstance>(std::move(*whole), std::move(watched));
}

} // namespace hr::hosting
