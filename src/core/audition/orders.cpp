// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/orders.h"

#include "audition/sketch.h"
#include "signal/levels.h"
#include "signal/scratch_file.h"

#include <algorithm>
#include <atomic>
#include <mutex>
#include <thread>

namespace hr::audition {

namespace {

using hosting::FaultOr;

/// Sums over an order's output and that of the order as built: their distance follows at any gain.
struct Products {
    double own = 0, built = 0, both = 0;

    void add(const std::vector<float>& one, const std::vector<float>& other)
    {
        for (std::size_t i = 0; i < one.size(); ++i) {
            own += static_cast<double>(one[i]) * one[i];
            built += static_cast<double>(other[i]) * other[i];
            both += static_cast<double>(one[i]) * other[i];
        }
    }
    /// Of what is left once it is brought to the other by `gain`, relative to that.
    double residualDb(double gain) const
    {
        const double left = gain * gain * own - 2 * gain * both + built;
        const double rounding = 1e-15 * (gain * gain * own + built);
        return built > 0 && left > rounding ? std::max(no_residual_db, signal::powerToDb(left / built))
                                            : no_residual_db;
    }
};

struct Sounded {
    HeardOrder order;
    Sketch sketch;
    double gain = 1;
};

/// The order as built, which comes first, is put aside; every other one is held against it as it plays, on any
/// number of threads.
class Comparer {
public:
    explicit Comparer(signal::ScratchFile file) : m_built(std::move(file)) {}

    Result<FaultOr<Sounded>> play(OpenedChain& opened, const std::filesystem::path& file, bool as_built,
                                  const std::stop_token& cancel)
    {
        Sounded sounded;
        sounded.order.as_built = as_built;
        Products products;
        std::vector<float> built;
        std::size_t at = 0;
        auto played = playThrough(
            *opened.instance, opened.values, file,
            [&](std::vector<float>& frames) -> Result<void> {
                sounded.sketch.add(frames);
                if (as_built)
                    return m_built.write(frames.data(), frames.size());
                built.resize(frames.size());
                built.resize(m_built.readAt(at, built.data(), built.size()));
                at += frames.size();
                built.resize(frames.size()); // one that is longer meets silence
                products.add(frames, built);
                return {};
            },
            cancel);
        if (!played)
            return tl::make_unexpected(played.error());
        if (played->fault)
            return FaultOr<Sounded>(tl::make_unexpected(*played->fault));
        sounded.order.loudness_lufs = played->loudness.integrated_lufs;
        sounded.order.true_peak_dbtp = played->loudness.true_peak_dbtp;
        if (as_built) {
            m_built_lufs = sounded.order.loudness_lufs;
            if (auto rewound = m_built.rewind(); !rewound)
                return tl::make_unexpected(rewound.error());
        }
        if (m_built_lufs && sounded.order.loudness_lufs)
            sounded.order.gain_db = *m_built_lufs - *sounded.order.loudness_lufs;
        sounded.gain = signal::dbToLinear(sounded.order.gain_db.value_or(0));
        if (!as_built)
            sounded.order.residual_db = products.residualDb(sounded.gain);
        return FaultOr<Sounded>(std::move(sounded));
    }

private:
    signal::ScratchFile m_built;
    std::optional<double> m_built_lufs;
};

bool areTheSame(const Sounded& one, const Sounded& other)
{
    if (one.order.as_built || other.order.as_built)
        return (one.order.as_built ? other : one).order.residual_db.value_or(no_residual_db) <=
               same_order_below_db;
    const double apart = Sketch::distance(one.sketch, one.gain, other.sketch, other.gain);
    const double power = one.sketch.power() * one.gain * one.gain;
    return apart <= power * signal::dbToPower(same_order_below_db);
}

/// As built on top, then those that differ most; and which of them are the same.
void sortOut(std::vector<Sounded>& all, Orders& orders)
{
    std::ranges::stable_sort(all, std::ranges::greater(), [](const Sounded& one) {
        return one.order.as_built ? 1e9 : one.order.residual_db.value_or(no_residual_db);
    });
    for (std::size_t i = 0; i < all.size(); ++i)
        for (std::size_t before = 0; before < i && !all[i].order.same_as; ++before)
            if (!all[before].order.same_as && areTheSame(all[before], all[i]))
                all[i].order.same_as = before;
    for (Sounded& one : all) {
        orders.distinct += one.order.same_as ? 0 : 1;
        orders.orders.push_back(std::move(one.order));
    }
}

/// All orders, on as many threads as there are cores.
class AllOrders {
public:
    using Open = std::function<Result<FaultOr<OpenedChain>>(const chain::Chain&)>;

