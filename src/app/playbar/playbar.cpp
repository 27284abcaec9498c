// SPDX-License-Identifier: GPL-3.0-or-later
#include "playbar/playbar.h"

#include "signal/tap_tempo.h"
#include "theme/theme.h"
#include "widgets/basics.h"
#include "widgets/fair_line.h"
#include "widgets/waveform_view.h"

#include <QComboBox>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace hr::app {

namespace {

constexpr int limiter_light_ticks = 30; // one second at 30 fps

QString clockText(double seconds)
{
    const int minutes = static_cast<int>(seconds / 60);
    return QStringLiteral("%1:%2").arg(minutes).arg(seconds - 60 * minutes, 4, 'f', 1, QLatin1Char('0'));
}

QString deviceText(const audition::DeviceChoice& choice)
{
    if (choice.system == "silent")
        return QObject::tr("silent device");
    return QString::fromStdString(choice.system) +
           (choice.name.empty() ? QString() : QStringLiteral(": ") + QString::fromStdString(choice.name));
}

} // namespace

Playbar::Playbar(const Services& services, QWidget* parent) : QFrame(parent), m_services(services)
{
    m_about = new ElidedLabel;
    addActions();
    setObjectName(QStringLiteral("playbar"));
    setFixedHeight(116);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(18, 8, 16, 8);
    row->setSpacing(20);
    row->addWidget(makeSource());
    row->addWidget(makeWaveform(), 1);
    row->addWidget(makeFairness());
    connect(&m_services.transport, &Transport::sourceChanged, this, &Playbar::showSource);
    connect(&m_services.tempo, &SourceTempo::changed, this, &Playbar::showSource);
    connect(&m_services.notes, &SourceNotes::changed, this, &Playbar::showSource);
    connect(&m_services.line_up, &LineUp::matchChanged, this, &Playbar::showFairness);
    connect(&m_services.line_up, &LineUp::audibleChanged, this, &Playbar::showFairness);
    connect(&m_services.line_up, &LineUp::contendersChanged, this, &Playbar::showFairness);
    connect(&m_services.transport, &Transport::positionMoved, this, &Playbar::showPosition);
    connect(&m_services.transport, &Transport::levelsMeasured, this, &Playbar::showLevels);
    connect(&m_services.output, &OutputSwitch::changed, this, &Playbar::fillDevices);
    connect(&m_services.transport, &Transport::playingChanged, this,
            [this](bool on) { m_play->setText(on ? tr("Pause") : tr("Play")); });
    connect(&m_services.transport, &Transport::monitorChanged, this, &Playbar::showMonitor);
    connect(&m_services.line_up, &LineUp::useChanged, this, &Playbar::showMonitor);
    connect(&m_services.trials, &BlindTrials::changed, this, &Playbar::coverForTrial);
    fillDevices();
    showSource();
    showFairness();
}

/// What might tell X, and what would end the trial.
void Playbar::coverForTrial()
{
    const bool covered = m_services.trials.isRunning();
    for (QWidget* widget :
         {static_cast<QWidget*>(m_next), static_cast<QWidget*>(m_sources), static_cast<QWidget*>(m_waveform)})
        widget->setEnabled(!covered);
    m_levels->setVisible(!covered);
    m_limiter->setVisible(!covered);
    m_line->setCovered(covered);
}

QWidget* Playbar::makeSource()
{
    auto* box = new QWidget;
    box->setFixedWidth(216);
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(2);
    m_name = new ElidedLabel;
    setRole(m_name, "strong");
    setRole(m_about, "faint");
    column->addWidget(m_name);
    column->addWidget(m_about);
    auto* buttons = new QHBoxLayout;
    buttons->setSpacing(6);
    m_play = (new Button(tr("Play")))->main();
    m_play->setFixedWidth(68);
    m_play->setToolTip(m_services.actions.tip(QStringLiteral("play")));
    connect(m_play, &QPushButton::clicked, this, [this] { m_services.actions.run(QStringLiteral("play")); });
    m_next = new Button(tr("Next"));
    m_next->setToolTip(m_services.actions.tip(QStringLiteral("source.next")));
    connect(m_next, &QPushButton::clicked, this,
            [this] { m_services.actions.run(QStringLiteral("source.next")); });
    m_sources = new Button(tr("Sources"));
    m_sources->setToolTip(tr("the sounds there are, your own files, sections, level, tempo"));
    connect(&m_services.outside, &OutsideInput::changed, this, &Playbar::showSource);
    connect(&m_services.transport, &Transport::liveChanged, this, &Playbar::showSource);
    connect(&m_services.live_play, &LivePlay::changed, this, &Playbar::showLive);
    connect(m_sources, &QPushButton::clicked, this, [this] { openSourceMenu(sourceServices(), m_sources); });
    for (QPushButton* button : {m_play, m_next, m_sources})
        buttons->addWidget(button);
    buttons->addStretch();
    column->addSpacing(3);
    column->addLayout(buttons);
    m_position = label({}, "small-figure");
    column->addWidget(m_position);
    return box;
}

