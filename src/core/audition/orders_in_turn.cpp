// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/orders_in_turn.h"

#include "chain/part.h"

#include <algorithm>
#include <cassert>
#include <thread>

namespace hr::audition {

namespace {

/// Each has a worker for every stage.
constexpr std::size_t most_threads = 8;
/// So many threads find enough to do in what begins with two stages; only what they have at hand is put aside
/// of longer beginnings.
constexpr std::size_t shared_stages = 2;

} // namespace

OrdersInTurn::OrdersInTurn(OrderComparison& comparison, const chain::Chain& chain,
                           const std::vector<std::string>& movable, const std::filesystem::path& file)
    : m_comparison(comparison), m_chain(chain), m_movable(movable), m_file(file), m_fixed(1),
      m_instances(std::clamp<std::size_t>(std::thread::hardware_concurrency(), 1, most_threads))
{
    assert(movable.size() >= 2 && chain::runsInTurn(chain));
    for (const chain::Node& node : chain.nodes)
        if (std::ranges::find(movable, node.id) == movable.end())
            m_fixed.back().push_back(node.id);
        else
            m_fixed.emplace_back();
    m_folder.make();
}

bool OrdersInTurn::playAll()
{
    if (m_folder.path().empty())
        return false;
    playAsBuilt(); // which the others are held against
    std::vector<Beginning> beginnings{{{}, {m_file}}};
    while (beginnings.front().stages.size() < std::min(shared_stages, m_movable.size() - 2)) {
        beginnings = longerBy1(beginnings);
        if (m_comparison.isOver())
            return true;
    }
    onAllCores(beginnings.size(),
               [&](Instances& instances, std::size_t i) { playBehind(instances, beginnings[i]); });
    return true;
}

void OrdersInTurn::playAsBuilt()
{
    const auto in_turn = opened(m_instances.front(), 0, m_movable);
    if (m_comparison.isOver())
        return;
    const auto played =
        m_comparison.play(m_movable, [&](const TakeFrames& take, const std::stop_token& cancel) {
            return playThrough(in_turn, {m_file}, take, cancel);
        });
    if (played)
        m_latency_frames = played->latency_samples;
}

std::vector<OrdersInTurn::Beginning> OrdersInTurn::longerBy1(const std::vector<Beginning>& beginnings)
{
    std::vector<std::pair<const Beginning*, std::string>> wanted;
    for (const Beginning& one : beginnings)
        for (const std::string& next : missingIn(one.stages))
            wanted.emplace_back(&one, next);
    std::vector<Beginning> longer(wanted.size());
    onAllCores(wanted.size(), [&](Instances& instances, std::size_t i) {
        if (auto played = playOne(instances, *wanted[i].first, wanted[i].second))
            longer[i] = std::move(*played);
    });
    return longer;
}

/// All orders with this beginning, but for the one as built.
void OrdersInTurn::playBehind(Instances& instances, const Beginning& beginning)
{
    Stages rest = missingIn(beginning.stages);
    if (rest.size() <= 2) {
        playEnd(instances, beginning, rest);
        std::ranges::reverse(rest);
        return playEnd(instances, beginning, rest);
    }
    for (const std::string& next : rest)
        if (const auto longer = playOne(instances, beginning, next)) {
            playBehind(instances, *longer);
            std::error_code gone;
            std::filesystem::remove(longer->sound.file, gone);
        }
}

void OrdersInTurn::playEnd(Instances& instances, const Beginning& beginning, const Stages& end)
{
    Stages order = beginning.stages;
    order.insert(order.end(), end.begin(), end.end());
    if (order == m_movable || m_comparison.isOver())
        return;
    const auto in_turn = opened(instances, beginning.stages.size(), end);
    if (!m_comparison.isOver())
        m_comparison.play(order, [&](const TakeFrames& take, const std::stop_token& cancel) {
            return playThrough(in_turn, beginning.sound, take, cancel);
        });
}

std::optional<OrdersInTurn::Beginning> OrdersInTurn::playOne(Instances& instances, const Beginning& beginning,
                                                             const std::string& stage)
{
    if (m_comparison.isOver())
        return std::nullopt;
    const auto in_turn = opened(instances, beginning.stages.size(), {stage});
    if (m_comparison.isOver())
        return std::nullopt;
    const auto out = m_folder.path() / (std::to_string(m_files++) + ".wav");
    auto played = playPiece(in_turn, beginning.sound, m_latency_frames, out, m_comparison.over());
    if (!m_comparison.accepted(played))
        return std::nullopt;
    Beginning longer{beginning.stages, std::move(**played)};
    longer.stages.push_back(stage);
    return longer;
}

OrdersInTurn::Stages OrdersInTurn::missingIn(const Stages& beginning) const
{
    Stages missing;
    std::ranges::copy_if(m_movable, std::back_inserter(missing), [&](const std::string& stage) {
        return std::ranges::find(beginning, stage) == beginning.end();
    });
    return missing;
}

/// These stages, the first of them at that place of those that may move, with what stands fixed around them;
/// fewer where it is over.
std::vector<OpenedChain*> OrdersInTurn::opened(Instances& instances, std::size_t first_place,
                                               const Stages& stages)
{
    std::vector<Stages> pieces;
    if (first_place == 0)
        pieces.push_back(m_fixed.front());
    for (std::size_t i = 0; i < stages.size(); ++i) {
        pieces.push_back({stages[i]});
        pieces.push_back(m_fixed[first_place + i + 1]);
    }
    std::vector<OpenedChain*> in_turn;
    for (const Stages& piece : pieces) {
        if (piece.empty())
            continue;
        auto at = instances.find(piece);
        if (at == instances.end()) {
            auto one = m_comparison.open(chain::onlyStages(m_chain, piece));
            if (!one)
                return in_turn;
            at = instances.emplace(piece, std::move(*one)).first;
        }
        in_turn.push_back(&at->second);
    }
    return in_turn;
}

void OrdersInTurn::onAllCores(std::size_t count, const std::function<void(Instances&, std::size_t)>& work)
{
    std::atomic<std::size_t> next{0};
    const auto workOn = [&](Instances& instances) {
        for (std::size_t i = next++; i < count && !m_comparison.isOver(); i = next++)
            work(instances, i);
    };
    std::vector<std::jthread> threads;
    for (std::size_t i = 1; i < std::min(count, m_instances.size()); ++i)
        threads.emplace_back([&, i] { workOn(m_instances[i]); });
    workOn(m_instances.front());
}

} // namespace hr::audition