    AllOrders(const chain::Chain& chain, const std::vector<std::string>& movable, const Open& open,
              const std::filesystem::path& file, signal::ScratchFile aside, const OrdersControl& control)
        : m_chain(chain), m_movable(movable), m_open(open), m_file(file), m_control(control),
          m_comparer(std::move(aside)), m_wanted(chain::ordersOf(movable)), m_sounded(m_wanted.size())
    {
    }

    Result<FaultOr<Orders>> run()
    {
        const std::stop_callback cancelled(m_control.cancel, [this] { m_ended.request_stop(); });
        compare(0); // which the others are held against
        const std::size_t cores = std::max(1U, std::thread::hardware_concurrency());
        {
            std::vector<std::jthread> threads;
            for (std::size_t i = 1; i < std::min(cores, m_wanted.size()); ++i)
                threads.emplace_back([this] { compareOthers(); });
            compareOthers();
        }
        if (m_problem)
            return tl::make_unexpected(*m_problem);
        if (m_control.cancel.stop_requested())
            return FaultOr<Orders>(hosting::fault(hosting::Phase::Run, hosting::Cause::Cancelled, {}));
        if (m_fault)
            return FaultOr<Orders>(tl::make_unexpected(*m_fault));
        Orders orders;
        orders.movable = m_movable;
        std::vector<Sounded> all;
        for (auto& one : m_sounded)
            if (one)
                all.push_back(std::move(*one));
        orders.cannot_run = m_wanted.size() - all.size();
        sortOut(all, orders);
        return FaultOr<Orders>(std::move(orders));
    }

private:
    void compareOthers()
    {
        for (std::size_t i = m_next++; i < m_wanted.size(); i = m_next++)
            compare(i);
    }

    void compare(std::size_t i)
    {
        if (m_ended.stop_requested())
            return;
        const auto other = chain::reordered(m_chain, m_movable, m_wanted[i]);
        if (!other)
            return tellDone(); // it cannot run
        auto opened = openOne(*other);
        if (!opened)
            return;
        auto sounded = m_comparer.play(*opened, m_file, i == 0, m_ended.get_token());
        if (!accepted(sounded))
            return;
        (*sounded)->order.stages = m_wanted[i];
        m_sounded[i] = std::move(**sounded);
        tellDone();
    }

    std::optional<OpenedChain> openOne(const chain::Chain& chain)
    {
        std::unique_lock lock(m_mutex);
        auto opened = m_open(chain);
        lock.unlock();
        return accepted(opened) ? std::optional(std::move(**opened)) : std::nullopt;
    }

    /// The first that goes wrong ends it all.
    template<class T>
    bool accepted(const Result<FaultOr<T>>& result)
    {
        if (result && *result)
            return true;
        const std::lock_guard lock(m_mutex);
        if (!m_ended.stop_requested()) {
            if (!result)
                m_problem = result.error();
            else
                m_fault = result->error();
        }
        m_ended.request_stop();
        return false;
    }

    void tellDone()
    {
        const std::lock_guard lock(m_mutex);
        ++m_done;
        if (m_control.progress)
            m_control.progress(m_done, m_wanted.size());
    }

    const chain::Chain& m_chain;
    const std::vector<std::string>& m_movable;
    const Open& m_open;
    const std::filesystem::path& m_file;
    const OrdersControl& m_control;
    Comparer m_comparer;
    const std::vector<std::vector<std::string>> m_wanted;
    std::vector<std::optional<Sounded>> m_sounded; // each by whoever took its number
    std::atomic<std::size_t> m_next{1};
    std::stop_source m_ended;
    std::mutex m_mutex; // for all that follows, and m_open
    std::size_t m_done = 0;
    std::optional<Error> m_problem;
    std::optional<hosting::Fault> m_fault;
};

} // namespace

Result<FaultOr<Orders>>
compareOrders(const chain::Chain& chain, const std::vector<std::string>& movable,
              const std::function<Result<FaultOr<OpenedChain>>(const chain::Chain&)>& open,
              const std::filesystem::path& file, const std::filesystem::path& scratch_folder,
              const OrdersControl& control)
{
    auto aside = signal::ScratchFile::in(scratch_folder);
    if (!aside)
        return tl::make_unexpected(aside.error());
    AllOrders all(chain, movable, open, file, std::move(*aside), control);
    return all.run();
}

} // namespace hr::audition
