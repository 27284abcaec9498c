// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/outside_input.h"

#include <QDateTime>
#include <QFile>
#include <QRegularExpression>

namespace hr::app {

namespace {

constexpr double least_taken_s = 0.1;

} // namespace

OutsideInput::OutsideInput(const std::filesystem::path& data_directory, Jobs& jobs, Notices& notices,
                           QObject* parent)
    : QObject(parent), m_folder(data_directory / "taken"), m_jobs(jobs), m_notices(notices)
{
    m_recorded_enough.setSingleShot(true);
    m_recorded_enough.setInterval(static_cast<int>(1000 * audition::RecentInput::kept_s));
    connect(&m_recorded_enough, &QTimer::timeout, this, [this] {
        if (isRecording())
            record();
    });
}

OutsideInput::~OutsideInput() = default;

void OutsideInput::findInputs()
{
    const auto found = std::make_shared<std::vector<audition::DeviceChoice>>();
    JobOrder job;
    job.urgent = true;
    job.owner = this;
    job.work = [found](const JobControl&) { *found = audition::availableInputs(); };
    job.finished = [this, found](JobEnd) { emit inputsFound(*found); };
    m_jobs.add(std::move(job));
}

QString OutsideInput::disabledReason() const
{
    return isWatching() ? QString() : tr("No input is watched: choose one in the menu of sources first.");
}

QString OutsideInput::watched() const
{
    return m_device ? QString::fromStdString(m_device->choice().system + ": " + m_device->choice().name)
                    : QString();
}

void OutsideInput::watch(const audition::DeviceChoice& choice, double rate_hz)
{
    stop();
    struct Opened {
        Result<void> result;
        std::unique_ptr<audition::InputDevice> device;
        std::shared_ptr<audition::RecentInput> recent;
    };
    const auto opened = std::make_shared<Opened>();
    const auto lost = m_late.to([this, turn = m_turn] {
        if (turn == m_turn)
            m_notices.say(tr("%1 has gone: what was kept of it can still be taken.").arg(watched()));
    });
    JobOrder job;
    job.urgent = true;
    job.owner = this;
    job.work = [opened, choice, rate_hz, lost](const JobControl&) {
        auto device = audition::openInput(choice, rate_hz);
        if (!device) {
            opened->result = tl::make_unexpected(device.error());
            return;
        }
        const auto recent = std::make_shared<audition::RecentInput>((*device)->rateHz());
        opened->result = (*device)->start(
            [recent](const float* interleaved, std::size_t frames) { recent->put(interleaved, frames); }, lost);
        opened->device = std::move(*device);
        opened->recent = recent;
    };
    job.finished = [this, opened, turn = m_turn](JobEnd) {
        if (turn != m_turn || !m_notices.succeeded(opened->result))
            return;
        m_recent = opened->recent;
        m_device = std::move(opened->device);
        emit changed();
    };
    m_jobs.add(std::move(job));
}

/// Closing a device may wait for its server: another thread does.
void OutsideInput::stop()
{
    ++m_turn;
    m_recording_from.reset();
    m_recorded_enough.stop();
    if (!m_device)
        return;
    const std::shared_ptr<audition::InputDevice> closing(std::move(m_device));
    m_device.reset();
    m_recent.reset();
    JobOrder job;
    job.urgent = true;
    job.work = [closing = std::make_shared<std::shared_ptr<audition::InputDevice>>(closing)](
                   const JobControl&) { closing->reset(); };
    m_jobs.add(std::move(job));
    emit changed();
}

void OutsideInput::takeLast()
{
    if (m_recent)
        take(m_recent->last(audition::RecentInput::kept_s));
}

void OutsideInput::record()
{
    if (!m_recent)
        return;
    if (!m_recording_from) {
        m_recording_from = m_recent->arrived();
        m_recorded_enough.start();
    } else {
        m_recorded_enough.stop();
        take(m_recent->since(*m_recording_from));
        m_recording_from.reset();
    }
    emit changed();
}

void OutsideInput::take(signal::AudioBuffer sound)
{
    if (static_cast<double>(sound.frames()) < least_taken_s * sound.sampleRateHz())
        return m_notices.say(tr("Nothing has come in yet that could be taken."));
    static const QRegularExpression not_in_names(QStringLiteral("[/:\\\\*?\"<>|\\x00-\\x1f]+"));
    const QString name = QStringLiteral("%1 %2.flac")
                             .arg(QString::fromStdString(m_device ? m_device->choice().name : "input")
                                      .replace(not_in_names, QStringLiteral("-"))
                                      .left(80),
                                  QDateTime::currentDateTime().toString(QStringLiteral("yyyy-MM-dd HH.mm.ss")));
    const std::filesystem::path file = m_folder / QFile::encodeName(name).toStdString();
    const auto written = std::make_shared<Result<void>>();
    JobOrder job;
    job.title = tr("Write %1").arg(name);
    job.urgent = true;
    job.owner = this;
    job.work = [written, file, folder = m_folder, sound = std::move(sound)](const JobControl&) {
        std::error_code failed;
        std::filesystem::create_directories(folder, failed);
        auto writer = signal::AudioFileWriter::create(file, 2, sound.sampleRateHz(),
                                                      signal::SampleFormat::Pcm24, signal::FileKind::Flac);
        if (!writer) {
            *written = tl::make_unexpected(writer.error());
            return;
        }
        std::vector<float> interleaved(2 * sound.frames());
        for (std::size_t i = 0; i < interleaved.size(); ++i)
            interleaved[i] = sound.channel(i % 2)[i / 2];
        *written = writer->write(interleaved.data(), sound.frames());
        if (*written)
            *written = writer->finish();
    };
    job.finished = [this, written, file](JobEnd end) {
        if (end == JobEnd::Done && m_notices.succeeded(*written))
            emit taken(QFile::decodeName(file.string().c_str()));
    };
    m_jobs.add(std::move(job));
}

} // namespace hr::app
