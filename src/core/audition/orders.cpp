// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/orders.h"

#include "audition/order_comparison.h"
#include "audition/orders_in_turn.h"

#include <atomic>
#include <thread>

namespace hr::audition {

using hosting::FaultOr;

namespace {

/// Each order as a chain of its own, from its beginning to its end.
void playEach(OrderComparison& comparison, const chain::Chain& chain, const std::vector<std::string>& movable,
              const std::filesystem::path& file)
{
    const auto play = [&](std::size_t i) {
        const auto& order = comparison.orders()[i];
        const auto other = chain::reordered(chain, movable, order);
        if (!other)
            return comparison.leaveOut();
        if (const auto opened = comparison.open(*other))
            comparison.play(order, [&](const TakeFrames& take, const std::stop_token& cancel) {
                return playThrough(*opened->instance, opened->values, file, take, cancel);
            });
    };
    play(0); // which the others are held against
    std::atomic<std::size_t> next{1};
    const auto playOthers = [&] {
        for (std::size_t i = next++; i < comparison.orders().size() && !comparison.isOver(); i = next++)
            play(i);
    };
    const std::size_t cores = std::max(1U, std::thread::hardware_concurrency());
    std::vector<std::jthread> threads;
    for (std::size_t i = 1; i < std::min(cores, comparison.orders().size()); ++i)
        threads.emplace_back(playOthers);
    playOthers();
}

/// Seconds of it; empty: it cannot be read, which is told where it is played.
std::optional<double> lengthOf(const std::filesystem::path& file)
{
    const auto reader = signal::AudioFileReader::open(file);
    return reader ? std::optional(static_cast<double>(reader->frames()) / reader->sampleRateHz())
                  : std::nullopt;
}

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
    OrderComparison comparison(movable, open, std::move(*aside), control);
    if (!chain::runsInTurn(chain) || lengthOf(file).value_or(0) > longest_shared_s ||
        !OrdersInTurn(comparison, chain, movable, file).playAll())
        playEach(comparison, chain, movable, file);
    return comparison.result();
}

} // namespace hr::audition
