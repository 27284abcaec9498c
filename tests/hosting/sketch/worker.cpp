// SPDX-License-Identifier: GPL-3.0-or-later
//
// hrack-worker with the tests' third format beside those there are.
#include "hosting/inside/server.h"
#include "hosting/sketch/sketch.h"

#include <cstdlib>
#include <fstream>

namespace {

using namespace hr;
using namespace hr::hosting;
namespace fs = std::filesystem;

processors::ProcessorInfo describe(const fs::path& file)
{
    processors::ProcessorInfo info;
    info.id = std::string(test::sketch_key) + ':' + file.stem().string();
    info.name = file.stem().string();
    info.maker = "Somebody";
    info.kind = "gain";
    info.format = "Sketch";
    info.audio_in = info.audio_out = 1;
    processors::ParameterInfo trim;
    trim.key = "trim";
    trim.name = "Trim";
    trim.default_value = 1;
    trim.maximum = 4;
    info.parameters = {trim};
    processors::PresetInfo half;
    half.name = "Half";
    half.state = "0.5";
    info.presets = {half};
    return info;
}

class Sketch : public processors::Processor {
public:
    explicit Sketch(const fs::path& file) : m_info(describe(file)) { std::ifstream(file) >> m_written; }

    const processors::ProcessorInfo& info() const noexcept override { return m_info; }
    Result<void> prepare(const processors::PlayConditions&) override { return {}; }
    void setEvents(processors::EventSink* events) override { m_events = events; }
    std::string state() const override { return m_state; }
    void setState(const std::string& state) override { m_state = state; }
    void setParameter(std::size_t, double value) noexcept override { m_trim = value; }
    void process(const float* const* in, float* const* out, std::size_t frames) noexcept override
    {
        const double gain = m_trim * (m_state.empty() ? m_written : std::strtod(m_state.c_str(), nullptr));
        for (std::size_t i = 0; i < frames; ++i)
            out[0][i] = static_cast<float>(gain) * in[0][i];
        if (m_events && in[0][0] > 1) {
            m_events->gestureBegan(0);
            m_events->parameterMoved(0, 2);
            m_events->gestureEnded(0);
            m_events->stateChanged();
        }
    }

private:
    const processors::ProcessorInfo m_info;
    processors::EventSink* m_events = nullptr;
    std::string m_state;
    double m_written = 0;
    double m_trim = 1;
};

class HostedSketch : public inside::HostedFormat {
public:
    std::string key() const override { return test::sketch_key; }
    FaultOr<BundleContents> describe(const fs::path& bundle) const override
    {
        BundleContents contents;
        contents.processors.push_back(::describe(bundle));
        return contents;
    }
    FaultOr<std::unique_ptr<processors::Processor>> load(const fs::path& bundle,
                                                         const std::string&) const override
    {
        return std::make_unique<Sketch>(bundle);
    }
};

} // namespace

int main()
{
    auto formats = inside::hostedFormats();
    formats.push_back(std::make_unique<HostedSketch>());
    return inside::serve(std::move(formats));
}
