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

    // One control each: key, name, unit, range and default.
    static ParameterInfo linear(const char* key, const char* name, const char* unit, double minimum,
                                double maximum, double default_value)
    {
        return {key, name, unit, minimum, maximum, default_value, Scale::Linear, {}, {}, false, false};
    }
    static ParameterInfo logarithmic(const char* key, const char* name, const char* unit, double minimum,
                                     double maximum, double default_value)
    {
        ParameterInfo p = linear(key, name, unit, minimum, maximum, default_value);
        p.scale = Scale::Logarithmic;
        return p;
    }
    static ParameterInfo integer(const char* key, const char* name, const char* unit, double minimum,
                                 double maximum, double default_value)
    {
        ParameterInfo p = linear(key, name, unit, minimum, maximum, default_value);
        p.scale = Scale::Integer;
        return p;
    }
    static ParameterInfo toggle(const char* key, const char* name, bool on)
    {
        ParameterInfo p = linear(key, name, "", 0, 1, on ? 1 : 0);
        p.scale = Scale::Toggle;
        return p;
    }
    static ParameterInfo choice(const char* key, const char* name, std::vector<Choice> choices)
    {
        ParameterInfo p =
            linear(key, name, "", choices.front().value, choices.back().value, choices.front().value);
        p.scale = Scale::Choice;
        p.choices = std::move(choices);
        return p;
    }

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