QWidget* Playbar::makeWaveform()
{
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    m_waveform = new WaveformView;
    connect(m_waveform, &WaveformView::loopChosen, &m_services.notes, &SourceNotes::choose);
    connect(m_waveform, &WaveformView::positionChosen, &m_services.transport, &Transport::seek);
    column->addWidget(m_waveform, 1);
    auto* row = new QHBoxLayout;
    m_loop = new ElidedLabel;
    setRole(m_loop, "faint");
    m_levels = label({}, "small-figure");
    m_levels->setAccessibleName(tr("output level"));
    m_levels->setToolTip(tr("loudness of the last 400 ms, and peak"));
    m_limiter = label({}, "faint");
    m_underruns = label({}, "caution");
    m_underruns->hide(); // until there are any
    m_device = new QComboBox;
    m_device->setAccessibleName(tr("audio device"));
    m_device->setMaximumWidth(190);
    m_device->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    m_device->setMinimumContentsLength(8);
    connect(m_device, &QComboBox::activated, this, [this](int index) {
        const QStringList parts = m_device->itemData(index).toStringList();
        m_services.output.choose({parts.value(0).toStdString(), parts.value(1).toStdString()});
    });
    row->addWidget(m_loop, 1);
    row->addWidget(m_levels);
    row->addWidget(m_limiter);
    m_listened = new ElidedLabel;
    setRole(m_listened, "caution");
    m_listened->hide(); // while it is stereo, as loud as it is
    row->addWidget(m_listened);
    row->addWidget(m_underruns);
    row->addSpacing(6);
    row->addWidget(m_device);
    column->addLayout(row);
    return box;
}

QWidget* Playbar::makeFairness()
{
    auto* box = new QWidget;
    box->setFixedWidth(250);
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* row = new QHBoxLayout;
    row->addWidget(label(tr("Fair line"), "strong"));
    row->addStretch();
    m_fair = label({}, "faint");
    row->addWidget(m_fair);
    column->addLayout(row);
    m_line = new FairLine;
    m_line->setToolTip(tr("The wheel switches from one to the next."));
    connect(m_line, &FairLine::wheeled, &m_services.line_up, &LineUp::hearNext);
    column->addWidget(m_line, 1);
    return box;
}

void Playbar::addActions()
{
    const QString group = tr("Hearing");
    Transport& transport = m_services.transport;
    const auto not_on_trial = [trials = &m_services.trials] { return trials->disturbed(); };
    const auto no_source = [&transport] {
        return transport.source() || transport.isLive()
                   ? QString()
                   : tr("There is no source to play: open an audio file first.");
    };
    m_services.actions.add({QStringLiteral("play"), tr("play or pause"), group, Qt::Key_Space,
                            [&transport] { transport.play(!transport.isPlaying()); }, no_source,
                            [&transport] { return transport.isPlaying(); }});
    m_services.actions.add({QStringLiteral("source.start"), tr("go to the beginning of the section"), group,
                            Qt::Key_Home, [&transport] { transport.seek(transport.loop().first); }, no_source});
    addSourceActions(sourceServices(), m_about, not_on_trial);
}

SourceMenuServices Playbar::sourceServices() const
{
    return {m_services.transport, m_services.sources,   m_services.notes,   m_services.tempo,
            m_services.outside,   m_services.live_play, m_services.actions, m_services.notices};
}

