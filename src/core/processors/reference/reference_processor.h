// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the reference processors share: a description and the values of their parameters.
#pragma once

#include "processors/processor.h"
#include "processors/settings.h"

namespace hr::processors {

class ReferenceProcessor : public Processor {
public:
    /// The id becomes "reference:" + `name`; stereo in and out.
    ReferenceProcessor(const std::string& name, const std::string& title, const std::string& kind,
                       std::vector<ParameterInfo> parameters)
    {
        m_info.id = "reference:" + name;
        m_info.name = title;
        m_info.maker = "the bench";
        m_info.kind = kind;
        m_info.format = "reference";
        m_info.version = HONEST_RACK_VERSION;
        m_info.audio_in = m_info.audio_out = channels;
        m_info.parameters = std::move(parameters);
        m_values = defaultValues(m_info);
    }

    const ProcessorInfo& info() const noexcept override { return m_info; }

    Result<void> prepare(const PlayConditions& conditions) override
    {
        m_sample_rate_hz = conditions.sample_rate_hz;
        reset();
        return {};
    }

    void setParameter(std::size_t index, double value) noexcept override
    {
        m_values[index] = value;
        changed();
    }

protected:
    static constexpr std::size_t channels = 2;

    /// Back to silence; the parameters stay.
    virtual void reset() { changed(); }
    /// Values or rate changed: work out what follows from them.
    virtual void changed() noexcept {}

    double value(std::size_t index) const { return m_values[index]; }
    double sampleRateHz() const { return m_sample_rate_hz; }

private:
    ProcessorInfo m_info;
    std::vector<double> m_values;
    double m_sample_rate_hz = 48000;
};

} // namespace hr::processors
