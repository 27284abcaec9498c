// SPDX-License-Identifier: GPL-3.0-or-later
//
// Orders of one chain, held against the order as built while they are played, on any number of threads.
#pragma once

#include "audition/orders.h"
#include "audition/sketch.h"
#include "signal/scratch_file.h"

#include <mutex>

namespace hr::audition {

class OrderComparison {
public:
    using Order = std::vector<std::string>;
    using Open = std::function<Result<hosting::FaultOr<OpenedChain>>(const chain::Chain&)>;
    /// Plays an order from its beginning to its end.
    using Play = std::function<Result<Played>(const TakeFrames& take, const std::stop_token& cancel)>;

    /// The order as built is put aside in `aside`.
    OrderComparison(const std::vector<std::string>& movable, const Open& open, signal::ScratchFile aside,
                    const OrdersControl& control);

    /// As built first.
    const std::vector<Order>& orders() const { return m_orders; }

    /// The one as built has to be played first, alone. Empty: it is over.
    std::optional<Played> play(const Order& order, const Play& play);
    /// It cannot run.
    void leaveOut();
    /// One at a time. Empty: it is over.
    std::optional<OpenedChain> open(const chain::Chain& chain);
    /// The first that goes wrong ends it all.
    template<class T>
    bool accepted(const Result<hosting::FaultOr<T>>& result)
    {
        if (!result)
            fail(result.error());
        else if (!*result)
            fail(result->error());
        return result && *result;
    }
    bool isOver() const { return m_over.stop_requested(); }
    std::stop_token over() const { return m_over.get_token(); }

    /// Once everything is played.
    Result<hosting::FaultOr<Orders>> result();

private:
    struct Sounded {
        HeardOrder order;
        Sketch sketch;
        double gain = 1;
    };
    static bool areTheSame(const Sounded& one, const Sounded& other);
    void sortOut(std::vector<Sounded>& all, Orders& into) const;
    void fail(const Error& problem);
    void fail(const hosting::Fault& fault);
    void tellDone();

    const std::vector<std::string>& m_movable;
    const Open& m_open;
    const OrdersControl& m_control;
    const std::vector<Order> m_orders;
    signal::ScratchFile m_built;
    std::optional<double> m_built_lufs;
    std::vector<std::optional<Sounded>> m_sounded; // each by whoever plays it
    std::stop_source m_over;
    std::stop_callback<std::function<void()>> m_cancelled;
    std::mutex m_mutex; // for all that follows, and m_open
    std::size_t m_done = 0;
    std::optional<Error> m_problem;
    std::optional<hosting::Fault> m_fault;
};

} // namespace hr::audition
