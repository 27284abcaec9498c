// SPDX-License-Identifier: GPL-3.0-or-later
#include "playbar/playbar.h"

#include "theme/theme.h"
#include "widgets/basics.h"
#include "widgets/fair_line.h"
#include "widgets/waveform_view.h"

#include <QComboBox>
#include <QFileDialog>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace hr::app {

namespace {

constexpr int limiter_light_ticks = 30; // one second at 30 fps
constexpr double beats_a_bar = 4;

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

Playbar::Playbar(Desk& desk, SourceList& sources, QWidget* parent)
    : QFrame(parent), m_desk(desk), m_sources(sources)
{
    setObjectName(QStringLiteral("playbar"));
    setFixedHeight(116);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(18, 8, 16, 8);
    row->setSpacing(20);
    row->addWidget(makeSource());
    row->addWidget(makeWaveform(), 1);
    row->addWidget(makeFairness());
    connect(&m_desk.line_up, &LineUp::sourceChanged, this, &Playbar::showSource);
    connect(&m_desk.line_up, &LineUp::matchChanged, this, &Playbar::showFairness);
    connect(&m_desk.line_up, &LineUp::heardChanged, this, &Playbar::showFairness);
    connect(&m_desk.audio, &AudioSession::positionMoved, this, &Playbar::showPosition);
    connect(&m_desk.audio, &AudioSession::levelsMeasured, this, &Playbar::showLevels);
    connect(&m_desk.audio, &AudioSession::deviceChanged, this, &Playbar::fillDevices);
    connect(&m_desk.audio, &AudioSession::playingChanged, this,
            [this](bool on) { m_play->setText(on ? tr("Pause") : tr("Play")); });
    fillDevices();
    showSource();
    showFairness();
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
    m_about = new ElidedLabel;
    setRole(m_about, "faint");
    column->addWidget(m_name);
    column->addWidget(m_about);
    auto* buttons = new QHBoxLayout;
    buttons->setSpacing(6);
    m_play = (new Button(tr("Play")))->main();
    m_play->setFixedWidth(68);
    connect(m_play, &QPushButton::clicked, this, &Playbar::togglePlay);
    auto* next = new Button(tr("Next"));
    next->setToolTip(tr("next source"));
    connect(next, &QPushButton::clicked, this, [this] {
        if (const QString file = m_sources.next(m_desk.line_up.sourceFile()); !file.isEmpty())
            m_desk.line_up.loadSource(file);
    });
    auto* open = new Button(tr("Open"));
    open->setToolTip(tr("listen through a file of your own"));
    connect(open, &QPushButton::clicked, this, &Playbar::openFile);
    for (QPushButton* button : {m_play, static_cast<QPushButton*>(next), static_cast<QPushButton*>(open)})
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
    connect(m_waveform, &WaveformView::loopChosen, &m_desk.line_up, &LineUp::setLoop);
    connect(m_waveform, &WaveformView::positionChosen, this,
            [this](std::size_t frame) { m_desk.audio.engine().seek(frame); });
    column->addWidget(m_waveform, 1);
    auto* row = new QHBoxLayout;
    m_loop = new ElidedLabel;
    setRole(m_loop, "faint");
    m_levels = label({}, "small-figure");
    m_levels->setAccessibleName(tr("output level"));
    m_limiter = label({}, "faint");
    m_underruns = label({}, "caution");
    m_underruns->hide(); // until there are any
    m_device = new QComboBox;
    m_device->setAccessibleName(tr("audio device"));
    m_device->setMaximumWidth(190);
    m_device->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    m_device->setMinimumContentsLength(10);
    connect(m_device, &QComboBox::activated, this, [this](int index) {
        const QStringList parts = m_device->itemData(index).toStringList();
        m_desk.audio.choose({parts.value(0).toStdString(), parts.value(1).toStdString()});
    });
    row->addWidget(m_loop, 1);
    row->addWidget(m_levels);
    row->addWidget(m_limiter);
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
    column->addWidget(m_line, 1);
    return box;
}

void Playbar::togglePlay()
{
    if (!m_desk.line_up.source()) {
        emit m_desk.notice(tr("There is no source to play: open an audio file first."));
        return;
    }
    m_desk.audio.play(!m_desk.audio.isPlaying());
}

void Playbar::openFile()
{
    const QString file =
        QFileDialog::getOpenFileName(this, tr("Listen through a file"), {},
                                     tr("Audio (*.wav *.flac *.aif *.aiff *.ogg *.opus *.mp3);;All files (*)"));
    if (!file.isEmpty())
        m_desk.line_up.loadSource(file);
}

void Playbar::showSource()
{
    const auto& source = m_desk.line_up.source();
    m_waveform->setSource(source);
    m_play->setEnabled(source != nullptr);
    if (!source) {
        m_name->setWhole(tr("No source"));
        m_about->setWhole(tr("open an audio file to listen through"));
        return;
    }
    const SourceInfo info = m_sources.of(m_desk.line_up.sourceFile());
    m_desk.tempo_bpm = info.tempo_bpm;
    m_name->setWhole(info.name);
    QStringList about;
    if (!info.role.isEmpty())
        about << info.role;
    about << tr("%1 s").arg(number(source->seconds(), 1));
    if (info.tempo_bpm > 0)
        about << tr("%1 bpm").arg(info.tempo_bpm);
    m_about->setWhole(about.join(QStringLiteral(" · ")));
    const audition::Section loop = m_desk.line_up.loop();
    m_waveform->setLoop(loop);
    const auto seconds = [&](std::size_t frames) {
        return clockText(static_cast<double>(frames) / source->rateHz());
    };
    m_loop->setWhole(loop == source->whole()
                         ? tr("repeats whole")
                         : tr("repeats %1 to %2").arg(seconds(loop.first), seconds(loop.first + loop.frames)));
}

void Playbar::showPosition(std::size_t frame)
{
    const auto& source = m_desk.line_up.source();
    if (!source)
        return;
    m_waveform->setPosition(frame);
    const double at = static_cast<double>(frame) / source->rateHz();
    QString text = QStringLiteral("%1 / %2").arg(clockText(at), clockText(source->seconds()));
    if (const SourceInfo info = m_sources.of(m_desk.line_up.sourceFile()); info.tempo_bpm > 0) {
        const double beat = at * info.tempo_bpm / 60;
        text += tr("   bar %1.%2")
                    .arg(static_cast<int>(beat / beats_a_bar) + 1)
                    .arg(static_cast<int>(std::fmod(beat, beats_a_bar)) + 1);
    }
    m_position->setText(text);
}

void Playbar::showLevels(const OutputLevels& levels)
{
    const QString loudness = levels.momentary_lufs ? number(*levels.momentary_lufs, 1) : tr("–");
    const QString peak = levels.peak_dbfs > -100 ? number(levels.peak_dbfs, 1) : tr("–");
    m_levels->setText(tr("%1 LUFS, peak %2 dBFS").arg(loudness, 5).arg(peak, 5));
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
                                : tr("the safety limiter rests"));
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
        tr("What plays broke off: a lane was not ready %1 ×, the audio device went on without "
           "us %2 ×.\nWhat was heard then is no trait of a candidate. Fewer lanes, or a longer "
           "period of the device, help.")
            .arg(underruns.of_lanes)
            .arg(underruns.of_device));
    m_underruns->setVisible(underruns.count() > 0);
}

