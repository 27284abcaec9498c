// SPDX-License-Identifier: GPL-3.0-or-later
//
// One plug-in a way to fail, on the specimens' frame. Their URIs end in their names below.
#include "specimen.h"

#include <atomic>
#include <cfenv>
#include <clocale>
#include <cmath>
#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <ctime>
#include <limits>
#include <new>
#include <stdexcept>
#include <thread>
#include <unistd.h>
#include <vector>

namespace {

using namespace specimens;

/// Passes the sound on; failures override what they need.
std::atomic<int> living{0};
struct Pass {
    static constexpr int controls = 1;
    explicit Pass(double) { ++living; }
    ~Pass() { --living; }
    Pass(const Pass&) = delete;
    Pass& operator=(const Pass&) = delete;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const std::array<float, 1>&)
    {
        for (std::size_t side = 0; side < 2; ++side)
            std::memcpy(out[side], in[side], frames * sizeof(float));
    }
};

struct RunCounter : Pass {
    using Pass::Pass;
    int blocks = 0;
};

struct CrashInRun : RunCounter {
    using RunCounter::RunCounter;
    void process(const Stereo&, const StereoOut&, std::uint32_t, const std::array<float, 1>&)
    {
        if (++blocks > 10)
            std::raise(SIGSEGV);
    }
};

struct AbortInRun : Pass {
    using Pass::Pass;
    void process(const Stereo&, const StereoOut&, std::uint32_t, const std::array<float, 1>&) { std::abort(); }
};

struct ThrowInRun : Pass {
    using Pass::Pass;
    void process(const Stereo&, const StereoOut&, std::uint32_t, const std::array<float, 1>&)
    {
        throw std::runtime_error("thrown by the plug-in");
    }
};

struct HangInRun : Pass {
    using Pass::Pass;
    void process(const Stereo&, const StereoOut&, std::uint32_t, const std::array<float, 1>&)
    {
        std::atomic<unsigned> turns{0};
        for (;;)
            turns.fetch_add(1); // so that the loop is not empty
    }
};

struct HangOnStart : Pass {
    explicit HangOnStart(double rate) : Pass(rate)
    {
        for (;;)
            pause();
    }
};

struct ExitInRun : Pass {
    using Pass::Pass;
    void process(const Stereo&, const StereoOut&, std::uint32_t, const std::array<float, 1>&)
    {
        std::puts("leaving now");
        std::exit(7);
    }
};

struct NotFinite : RunCounter {
    using RunCounter::RunCounter;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const std::array<float, 1>& c)
    {
        Pass::process(in, out, frames, c);
        if (++blocks > 20)
            out[1][frames - 1] = std::numeric_limits<float>::quiet_NaN();
    }
};

struct Deafening : Pass {
    using Pass::Pass;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const std::array<float, 1>& c)
    {
        Pass::process(in, out, frames, c);
        out[0][0] = 1.4e37F; // +743 dBFS
    }
};

struct Hoarder : Pass {
    using Pass::Pass;
    std::vector<char*> hoard;
    void process(const Stereo&, const StereoOut&, std::uint32_t, const std::array<float, 1>&)
    {
        constexpr std::size_t size = std::size_t{256} << 20;
        hoard.push_back(new char[size]);
        std::memset(hoard.back(), 1, 4096);
    }
};

/// Behaves, but prints without end.
struct Chatter : Pass {
    using Pass::Pass;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const std::array<float, 1>& c)
    {
        for (int i = 0; i < 2000; ++i)
            std::puts("\x01\x02 rubbish {\"kind\": 100} \xff rubbish rubbish rubbish rubbish rubbish rubbish");
        std::fflush(stdout);
        Pass::process(in, out, frames, c);
    }
};

/// Behaves, but takes 0.4 s of processor time for its first block.
struct Slow : RunCounter {
    using RunCounter::RunCounter;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const std::array<float, 1>& c)
    {
        const std::clock_t begun = std::clock();
        while (blocks == 0 && std::clock() - begun < 4 * CLOCKS_PER_SEC / 10) {
        }
        ++blocks;
        Pass::process(in, out, frames, c);
    }
};

struct CrashOnStop : Pass {
    using Pass::Pass;
    ~CrashOnStop() { std::raise(SIGSEGV); }
};

/// Behaves, but takes its time to be made.
struct SlowToStart : Pass {
    explicit SlowToStart(double rate) : Pass(rate) { usleep(300000); }
    void reset() {} // which it does at once
};

/// Behaves, but a thread of its own never rests.
struct Restless : Pass {
    explicit Restless(double rate) : Pass(rate)
    {
        std::thread([] {
            std::atomic<unsigned> turns{0};
            for (;;)
                turns.fetch_add(1);
        }).detach();
    }
};

/// Leaves a child behind.
struct Forker : Pass {
    explicit Forker(double rate) : Pass(rate)
    {
        if (fork() == 0)
            for (;;)
                pause();
    }
};

/// Behaves alone; breaks as soon as another of this library lives beside it.
struct Jealous : Pass {
    using Pass::Pass;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const std::array<float, 1>& c)
    {
        if (living > 1)
            std::abort();
        Pass::process(in, out, frames, c);
    }
};

/// Prints a gigabyte at its first block.
struct Torrent : RunCounter {
    using RunCounter::RunCounter;
    void process(const Stereo& in, const StereoOut& out, std::uint32_t frames, const std::array<float, 1>& c)
    {
        const std::vector<char> line(std::size_t{1} << 20, 'x');
        for (int i = 0; blocks == 0 && i < 1024; ++i)
            std::fwrite(line.data(), 1, line.size(), stdout);
        ++blocks;
        Pass::process(in, out, frames, c);
    }
};

/// Changes what belongs to the whole process: the locale, the rounding, which exceptions trap.
struct IllMannered : Pass {
    explicit IllMannered(double rate) : Pass(rate)
    {
        for (const char* locale : {"de_DE.UTF-8", "fr_FR.UTF-8", "C.UTF-8"})
            if (std::setlocale(LC_ALL, locale))
                break;
        std::fesetround(FE_UPWARD);
        feenableexcept(FE_DIVBYZERO | FE_OVERFLOW);
    }
};

#define FAULTY(Class, name) descriptor<Class>("urn:honest-rack:tests:" name)
constexpr std::array effects{FAULTY(Pass, "pass"),
                             FAULTY(CrashInRun, "crash-in-run"),
                             FAULTY(AbortInRun, "abort-in-run"),
                             FAULTY(ThrowInRun, "throw-in-run"),
                             FAULTY(HangInRun, "hang-in-run"),
                             FAULTY(HangOnStart, "hang-on-start"),
                             FAULTY(ExitInRun, "exit-in-run"),
                             FAULTY(NotFinite, "not-finite"),
                             FAULTY(Deafening, "deafening"),
                             FAULTY(Hoarder, "hoarder"),
                             FAULTY(Chatter, "chatter"),
                             FAULTY(Restless, "restless"),
                             FAULTY(CrashOnStop, "crash-on-stop"),
                             FAULTY(Forker, "forker"),
                             FAULTY(Jealous, "jealous"),
                             FAULTY(Torrent, "torrent"),
                             FAULTY(IllMannered, "ill-mannered"),
                             FAULTY(Slow, "slow"),
                             FAULTY(SlowToStart, "slow-to-start"),
                             FAULTY(Pass, "needs-feature"),
                             FAULTY(Pass, "bad-range")};

} // namespace

LV2_SYMBOL_EXPORT const LV2_Descriptor* lv2_descriptor(std::uint32_t index)
{
    return index < effects.size() ? &effects[index] : nullptr;
}
