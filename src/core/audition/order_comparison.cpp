// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/order_comparison.h"

#include "signal/levels.h"

#include <algorithm>

namespace hr::audition {

using hosting::FaultOr;

namespace {

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

} // namespace

OrderComparison::OrderComparison(const std::vector<std::string>& movable, const Open& open,
                                 signal::ScratchFile aside, const OrdersControl& control)
    : m_movable(movable), m_open(open), m_control(control), m_orders(chain::ordersOf(movable)),
      m_built(std::move(aside)), m_sounded(m_orders.size()),
      m_cancelled(control.cancel, [this] { m_over.request_stop(); })
{
}

std::optional<Played> OrderComparison::play(const Order& order, const Play& play)
{
    const bool as_built = order == m_orders.front();
    Sounded sounded;
    sounded.order.stages = order;
    sounded.order.as_built = as_built;
    Products products;
    std::vector<float> built;
    std::size_t at = 0;
    auto played = play(
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
        over());
    if (!played)
        fail(played.error());
    else if (played->fault)
        fail(*played->fault);
    if (!played || played->fault)
        return std::nullopt;
    sounded.order.loudness_lufs = played->loudness.integrated_lufs;
    sounded.order.true_peak_dbtp = played->loudness.true_peak_dbtp;
    if (as_built) {
        m_built_lufs = sounded.order.loudness_lufs;
        if (const auto rewound = m_built.rewind(); !rewound) {
            fail(rewound.error());
            return std::nullopt;
        }
    }
    if (m_built_lufs && sounded.order.loudness_lufs)
        sounded.order.gain_db = *m_built_lufs - *sounded.order.loudness_lufs;
    sounded.gain = signal::dbToLinear(sounded.order.gain_db.value_or(0));
    if (!as_built)
        sounded.order.residual_db = products.residualDb(sounded.gain);
    m_sounded[static_cast<std::size_t>(std::ranges::find(m_orders, order) - m_orders.begin())] =
        std::move(sounded);
    tellDone();
    return std::move(*played);
}

void OrderComparison::leaveOut()
{
    tellDone();
}

std::optional<OpenedChain> OrderComparison::open(const chain::Chain& chain)
{
    std::unique_lock lock(m_mutex);
    auto opened = m_open(chain);
    lock.unlock();
    return accepted(opened) ? std::optional(std::move(**opened)) : std::nullopt;
}

void OrderComparison::fail(const Error& problem)
{
    const std::lock_guard lock(m_mutex);
    if (!isOver())
        m_problem = problem;
    m_over.request_stop();
}

void OrderComparison::fail(const hosting::Fault& fault)
{
    const std::lock_guard lock(m_mutex);
    if (!isOver())
        m_fault = fault;
    m_over.request_stop();
}

void OrderComparison::tellDone()
{
    const std::lock_guard lock(m_mutex);
    ++m_done;
    if (m_control.progress)
        m_control.progress(m_done, m_orders.size());
}

Result<FaultOr<Orders>> OrderComparison::result()
{
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
    orders.cannot_run = m_orders.size() - all.size();
    sortOut(all, orders);
    return FaultOr<Orders>(std::move(orders));
}

bool OrderComparison::areTheSame(const Sounded& one, const Sounded& other)
{
    if (one.order.as_built || other.order.as_built)
        return (one.order.as_built ? other : one).order.residual_db.value_or(no_residual_db) <=
               same_order_below_db;
    const double apart = Sketch::distance(one.sketch, one.gain, other.sketch, other.gain);
    const double power = one.sketch.power() * one.gain * one.gain;
    return apart <= power * signal::dbToPower(same_order_below_db);
}

/// As built on top, then those that differ most; and which of them are the same.
void OrderComparison::sortOut(std::vector<Sounded>& all, Orders& into) const
{
    std::ranges::stable_sort(all, std::ranges::greater(), [](const Sounded& one) {
        return one.order.as_built ? 1e9 : one.order.residual_db.value_or(no_residual_db);
    });
    for (std::size_t i = 0; i < all.size(); ++i)
        for (std::size_t before = 0; before < i && !all[i].order.same_as; ++before)
            if (!all[before].order.same_as && areTheSame(all[before], all[i]))
                all[i].order.same_as = before;
    for (Sounded& one : all) {
        into.distinct += one.order.same_as ? 0 : 1;
        into.orders.push_back(std::move(one.order));
    }
}

} // namespace hr::audition
