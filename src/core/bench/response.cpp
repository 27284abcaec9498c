// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/response.h"

#include "bench/magnitude.h"
#include "signal/generators.h"
#include "signal/levels.h"
#include "signal/transform.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace hr::bench {

namespace {

constexpr double sweep_level_dbfs = -30;
constexpr double sweep_lead_in_s = 0.25;
constexpr double sweep_s = 5.5;
constexpr double tail_s = 1.0;
/// Kept of negative time: the skirts that the sweep's upper end leaves there. The nearest distortion
/// product, the second harmonic, lies half a second before time 0.
constexpr double skirt_s = 0.1;
/// With silence behind it: bins of 0.04 Hz, between which even a narrow notch at 20 Hz is a straight line.
constexpr double padded_s = 25;
constexpr int series_per_octave = 48;
/// Below this there is no response to speak of: the sweep did not come through.
constexpr double silent_db = -140;

/// The complex response between its bins.
class Spectrum {
public:
    Spectrum(const std::vector<double>& impulse_response, double sample_rate_hz)
        : m_bins(signal::forwardTransform(impulse_response)),
          m_bin_hz(sample_rate_hz / static_cast<double>(impulse_response.size()))
    {
    }

    double magnitudeDb(double frequency_hz) const
    {
        return between(frequency_hz,
                       [this](std::size_t k) { return signal::powerToDb(std::norm(m_bins[k]) + 1e-30); });
    }

    /// Degrees without jumps from bin 0 on, after `delay_samples` are taken out.
    std::vector<double> unwrappedPhase(const std::vector<double>& grid, double delay_samples,
                                       double sample_rate_hz) const
    {
        std::vector<double> phase(m_bins.size());
        double turns = 0;
        for (std::size_t k = 0; k < m_bins.size(); ++k) {
            const double delay =
                2 * std::numbers::pi * static_cast<double>(k) * m_bin_hz / sample_rate_hz * delay_samples;
            phase[k] = std::arg(m_bins[k] * std::polar(1.0, delay)) + turns;
            while (k > 0 && phase[k] - phase[k - 1] > std::numbers::pi) {
                phase[k] -= 2 * std::numbers::pi;
                turns -= 2 * std::numbers::pi;
            }
            while (k > 0 && phase[k] - phase[k - 1] < -std::numbers::pi) {
                phase[k] += 2 * std::numbers::pi;
                turns += 2 * std::numbers::pi;
            }
        }
        std::vector<double> degrees;
        for (const double f : grid)
            degrees.push_back(between(f, [&](std::size_t k) { return phase[k]; }) * 180 / std::numbers::pi);
        return degrees;
    }

private:
    template<class AtBin>
    double between(double frequency_hz, const AtBin& at) const
    {
        const double position = frequency_hz / m_bin_hz;
        const auto k = std::min(static_cast<std::size_t>(position), m_bins.size() - 2);
        const double part = position - static_cast<double>(k);
        return at(k) * (1 - part) + at(k + 1) * part;
    }

    std::vector<std::complex<double>> m_bins;
    double m_bin_hz;
};

/// Times 0 to `length` of a deconvolved response, with `skirt` of negative time faded in at its end.
std::vector<double> linearPart(const std::vector<double>& response, std::size_t length, std::size_t skirt,
                               std::size_t padded)
{
    std::vector<double> kept(signal::fastSize(padded));
    std::copy_n(response.begin(), length, kept.begin());
    for (std::size_t i = 1; i <= skirt; ++i) {
        const double near = 1 - static_cast<double>(i) / static_cast<double>(skirt + 1);
        kept[kept.size() - i] = response[response.size() - i] * (0.5 - 0.5 * std::cos(std::numbers::pi * near));
    }
    return kept;
}

nlohmann::ordered_json listOf(const std::vector<Extreme>& extremes)
{
    auto list = nlohmann::ordered_json::array();
    for (const Extreme& e : extremes)
        list.push_back({{"frequency_hz", e.frequency_hz},
                        {"gain_db", e.gain_db},
                        {"q", e.q ? nlohmann::ordered_json(*e.q) : nlohmann::ordered_json(nullptr)}});
    return list;
}

void putFigures(Reading& reading, const Spectrum& spectrum, double sample_rate_hz)
{
    const MagnitudeFigures figures =
        readMagnitude([&](double f) { return spectrum.magnitudeDb(f); }, sample_rate_hz);
    const std::string never = "the magnitude does not fall 3.01 dB below the passband on this side";
    const std::string leaves = "the octave it is measured over leaves 10 Hz to 0.45 fs, or there is no corner";
    reading.put("gain_1k_db", spectrum.magnitudeDb(1000));
    reading.put("passband_db", figures.passband_db);
    reading.put("corner_low_hz", figures.corner_low_hz, never);
    reading.put("corner_high_hz", figures.corner_high_hz, never);
    reading.put("slope_low_db_per_octave", figures.slope_low_db_per_octave, leaves);
    reading.put("slope_high_db_per_octave", figures.slope_high_db_per_octave, leaves);
    reading.figures["peaks"] = listOf(figures.peaks);
    reading.figures["notches"] = listOf(figures.notches);
}

void putSeries(Reading& reading, const Spectrum& spectrum, double sample_rate_hz, double latency_samples)
{
    const auto grid = logarithmicGrid(10, 0.485 * sample_rate_hz, series_per_octave);
    const auto phase = spectrum.unwrappedPhase(grid, latency_samples, sample_rate_hz);
    Curve magnitude{"frequency_hz", "magnitude_db", {}};
    Curve phases{"frequency_hz", "phase_deg", {}};
    Curve delay{"frequency_hz", "group_delay_ms", {}};
    for (std::size_t i = 0; i < grid.size(); ++i) {
        magnitude.points.emplace_back(grid[i], spectrum.magnitudeDb(grid[i]));
        phases.points.emplace_back(grid[i], phase[i]);
        if (i > 0 && i + 1 < grid.size())
            delay.points.emplace_back(grid[i], -(phase[i + 1] - phase[i - 1]) / 360 /
                                                   (grid[i + 1] - grid[i - 1]) * 1000);
    }
    reading.series = {{"magnitude", magnitude}, {"phase", phases}, {"group_delay", delay}};
}

} // namespace

