// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/audio_file.h"

#include "signal/number_text.h"
#include "signal/regular_file.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cerrno>
#include <charconv>
#include <cmath>
#include <csignal>
#include <cstdio>
#include <cstring>
#include <sndfile.h>
#include <unistd.h>
#include <vector>

namespace hr::signal {

namespace fs = std::filesystem;

void CloseSound::operator()(SNDFILE* file) const
{
    sf_close(file);
}

namespace {

struct Coding {
    int subtype;
    std::size_t bits;
    bool is_whole;
};
constexpr std::array<Coding, 7> codings{{{SF_FORMAT_PCM_S8, 8, true},
                                         {SF_FORMAT_PCM_U8, 8, true},
                                         {SF_FORMAT_PCM_16, 16, true},
                                         {SF_FORMAT_PCM_24, 24, true},
                                         {SF_FORMAT_PCM_32, 32, true},
                                         {SF_FORMAT_FLOAT, 32, false},
                                         {SF_FORMAT_DOUBLE, 64, false}}};

} // namespace

Result<AudioFileReader> AudioFileReader::open(const fs::path& path)
{
    std::error_code ignored;
    if (!fs::exists(path, ignored))
        return wrongRequest("There is no file " + path.string() + ": check the path.");
    if (fs::is_directory(path, ignored))
        return wrongRequest(path.string() + " is a folder: name an audio file in it.");
    if (!isRegularFile(path))
        return wrongRequest(path.string() +
                            " is a pipe or a device: sound is read from files; save it to one first.");
    if (fs::file_size(path, ignored) == 0 && !ignored)
        return wrongRequest(path.string() + " is an empty file: choose one with sound in it.");

    SF_INFO info{};
    AudioFileReader reader;
    reader.m_file.reset(sf_open(path.c_str(), SFM_READ, &info));
    if (!reader.m_file)
        return wrongRequest(path.string() + " cannot be read as audio (" + sf_strerror(nullptr) +
                            "): WAV, FLAC, AIFF, Ogg and MP3 are understood.");
    if (info.frames <= 0)
        return wrongRequest(path.string() + " holds no sound: it has 0 frames.");
    if (info.samplerate < 1000 || info.samplerate > 768000)
        return wrongRequest(path.string() + " says a sample rate of " + std::to_string(info.samplerate) +
                            " Hz: 1 kHz to 768 kHz are understood.");
    if (info.channels < 1 || info.channels > 64)
        return wrongRequest(path.string() + " has " + std::to_string(info.channels) +
                            " channels: 1 to 64 are understood.");
    reader.m_channels = static_cast<std::size_t>(info.channels);
    reader.m_frames = static_cast<std::size_t>(info.frames);
    reader.m_sample_rate_hz = info.samplerate;
    const auto coding = std::ranges::find(codings, info.format & SF_FORMAT_SUBMASK, &Coding::subtype);
    if (coding != codings.end()) {
        reader.m_bits = coding->bits;
        reader.m_is_whole = coding->is_whole;
    }
    return reader;
}

std::size_t AudioFileReader::read(float* interleaved, std::size_t frames)
{
    return static_cast<std::size_t>(sf_readf_float(m_file.get(), interleaved, static_cast<sf_count_t>(frames)));
}

bool AudioFileReader::seek(std::size_t frame)
{
    return sf_seek(m_file.get(), static_cast<sf_count_t>(frame), SEEK_SET) == static_cast<sf_count_t>(frame);
}

Result<AudioBuffer> readAudioFile(const fs::path& path)
{
    auto reader = AudioFileReader::open(path);
    if (!reader)
        return tl::make_unexpected(reader.error());
    const std::size_t channels = reader->channels();
    constexpr std::size_t stretch = 65536;
    std::vector<float> interleaved(stretch * channels);
    // A header can promise more than the file holds: what is allocated follows what is really read.
    std::vector<std::vector<float>> read(channels);
    while (const std::size_t got = reader->read(interleaved.data(), stretch)) {
        for (std::size_t i = 0; i < got * channels; ++i) {
            if (!std::isfinite(interleaved[i]))
                return wrongRequest(path.string() + " holds a sample that is not finite at " +
                                    fixedText(static_cast<double>(read[0].size()) / reader->sampleRateHz(), 6) +
                                    " s: it cannot be played or measured.");
            read[i % channels].push_back(interleaved[i]);
        }
    }
    if (read[0].empty())
        return wrongRequest(path.string() + " holds no sound that can be read.");
    AudioBuffer audio(channels, read[0].size(), reader->sampleRateHz());
    for (std::size_t c = 0; c < channels; ++c)
        std::copy(read[c].begin(), read[c].end(), audio.channel(c).begin());
    return audio;
}

namespace {

constexpr std::string_view part_prefix = ".honest-rack-";

/// What a program that was killed while it wrote has left beside its target.
void removeAbandonedParts(const fs::path& folder)
{
    std::error_code failed;
    fs::directory_iterator walk(folder.empty() ? "." : folder, failed);
    for (; !failed && walk != fs::directory_iterator(); walk.increment(failed)) {
        const std::string name = walk->path().filename().string();
        int pid = 0;
        if (!name.starts_with(part_prefix) || !name.ends_with(".part") ||
            std::from_chars(name.data() + part_prefix.size(), name.data() + name.size(), pid).ec !=
                std::errc() ||
            pid <= 0 || kill(pid, 0) == 0 || errno != ESRCH)
            continue;
        std::error_code ignored;
        fs::remove(walk->path(), ignored);
    }
}

} // namespace

AudioFileWriter::AudioFileWriter(fs::path path) : m_path(std::move(path))
{
    static std::atomic<unsigned> count{0};
    std::error_code ignored;
    if (const auto pointed_at = fs::canonical(m_path, ignored); !pointed_at.empty())
        m_path = pointed_at; // what a link stands for is written, not the link
    const bool into = fs::exists(m_path, ignored) && !fs::is_regular_file(m_path, ignored);
    if (into)
        m_beside = m_path; // a device keeps its place
    else {
        removeAbandonedParts(m_path.parent_path());
        m_beside = m_path.parent_path() / (std::string(part_prefix) + std::to_string(::getpid()) + "-" +
                                           std::to_string(++count) + ".part");
    }
}

tl::unexpected<Error> AudioFileWriter::failed() const
{
    return machineFailed("Writing " + m_path.string() + " failed (" + std::strerror(errno) +
                         "): make room there or choose another place.");
}

Result<AudioFileWriter> AudioFileWriter::create(const fs::path& path, std::size_t channels,
                                                double sample_rate_hz, SampleFormat format, FileKind kind)
{
    SF_INFO info{};
    info.channels = static_cast<int>(channels);
    info.samplerate = static_cast<int>(std::lround(sample_rate_hz));
    // RF64 where a plain WAV would overflow at 4 GiB.
    info.format = (kind == FileKind::Flac ? SF_FORMAT_FLAC : SF_FORMAT_RF64) |
                  (format == SampleFormat::Pcm16   ? SF_FORMAT_PCM_16
                   : format == SampleFormat::Pcm24 ? SF_FORMAT_PCM_24
                                                   : SF_FORMAT_FLOAT);
    AudioFileWriter writer(path);
    writer.m_file.reset(sf_open(writer.m_beside.c_str(), SFM_WRITE, &info));
    if (!writer.m_file)
        return machineFailed("Cannot write " + path.string() + " (" + sf_strerror(nullptr) +
                             "): check that the folder exists and can be written.");
    if (kind == FileKind::Wav)
        sf_command(writer.m_file.get(), SFC_RF64_AUTO_DOWNGRADE, nullptr, SF_TRUE);
    sf_command(writer.m_file.get(), SFC_SET_CLIPPING, nullptr, SF_TRUE);
    return writer;
}

AudioFileWriter::~AudioFileWriter()
{
    if (!m_file)
        return;
    m_file.reset();
    removeUnfinished();
}

void AudioFileWriter::removeUnfinished() const
{
    std::error_code ignored;
    if (m_beside != m_path)
        fs::remove(m_beside, ignored);
}

Result<void> AudioFileWriter::write(const float* interleaved, std::size_t frames)
{
    const auto count = static_cast<sf_count_t>(frames);
    if (sf_writef_float(m_file.get(), interleaved, count) != count)
        return failed();
    return {};
}

Result<void> AudioFileWriter::write(const std::int32_t* interleaved, std::size_t frames)
{
    const auto count = static_cast<sf_count_t>(frames);
    if (sf_writef_int(m_file.get(), interleaved, count) != count)
        return failed();
    return {};
}

Result<void> AudioFileWriter::finish()
{
    if (sf_close(m_file.release()) == 0 &&
        (m_beside == m_path || std::rename(m_beside.c_str(), m_path.c_str()) == 0))
        return {};
    const auto error = failed();
    removeUnfinished();
    return error;
}

Result<void> writeAudioFile(const fs::path& path, const AudioBuffer& audio, SampleFormat format)
{
    auto writer = AudioFileWriter::create(path, audio.channels(), audio.sampleRateHz(), format);
    if (!writer)
        return tl::make_unexpected(writer.error());
    std::vector<float> interleaved(audio.samples().size());
    for (std::size_t c = 0; c < audio.channels(); ++c)
        for (std::size_t i = 0; i < audio.frames(); ++i)
            interleaved[i * audio.channels() + c] = audio.channel(c)[i];
    if (auto written = writer->write(interleaved.data(), audio.frames()); !written)
        return written;
    return writer->finish();
}

} // namespace hr::signal