void Playbar::showSource()
{
    const auto& source = m_services.transport.source();
    const bool live = m_services.live_play.isOn();
    m_waveform->setSource(source);
    m_waveform->setEnabled(!live && !m_services.trials.isRunning());
    m_waveform->setHeard(!live);
    m_play->setEnabled(source != nullptr || live);
    if (live)
        return showLive();
    if (!source) {
        m_name->setWhole(tr("No source"));
        m_about->setWhole(tr("open an audio file to listen through"));
        return;
    }
    const SourceInfo info = m_services.sources.of(m_services.transport.sourceFile());
    m_name->setWhole(info.name);
    QStringList about;
    if (m_services.outside.isWatching())
        about << (m_services.outside.isRecording() ? tr("recording %1") : tr("watching %1"))
                     .arg(m_services.outside.watched());
    if (!info.role.isEmpty())
        about << info.role;
    about << tr("%1 s").arg(number(source->seconds(), 1));
    if (info.tempo_bpm > 0)
        about << tr("%1 bpm").arg(info.tempo_bpm);
    if (const double level_db = m_services.transport.levelDb(); level_db != 0.0)
        about << tr("%1 dB").arg(signedNumber(level_db, 1));
    m_about->setWhole(about.join(QStringLiteral(" · ")));
    const audition::Section loop = m_services.transport.loop();
    m_waveform->setLoop(loop);
    const auto seconds = [&](std::size_t frames) {
        return clockText(static_cast<double>(frames) / source->rateHz());
    };
    m_loop->setWhole(loop.frames == source->frames()
                         ? tr("repeats whole")
                         : tr("repeats %1 to %2").arg(seconds(loop.first), seconds(loop.first + loop.frames)));
}

void Playbar::showLive()
{
    if (!m_services.live_play.isOn())
        return;
    m_name->setWhole(tr("%1, live").arg(m_services.outside.watched()));
    m_about->setWhole(m_services.live_play.isMatched() ? tr("matched by the last ten seconds")
                                                       : tr("play, and all are matched by it"));
    m_loop->setWhole(m_services.outside.isRecording() ? tr("recording") : QString());
    const LivePlay::Latency latency = m_services.live_play.latency();
    m_position->setText(tr("%1 ms late").arg(number(latency.all_ms, 1)));
    m_position->setToolTip(tr("input %1 ms, here %2 ms, who is heard %3 ms, output %4 ms")
                               .arg(number(latency.input_ms, 1), number(latency.rack_ms, 1),
                                    number(latency.processor_ms, 1), number(latency.output_ms, 1)));
}

void Playbar::showPosition(std::size_t frame)
{
    const auto& source = m_services.transport.source();
    if (!source || m_services.live_play.isOn())
        return;
    m_position->setToolTip({});
    m_waveform->setPosition(frame);
    const double at = static_cast<double>(frame) / source->rateHz();
    QString text = QStringLiteral("%1 / %2").arg(clockText(at), clockText(source->seconds()));
    if (const SourceInfo info = m_services.sources.of(m_services.transport.sourceFile()); info.tempo_bpm > 0) {
        const double beat = at * info.tempo_bpm / 60;
        text += tr("   bar %1.%2")
                    .arg(static_cast<int>(beat / signal::beats_a_bar) + 1)
                    .arg(static_cast<int>(std::fmod(beat, signal::beats_a_bar)) + 1);
    }
    m_position->setText(text);
}

void Playbar::showLevels(const OutputLevels& levels)
{
    const QString loudness = levels.levels.momentary_lufs ? number(*levels.levels.momentary_lufs, 1) : tr("–");
    const QString peak = levels.levels.peak_dbfs > -100 ? number(levels.levels.peak_dbfs, 1) : tr("–");
    m_levels->setText(tr("%1 LUFS, %2 dBFS").arg(loudness, 5).arg(peak, 5));
    m_limiter_ticks = levels.limited ? limiter_light_ticks : std::max(0, m_limiter_ticks - 1);
    showLimiter(m_limiter_ticks > 0);
    showUnderruns(levels.underruns);
}

void Playbar::showLimiter(bool holds)
{
    const QString text = holds ? tr("● limiter holds") : tr("○");
    if (m_limiter->text() == text)
        return;
    m_limiter->setText(text);
    m_limiter->setToolTip(holds ? tr("the safety limiter holds the output down")
                                : tr("the safety limiter is idle"));
    m_limiter->setAccessibleName(m_limiter->toolTip());
    setRole(m_limiter, holds ? "caution" : "faint");
}

