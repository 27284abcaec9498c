// SPDX-License-Identifier: GPL-3.0-or-later
//
// A client of JACK, for whoever plays or records: opened and closed so that the death of the server, at any
// moment, does not take the program with it.
#pragma once

#include <functional>
#include <jack/jack.h>
#include <memory>
#include <mutex>
#include <optional>
#include <pthread.h>
#include <string>
#include <utility>
#include <vector>

namespace hr::audition {

/// One client, and whether its server has died.
///
/// Opening a client after the server has died makes libjack close and delete all that the process still has;
/// closing one of those once more would crash. So every client's server is asked for a sign of life before
/// another is opened (its death may be a moment old, and not be told yet), and dead clients are closed first.
/// One whose death is learnt only while another is being opened is left alone: libjack may have deleted it, and
/// a leak is better than a crash.
class JackClient {
public:
    struct Watch {
        std::mutex mutex;
        bool is_dead = false;
        bool is_left_alone = false;
        std::mutex asking;               ///< held while its server is asked for a sign of life
        jack_client_t* client = nullptr; ///< null once it is being closed; under `asking`
        std::function<void()> lost;      ///< told once, from one of JACK's threads
    };

    explicit JackClient(jack_client_t* client) : m_client(client)
    {
        const std::lock_guard lock(watches_mutex);
        m_watch->client = client;
        watches.push_back(m_watch);
        jack_on_shutdown(client, toldOfDeath, m_watch.get());
    }
    JackClient(JackClient&&) = default;
    JackClient& operator=(JackClient&&) = delete;
    ~JackClient()
    {
        if (!m_watch)
            return; // it has moved on
        {
            const std::lock_guard lock(m_watch->asking);
            m_watch->client = nullptr;
        }
        const auto is_left_alone = [this] {
            const std::lock_guard lock(m_watch->mutex);
            return m_watch->is_left_alone;
        };
        if (!is_left_alone())
            jack_client_close(m_client); // ends the callbacks
        const std::lock_guard lock(watches_mutex);
        if (is_left_alone())
            kept_for_ever.push_back(m_watch); // libjack may still tell it
        std::erase(watches, m_watch);
    }

    jack_client_t* get() const { return m_client; }

    bool isDead() const
    {
        const std::lock_guard lock(m_watch->mutex);
        return m_watch->is_dead;
    }
    /// False where it is dead already.
    bool whenLost(std::function<void()> lost)
    {
        const std::lock_guard lock(m_watch->mutex);
        m_watch->lost = std::move(lost);
        return !m_watch->is_dead;
    }

    static bool anyIsDead() { return !thatAreDead().empty(); }
    static std::vector<std::shared_ptr<Watch>> thatAreDead()
    {
        const std::lock_guard lock(watches_mutex);
        std::vector<std::shared_ptr<Watch>> dead;
        for (const auto& watch : watches) {
            const std::lock_guard one(watch->mutex);
            if (watch->is_dead)
                dead.push_back(watch);
        }
        return dead;
    }
    /// Marks those as dead whose server no longer answers.
    static void askForSignsOfLife()
    {
        std::vector<std::shared_ptr<Watch>> all;
        {
            const std::lock_guard lock(watches_mutex);
            all = watches;
        }
        for (const auto& watch : all) {
            const std::lock_guard asking(watch->asking);
            if (!watch->client)
                continue;
            char* const answer =
                jack_get_uuid_for_client_name(watch->client, jack_get_client_name(watch->client));
            jack_free(answer);
            if (!answer)
                died(watch.get());
        }
    }
    static void leaveAlone(const std::vector<std::shared_ptr<Watch>>& dead)
    {
        for (const auto& watch : dead) {
            const std::lock_guard one(watch->mutex);
            watch->is_left_alone = true;
        }
    }

private:
    /// Called on one of JACK's threads, which ends soon after this and must not be cancelled on its way:
    /// closing the client waits for it.
    static void toldOfDeath(void* of)
    {
        pthread_setcancelstate(PTHREAD_CANCEL_DISABLE, nullptr);
        died(of);
    }

    static void died(void* of)
    {
        auto& watch = *static_cast<Watch*>(of);
        std::function<void()> lost;
        {
            const std::lock_guard lock(watch.mutex);
            if (!std::exchange(watch.is_dead, true))
                lost = watch.lost;
        }
        if (lost)
            lost();
    }

    static inline std::mutex watches_mutex;
    static inline std::vector<std::shared_ptr<Watch>> watches; // of all clients there are
    static inline std::vector<std::shared_ptr<Watch>> kept_for_ever;

    jack_client_t* m_client = nullptr;
    std::shared_ptr<Watch> m_watch = std::make_shared<Watch>();
};

/// Held by whoever opens a client, or looks around with one: one at a time.
std::mutex& jackOpeningMutex();

/// Empty where JACK does not answer, or somebody does not let go of a client that is dead. With the mutex held.
std::optional<JackClient> openJackClient();

/// What is said where there is none.
inline constexpr const char* jack_does_not_answer =
    "JACK does not answer: is its server running? After a program was killed that used it, end "
    "every program that uses JACK, and start its server again.";

/// "system" of "system:capture_1".
std::string jackClientOf(const std::string& port);
/// How old what a port takes is, or how long what it gives takes to be heard, at the most.
std::size_t jackLatency(jack_port_t* port, jack_latency_callback_mode_t mode);
/// Every audio port with these flags (JackPortFlags), as "client:port", in the server's order.
std::vector<std::string> jackPorts(jack_client_t* client, unsigned long flags);

} // namespace hr::audition