const std::vector<FigureInfo>& responseFigures()
{
    static const std::vector<FigureInfo> figures{
        {"gain_1k_db",
         "gain at 1 kHz",
         "dB",
         3,
         Better::Neither,
         {0.02, 0},
         "magnitude of the first output at 1 kHz",
         "A. Farina, AES 108, 2000"},
        {"passband_db",
         "passband",
         "dB",
         3,
         Better::Neither,
         {0.02, 0},
         "the level that most of the response between 20 Hz and 0.45 fs has, evenly by octaves"},
        {"corner_low_hz",
         "lower corner",
         "Hz",
         1,
         Better::Neither,
         {0, 0.01},
         "the lowest frequency at which the magnitude crosses 3.01 dB below the passband for good",
         {},
         "where the response falls towards low frequencies"},
        {"corner_high_hz",
         "upper corner",
         "Hz",
         1,
         Better::Neither,
         {0, 0.01},
         "the highest frequency at which the magnitude crosses 3.01 dB below the passband for good",
         {},
         "where the response falls towards high frequencies"},
        {"slope_low_db_per_octave",
         "slope below",
         "dB/octave",
         2,
         Better::Neither,
         {0, 0.03},
         "fall over the octave that begins one octave below the lower corner",
         {},
         "where that octave lies above 10 Hz"},
        {"slope_high_db_per_octave",
         "slope above",
         "dB/octave",
         2,
         Better::Neither,
         {0, 0.03},
         "fall over the octave that begins one octave above the upper corner",
         {},
         "where that octave lies below 0.45 fs"},
        {"peaks",
         "peaks",
         "",
         2,
         Better::Neither,
         {0.02, 0},
         "local highs that stand at least 0.5 dB out of the passband and of both their sides: frequency_hz, "
         "gain_db, q",
         {},
         {},
         FigureShape::List},
        {"notches",
         "notches",
         "",
         2,
         Better::Neither,
         {0.02, 0},
         "local lows that stand at least 0.5 dB out of the passband and of both their sides: frequency_hz, "
         "gain_db, q",
         {},
         {},
         FigureShape::List},
        {"polarity", "polarity", "", 0, Better::Neither, {}, "1 as the input, -1 turned round"}};
    return figures;
}

hosting::FaultOr<Reading> measureResponse(Subject& subject)
{
    const double rate_hz = subject.conditions().sample_rate_hz;
    const double level_dbfs = subject.conditions().level_dbfs.value_or(sweep_level_dbfs);
    const auto frames = [&](double seconds) { return static_cast<std::size_t>(seconds * rate_hz); };

    // Stimulus: silence to settle, the sweep, silence for what rings on.
    auto stimulus =
        signal::exponentialSweep(10, 0.49 * rate_hz, signal::dbToLinear(level_dbfs), rate_hz, frames(sweep_s));
    for (double& sample : stimulus)
        sample = static_cast<double>(static_cast<float>(sample)); // what the processor really gets
    stimulus.resize(stimulus.size() + frames(tail_s));

    // Run.
    if (auto started = subject.restart(); !started)
        return tl::make_unexpected(started.error());
    auto idle = subject.process(std::vector<double>(frames(sweep_lead_in_s)));
    if (!idle)
        return tl::make_unexpected(idle.error());
    auto answer = subject.process(stimulus);
    if (!answer)
        return tl::make_unexpected(answer.error());

    // Analysis: what the output owes to the input.
    const auto impulse_response = linearPart(signal::deconvolve(asDoubles(answer->channel(0)), stimulus),
                                             stimulus.size(), frames(skirt_s), frames(padded_s));
    const Spectrum spectrum(impulse_response, rate_hz);

    // Reading.
    Reading reading;
    reading.conditions = {{"level_dbfs", level_dbfs}};
    putFigures(reading, spectrum, rate_hz);
    const auto largest = std::ranges::max_element(impulse_response, {}, [](double s) { return std::abs(s); });
    if (*reading.number("passband_db") < silent_db) {
        const auto keys = reading.figures;
        for (const auto& [key, value] : keys.items())
            reading.put(key, std::nullopt, "no signal came through");
        reading.put("polarity", std::nullopt, "no signal came through");
        return reading;
    }
    reading.figures["polarity"] = *largest >= 0 ? 1 : -1;
    putSeries(reading, spectrum, rate_hz, static_cast<double>(subject.latencyReportedSamples()));
    return reading;
}

} // namespace hr::bench
