// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/measure/plot_sheet.h"

#include "widgets/candidate_mark.h"

#include <QVBoxLayout>
#include <map>

namespace hr::app {

namespace {

struct Quantity {
    const char* name;
    const char* unit;
    bool logarithmic = false;
    double least_span = 0;
    int digits = 2;
};

/// By the names that series give their axes. The spans are such that what is flat looks flat.
const std::map<QString, Quantity>& quantities()
{
    static const std::map<QString, Quantity> all{
        {QStringLiteral("frequency_hz"), {"frequency", "Hz", true, 0, 0}},
        {QStringLiteral("time_s"), {"time", "s", false, 0, 2}},
        {QStringLiteral("time_ms"), {"time", "ms", false, 0, 1}},
        {QStringLiteral("input_dbfs"), {"in", "dBFS", false, 0, 1}},
        {QStringLiteral("output_dbfs"), {"out", "dBFS", false, 12, 2}},
        {QStringLiteral("level_dbfs"), {"level", "dBFS", false, 6, 2}},
        {QStringLiteral("magnitude_db"), {"magnitude", "dB", false, 12, 2}},
        {QStringLiteral("phase_deg"), {"phase", "°", false, 90, 1}},
        {QStringLiteral("group_delay_ms"), {"group delay", "ms", false, 1, 3}},
        {QStringLiteral("thd_percent"), {"THD", "%", false, 0.01, 3}},
        {QStringLiteral("alias_db"), {"alias", "dB", false, 20, 1}},
        {QStringLiteral("gain_db"), {"gain", "dB", false, 6, 2}},
        {QStringLiteral("offset_db"), {"sensitivity", "dB", false, 12, 2}},
        {QStringLiteral("rt60_s"), {"T30", "s", false, 0.5, 2}},
        {QStringLiteral("level_db"), {"level", "dB", false, 20, 2}},
        {QStringLiteral("pitch_cents"), {"pitch", "cent", false, 10, 1}},
        {QStringLiteral("width_db"), {"width", "dB", false, 12, 2}}};
    return all;
}

Axis axisOf(const QString& quantity)
{
    const auto found = quantities().find(quantity);
    if (found == quantities().end())
        return {quantity, {}, false, 0, 2};
    const Quantity& q = found->second;
    return {QString::fromUtf8(q.name), QString::fromUtf8(q.unit), q.logarithmic, q.least_span, q.digits};
}

} // namespace

Sheet* plotSheet(const QString& title, const QString& how, Plot* plot)
{
    auto* sheet = new Sheet;
    auto* column = new QVBoxLayout(sheet);
    column->setContentsMargins(14, 8, 8, 6);
    column->setSpacing(2);
    auto* top = new QHBoxLayout;
    top->addWidget(label(title, "strong"));
    top->addSpacing(8);
    auto* words = new ElidedLabel(how);
    setRole(words, "faint");
    top->addWidget(words, 1);
    column->addLayout(top);
    column->addWidget(plot, 1);
    return sheet;
}

const std::vector<PlotOf>& plotsOfTests()
{
    static const std::vector<PlotOf> all{
        {"response", "magnitude", QT_TR_NOOP("Magnitude")},
        {"response", "phase", QT_TR_NOOP("Phase")},
        {"response", "group_delay", QT_TR_NOOP("Group delay")},
        {"harmonics", "thd_over_level", QT_TR_NOOP("Distortion over level")},
        {"harmonics", "thd_over_frequency", QT_TR_NOOP("Distortion over frequency")},
        {"aliasing", "alias_over_frequency", QT_TR_NOOP("Worst alias of each tone")},
        {"transfer", "in_out", QT_TR_NOOP("Settled levels")},
        {"timing", "gain", QT_TR_NOOP("Gain after a step up, and down")},
        {"detector", "sensitivity", QT_TR_NOOP("Sensitivity of the detector")},
        {"key_input", "in_out", QT_TR_NOOP("What the key's level does")},
        {"key_input", "gain", QT_TR_NOOP("Gain after a step of the key")},
        {"decay", "rt60", QT_TR_NOOP("Reverberation time by octave")},
        {"echoes", "echoes", QT_TR_NOOP("Echoes"), Drawing::Stems},
        {"movement", "amplitude", QT_TR_NOOP("Level of a steady tone")},
        {"movement", "pitch", QT_TR_NOOP("Pitch of a steady tone")},
        {"movement", "notch_*", QT_TR_NOOP("Paths of notches")},
        {"stereo", "width", QT_TR_NOOP("Side against mid")}};
    return all;
}

std::pair<QString, QString> quantitiesOf(const PlotOf& plot)
{
    using Names = std::pair<const char*, const char*>;
    static const std::map<std::string, Names> names{{"magnitude", {"frequency_hz", "magnitude_db"}},
                                                    {"phase", {"frequency_hz", "phase_deg"}},
                                                    {"group_delay", {"frequency_hz", "group_delay_ms"}},
                                                    {"thd_over_level", {"level_dbfs", "thd_percent"}},
                                                    {"thd_over_frequency", {"frequency_hz", "thd_percent"}},
                                                    {"alias_over_frequency", {"frequency_hz", "alias_db"}},
                                                    {"in_out", {"input_dbfs", "output_dbfs"}},
                                                    {"gain", {"time_ms", "gain_db"}},
                                                    {"sensitivity", {"frequency_hz", "offset_db"}},
                                                    {"rt60", {"frequency_hz", "rt60_s"}},
                                                    {"echoes", {"time_ms", "level_db"}},
                                                    {"amplitude", {"time_s", "level_dbfs"}},
                                                    {"pitch", {"time_s", "pitch_cents"}},
                                                    {"notch_*", {"time_s", "frequency_hz"}},
                                                    {"width", {"frequency_hz", "width_db"}}};
    const Names& found = names.at(plot.series);
    return {QString::fromLatin1(found.first), QString::fromLatin1(found.second)};
}

Plot* plotFor(const QString& x_quantity, const QString& y_quantity, Drawing drawing)
{
    Axis y = axisOf(y_quantity);
    y.logarithmic = false; // only x can be
    return new Plot(axisOf(x_quantity), y, drawing);
}

std::vector<Curve> curvesOf(const std::vector<Benched>& benched, const PlotOf& plot)
{
    std::vector<Curve> curves;
    const std::string wanted = plot.series;
    const bool many = wanted.ends_with('*');
    const std::string begins = wanted.substr(0, wanted.size() - (many ? 1 : 0));
    for (const Benched& one : benched) {
        const auto* reading = one.reading(QString::fromLatin1(plot.test));
        if (!reading)
            continue;
        const QString name =
            markLetter(one.mark) + QLatin1Char(' ') + one.title.section(QLatin1Char(' '), 0, 0);
        for (const auto& [key, series] : reading->series)
            if ((many ? key.starts_with(begins) : key == wanted) && !series.points.empty())
                curves.push_back({one.mark, name, series.points});
    }
    return curves;
}

} // namespace hr::app