void Playbar::showFairness()
{
    std::vector<FairMark> marks;
    const auto common = m_desk.line_up.commonLufs();
    for (int lane = 0; lane < m_desk.line_up.count(); ++lane) {
        const Contender& contender = m_desk.line_up.at(lane);
        const auto was = common && contender.loudness_lufs ? std::optional(*contender.loudness_lufs - *common)
                                                           : std::nullopt;
        marks.push_back({lane, was, m_desk.line_up.heard() == lane});
    }
    m_line->setMarks(std::move(marks));
    const auto within = m_desk.line_up.fairWithinLu();
    m_fair->setText(within                        ? tr("fair within %1 LU").arg(number(*within, 2))
                    : m_desk.line_up.isMatching() ? tr("matching …")
                                                  : QString());
    setRole(m_fair, within && *within <= 0.1 ? "pass" : "caution");
}

void Playbar::fillDevices()
{
    showDevices({m_desk.audio.device()}); // until the servers have answered
    const auto found = std::make_shared<std::vector<audition::DeviceChoice>>();
    JobOrder job;
    job.line = QStringLiteral("devices");
    job.urgent = true;
    job.owner = this;
    job.work = [found](const JobControl&) { *found = audition::availableDevices(); };
    job.finished = [this, found](bool) { showDevices(*found); };
    m_desk.jobs->add(std::move(job));
}

void Playbar::showDevices(const std::vector<audition::DeviceChoice>& choices)
{
    const QSignalBlocker quiet(m_device);
    m_device->clear();
    const auto add = [this](const audition::DeviceChoice& choice) {
        m_device->addItem(deviceText(choice), QStringList{QString::fromStdString(choice.system),
                                                          QString::fromStdString(choice.name)});
        if (choice == m_desk.audio.device())
            m_device->setCurrentIndex(m_device->count() - 1);
    };
    for (const audition::DeviceChoice& choice : choices)
        add(choice);
    if (std::ranges::find(choices, m_desk.audio.device()) == choices.end())
        add(m_desk.audio.device());
}

} // namespace hr::app
