// SPDX-License-Identifier: GPL-3.0-or-later
#include "services/bench_conditions.h"

#include "processors/json_text.h"
#include "processors/value_text.h"
#include "theme/theme.h"

#include <algorithm>
#include <cmath>

namespace hr::app {

namespace {

constexpr auto conditions_setting = "bench-conditions";

const processors::ParameterInfo& rangeOf(const QString& key)
{
    return *std::ranges::find(bench::conditionRanges(), key.toStdString(), &processors::ParameterInfo::key);
}

/// Where it stands; null: no such number.
std::optional<double> valueOf(const bench::Conditions& conditions, const QString& key)
{
    return key == QStringLiteral("rate")        ? conditions.sample_rate_hz
           : key == QStringLiteral("block")     ? std::optional(static_cast<double>(conditions.block_frames))
           : key == QStringLiteral("level")     ? conditions.level_dbfs
           : key == QStringLiteral("frequency") ? conditions.frequency_hz
                                                : conditions.tempo_bpm;
}

void put(bench::Conditions& conditions, const QString& key, std::optional<double> value)
{
    const bench::Conditions standard;
    if (key == QStringLiteral("rate"))
        conditions.sample_rate_hz = value.value_or(standard.sample_rate_hz);
    else if (key == QStringLiteral("block"))
        conditions.block_frames =
            value ? static_cast<std::size_t>(std::max(0.0, std::round(*value))) : standard.block_frames;
    else if (key == QStringLiteral("level"))
        conditions.level_dbfs = value;
    else if (key == QStringLiteral("frequency"))
        conditions.frequency_hz = value;
    else
        conditions.tempo_bpm = value;
}

} // namespace

BenchConditions::BenchConditions(const Services& services, QObject* parent)
    : QObject(parent), m_services(services)
{
    recall();
}

QString BenchConditions::text() const
{
    const auto short_number = [](double value) { return QString::number(value, 'g', 6); };
    QStringList parts{tr("%1 kHz").arg(short_number(m_now.sample_rate_hz / 1000)),
                      tr("block of %1").arg(m_now.block_frames)};
    if (m_now.level_dbfs)
        parts << tr("at %1 dBFS").arg(number(*m_now.level_dbfs, 1));
    if (m_now.frequency_hz)
        parts << tr("at %1 Hz").arg(short_number(*m_now.frequency_hz));
    if (m_now.tempo_bpm)
        parts << tr("%1 BPM").arg(short_number(*m_now.tempo_bpm));
    if (m_now.key == bench::KeyFeed::Silence)
        parts << tr("key silent");
    if (m_now.programme)
        parts << QString::fromStdString(m_now.programme->title);
    return parts.join(QStringLiteral(" · "));
}

QString BenchConditions::typed(const QString& key) const
{
    const auto value = valueOf(m_now, key);
    return value ? QString::number(*value, 'g', 8).replace(QLatin1Char('-'), QChar(0x2212)) : QString();
}

void BenchConditions::type(const QString& key, const QString& text)
{
    const processors::ParameterInfo& range = rangeOf(key);
    std::optional<double> value;
    if (!text.trimmed().isEmpty()) {
        value = processors::parseValue(range, text.trimmed().toStdString());
        if (!value)
            return m_services.notices.say(
                tr("\"%1\" is not a number with %2.").arg(text.trimmed(), QString::fromStdString(range.unit)));
    }
    bench::Conditions wanted = m_now;
    put(wanted, key, value);
    if (const auto wrong = bench::unfit(wanted))
        return m_services.notices.say(
            tr("%1 %2.").arg(QString::fromStdString(rangeOf(QString::fromStdString(wrong->key)).name),
                             QString::fromStdString(wrong->why)));
    const bool at_another_rate = wanted.sample_rate_hz != m_now.sample_rate_hz;
    if (at_another_rate && wanted.programme) {
        wanted.programme = nullptr;
        m_services.notices.say(
            tr("At another rate the programme is the bench's own again: take the section once more."));
    }
    set(wanted);
}

void BenchConditions::setKey(bench::KeyFeed key)
{
    bench::Conditions wanted = m_now;
    wanted.key = key;
    set(wanted);
}

void BenchConditions::takeSection()
{
    const auto source = m_services.transport.source();
    if (!source)
        return m_services.notices.say(tr("Nothing is loaded to play: choose a source first."));
    const audition::Section section = m_services.transport.loop();
    const double rate_hz = m_services.transport.rateHz();
    QString title = m_services.sources.of(m_services.transport.sourceFile()).name;
    if (section.frames < source->frames())
        title = tr("%1, %2 to %3 s")
                    .arg(title, number(static_cast<double>(section.first) / rate_hz, 2),
                         number(static_cast<double>(section.first + section.frames) / rate_hz, 2));
    if (static_cast<double>(section.frames) > bench::Passage::longest_s * rate_hz)
        return m_services.notices.say(
            tr("Two minutes can be measured with, and %1 is longer: choose a section of it.").arg(title));
    using Read = Result<std::shared_ptr<const bench::Passage>>;
    const auto read = std::make_shared<Read>(wrongRequest(""));
    const double to_rate_hz = m_now.sample_rate_hz;
    JobOrder job;
    job.title = tr("Read %1").arg(title);
    job.line = QStringLiteral("programme");
    job.supersedes = true;
    job.owner = this;
    job.work = [=](const JobControl&) {
        signal::AudioBuffer sound(2, section.frames, rate_hz);
        source->read(section, 0, sound.channel(0).data(), sound.channel(1).data(), section.frames);
        *read = bench::passageOf(title.toStdString(), sound, to_rate_hz);
    };
    job.finished = [this, read, to_rate_hz](JobEnd end) {
        if (end != JobEnd::Done || to_rate_hz != m_now.sample_rate_hz || !m_services.notices.succeeded(*read))
            return;
        bench::Conditions wanted = m_now;
        wanted.programme = **read;
        set(wanted);
    };
    m_services.jobs.add(std::move(job));
}

void BenchConditions::takeOwnProgramme()
{
    bench::Conditions wanted = m_now;
    wanted.programme = nullptr;
    set(wanted);
}

void BenchConditions::reset()
{
    set({});
}

void BenchConditions::set(bench::Conditions conditions)
{
    if (conditions == m_now)
        return;
    m_now = std::move(conditions);
    nlohmann::json kept = nlohmann::json::object();
    for (const processors::ParameterInfo& range : bench::conditionRanges())
        if (const auto value = valueOf(m_now, QString::fromStdString(range.key)))
            kept[range.key] = *value;
    kept["key_silent"] = m_now.key == bench::KeyFeed::Silence;
    (void)m_services.notices.succeeded(
        m_services.store.setSetting(QLatin1String(conditions_setting), QString::fromStdString(kept.dump())));
    emit changed();
}

/// What was kept; what of it makes no sense is as if nothing had been kept.
void BenchConditions::recall()
{
    const auto kept =
        processors::jsonFrom(m_services.store.setting(QLatin1String(conditions_setting)).toStdString());
    if (!kept.is_object())
        return;
    bench::Conditions wanted;
    for (const processors::ParameterInfo& range : bench::conditionRanges())
        if (const auto found = kept.find(range.key); found != kept.end() && found->is_number())
            put(wanted, QString::fromStdString(range.key), found->get<double>());
    if (const auto silent = kept.find("key_silent"); silent != kept.end() && silent->is_boolean())
        wanted.key = silent->get<bool>() ? bench::KeyFeed::Silence : bench::KeyFeed::OwnInput;
    if (!bench::unfit(wanted))
        m_now = wanted;
}

} // namespace hr::app