void Playbar::showUnderruns(const Underruns& underruns)
{
    if (underruns.count() == m_underruns_shown)
        return;
    m_underruns_shown = underruns.count();
    m_underruns->setText(underruns.count() == 1 ? tr("1 underrun") : tr("%1 underruns").arg(underruns.count()));
    m_underruns->setToolTip(
        tr("Playback dropped out: a lane was not ready %1 ×, the audio device went on without "
           "us %2 ×.\nWhat was heard then says nothing about a candidate. Fewer lanes, or a longer "
           "period of the device, help.")
            .arg(underruns.of_lanes)
            .arg(underruns.of_device));
    m_underruns->setVisible(underruns.count() > 0);
}

void Playbar::showFairness()
{
    std::vector<FairMark> marks;
    const LineUp& line_up = m_services.line_up;
    for (const Contender& contender : line_up.contenders())
        marks.push_back({contender.mark,
                         contender.loudnessLufs() && contender.apart_lu
                             ? std::optional(*contender.apart_lu - contender.gain_db)
                             : std::nullopt,
                         contender.apart_lu.value_or(0), line_up.audible() == contender.id});
    m_line->setMarks(std::move(marks));
    const auto within = line_up.fairWithinLu();
    const bool fair = within && *within <= audition::fair_within_lu;
    m_fair->setText(within && !fair && !line_up.isMatchedByLoudness()
                        ? tr("unmatched by up to %1 LU").arg(number(*within, 1))
                    : within ? tr("fair within %1 LU").arg(number(*within, 2))
                    : line_up.isMatching() && m_services.transport.source() ? tr("matching …")
                                                                            : QString());
    setRole(m_fair, fair ? "pass" : "caution");
}

/// What is not as it is played is said on every page.
void Playbar::showMonitor()
{
    const audition::Monitor& monitor = m_services.transport.monitor();
    const QString channels[] = {QString(), tr("mono"), tr("left alone"), tr("right alone"), tr("side alone")};
    QStringList words;
    if (monitor.listened != audition::Listened::Stereo)
        words << channels[static_cast<int>(monitor.listened)];
    if (monitor.quieter)
        words << tr("−20 dB");
    if (monitor.band)
        words << tr("%1–%2 Hz").arg(number(monitor.band->low_hz, 0), number(monitor.band->high_hz, 0));
    if (monitor.mono_below_hz)
        words << tr("mono below %1 Hz").arg(number(*monitor.mono_below_hz, 0));
    if (monitor.inverted)
        words << tr("polarity inverted");
    if (m_services.transport.hearsDifference())
        words << tr("difference");
    if (m_services.line_up.part() != LineUp::Part::Whole)
        words << (m_services.line_up.part() == LineUp::Part::Wet ? tr("wet part alone") : tr("key signal"));
    m_listened->setWhole(words.join(QStringLiteral(", ")));
    m_listened->setVisible(!words.isEmpty());
}

void Playbar::fillDevices()
{
    showDevices({m_services.output.inUse()}); // until the servers have answered
    const auto found = std::make_shared<std::vector<audition::DeviceChoice>>();
    JobOrder job;
    job.line = QStringLiteral("devices");
    job.urgent = true;
    job.owner = this;
    job.work = [found](const JobControl&) { *found = audition::availableDevices(); };
    job.supersedes = true;
    job.finished = [this, found](JobEnd end) {
        if (end == JobEnd::Done)
            showDevices(*found);
    };
    m_services.jobs.add(std::move(job));
}

void Playbar::showDevices(const std::vector<audition::DeviceChoice>& choices)
{
    const QSignalBlocker quiet(m_device);
    m_device->clear();
    const auto add = [this](const audition::DeviceChoice& choice) {
        m_device->addItem(deviceText(choice), QStringList{QString::fromStdString(choice.system),
                                                          QString::fromStdString(choice.name)});
        if (choice == m_services.output.inUse())
            m_device->setCurrentIndex(m_device->count() - 1);
    };
    for (const audition::DeviceChoice& choice : choices)
        add(choice);
    if (std::ranges::find(choices, m_services.output.inUse()) == choices.end())
        add(m_services.output.inUse());
}

} // namespace hr::app
