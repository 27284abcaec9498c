// SPDX-License-Identifier: GPL-3.0-or-later
//
// Other programs at the same JACK server: one that plays, one that records.
#pragma once

#include <atomic>
#include <jack/jack.h>
#include <mutex>
#include <optional>
#include <vector>

namespace hr::test {

/// Records the inputs of a client of its own.
class Recorder {
public:
    bool open()
    {
        m_client = jack_client_open("recorder", JackNoStartServer, nullptr);
        if (!m_client)
            return false;
        m_left = jack_port_register(m_client, "left", JACK_DEFAULT_AUDIO_TYPE, JackPortIsInput, 0);
        m_right = jack_port_register(m_client, "right", JACK_DEFAULT_AUDIO_TYPE, JackPortIsInput, 0);
        m_recorded.reserve(192000 * 10);
        m_recorded_right.reserve(192000 * 10);
        jack_set_process_callback(m_client, process, this);
        return jack_activate(m_client) == 0;
    }
    ~Recorder()
    {
        if (m_client)
            jack_client_close(m_client);
    }

    /// Connects the first two outputs of whoever plays.
    bool connectTo(const char* pattern)
    {
        const char** ports = jack_get_ports(m_client, pattern, JACK_DEFAULT_AUDIO_TYPE, JackPortIsOutput);
        const bool good = ports && ports[0] && ports[1] && connectTo(ports[0], ports[1]);
        jack_free(ports);
        return good;
    }
    bool connectTo(const char* left, const char* right)
    {
        return jack_connect(m_client, left, jack_port_name(m_left)) == 0 &&
               jack_connect(m_client, right, jack_port_name(m_right)) == 0;
    }

    std::vector<float> taken() { return takenRight(false); }
    std::vector<float> takenRight(bool right = true)
    {
        const std::lock_guard lock(m_mutex);
        return right ? m_recorded_right : m_recorded;
    }

    /// Whether a period was lost, so that what was recorded is not what was played.
    bool isBroken() const { return m_broken; }

private:
    static int process(jack_nframes_t frames, void* self_pointer)
    {
        auto& self = *static_cast<Recorder*>(self_pointer);
        const jack_nframes_t at = jack_last_frame_time(self.m_client);
        if (self.m_next && *self.m_next != at)
            self.m_broken = true;
        self.m_next = at + frames;
        const auto* left = static_cast<const float*>(jack_port_get_buffer(self.m_left, frames));
        const auto* right = static_cast<const float*>(jack_port_get_buffer(self.m_right, frames));
        const std::lock_guard lock(self.m_mutex); // a test's recorder may wait
        self.m_recorded.insert(self.m_recorded.end(), left, left + frames);
        self.m_recorded_right.insert(self.m_recorded_right.end(), right, right + frames);
        return 0;
    }

    jack_client_t* m_client = nullptr;
    jack_port_t* m_left = nullptr;
    jack_port_t* m_right = nullptr;
    std::optional<jack_nframes_t> m_next; // where the next period begins, of the process thread
    std::atomic<bool> m_broken{false};
    std::mutex m_mutex;
    std::vector<float> m_recorded, m_recorded_right; // guarded by m_mutex
};

/// Another program that plays a sound over and over, on one channel.
class Player {
public:
    explicit Player(std::vector<float> sound) : m_sound(std::move(sound)) {}
    bool open()
    {
        m_client = jack_client_open("tide machine", JackNoStartServer, nullptr);
        if (!m_client)
            return false;
        m_port = jack_port_register(m_client, "out", JACK_DEFAULT_AUDIO_TYPE, JackPortIsOutput, 0);
        jack_set_process_callback(m_client, process, this);
        return jack_activate(m_client) == 0;
    }
    ~Player()
    {
        if (m_client)
            jack_client_close(m_client);
    }

private:
    static int process(jack_nframes_t frames, void* self_pointer)
    {
        auto& self = *static_cast<Player*>(self_pointer);
        auto* out = static_cast<float*>(jack_port_get_buffer(self.m_port, frames));
        for (jack_nframes_t i = 0; i < frames; ++i)
            out[i] = self.m_sound[self.m_at++ % self.m_sound.size()];
        return 0;
    }

    std::vector<float> m_sound;
    std::size_t m_at = 0;
    jack_client_t* m_client = nullptr;
    jack_port_t* m_port = nullptr;
};

} // namespace hr::test
