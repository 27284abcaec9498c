// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/orders.h"

#include "audition/sketch.h"
#include "signal/levels.h"
#include "signal/scratch_file.h"

#include <algorithm>

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

/// The order as built is put aside; every other one is held against it as it plays.
class Comparer {
public:
    explicit Comparer(signal::ScratchFile file) : m_built(std::move(file)) {}

    Result<FaultOr<Sounded>> play(OpenedChain& opened, const std::filesystem::path& file, bool as_built,
                                  const std::stop_token& cancel)
    {
        Sounded sounded;
        sounded.order.as_built = as_built;
        Products products;
        if (!as_built)
            if (auto rewound = m_built.rewind(); !rewound)
                return tl::make_unexpected(rewound.error());
        std::vector<float> built;
        auto played = playThrough(
            *opened.instance, opened.values, file,
            [&](std::vector<float>& frames) -> Result<void> {
                sounded.sketch.add(frames);
                if (as_built)
                    return m_built.write(frames.data(), frames.size());
                built.resize(frames.size());
                built.resize(m_built.read(built.data(), built.size()));
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
        if (as_built)
            m_built_lufs = sounded.order.loudness_lufs;
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

} // namespace

Result<FaultOr<Orders>>
compareOrders(const chain::Chain& chain, const std::vector<std::string>& movable,
              const std::function<Result<FaultOr<OpenedChain>>(const chain::Chain&)>& open,
              const std::filesystem::path& file, const std::filesystem::path& scratch_folder,
              const OrdersControl& control)
{
    Orders orders;
    orders.movable = movable;
    auto aside = signal::ScratchFile::in(scratch_folder);
    if (!aside)
        return tl::make_unexpected(aside.error());
    Comparer comparer(std::move(*aside));
    std::vector<Sounded> all;
    const auto wanted = chain::ordersOf(movable);
    for (const auto& order : wanted) {
        if (control.cancel.stop_requested())
            return FaultOr<Orders>(hosting::fault(hosting::Phase::Run, hosting::Cause::Cancelled, {}));
        auto other = chain::reordered(chain, movable, order);
        if (!other) {
            ++orders.cannot_run;
            continue;
        }
        auto opened = open(*other);
        if (!opened)
            return tl::make_unexpected(opened.error());
        if (!*opened)
            return FaultOr<Orders>(tl::make_unexpected(opened->error()));
        auto sounded = comparer.play(**opened, file, &order == &wanted.front(), control.cancel);
        if (!sounded)
            return tl::make_unexpected(sounded.error());
        if (!*sounded)
            return FaultOr<Orders>(tl::make_unexpected(sounded->error()));
        (*sounded)->order.stages = order;
        all.push_back(std::move(**sounded));
        if (control.progress)
            control.progress(all.size() + orders.cannot_run, wanted.size());
    }
    sortOut(all, orders);
    return FaultOr<Orders>(std::move(orders));
}

} // namespace hr::audition
