// SPDX-License-Identifier: GPL-3.0-or-later
//
// All orders of a chain whose stages only follow one another (chain::runsInTurn): what several have in common
// at their beginning is played once and put aside, and only what differs behind it is played again. Of five
// stages, 120 orders take 325 stages instead of 600.
#pragma once

#include "audition/order_comparison.h"
#include "hosting/worker_folder.h"

#include <atomic>
#include <map>

namespace hr::audition {

class OrdersInTurn {
public:
    OrdersInTurn(OrderComparison& comparison, const chain::Chain& chain,
                 const std::vector<std::string>& movable, const std::filesystem::path& file);

    /// On as many threads as there are cores, each with instances of its own. False: there is nowhere to put
    /// anything aside, and nothing was played.
    bool playAll();

private:
    using Stages = std::vector<std::string>;
    /// The first stages of some orders, and what comes out of them.
    struct Beginning {
        Stages stages;
        PieceFile sound;
    };
    using Instances = std::map<Stages, OpenedChain>;

    void playAsBuilt();
    std::vector<Beginning> longerBy1(const std::vector<Beginning>& beginnings);
    void playBehind(Instances& instances, const Beginning& beginning);
    void playEnd(Instances& instances, const Beginning& beginning, const Stages& end);
    std::optional<Beginning> playOne(Instances& instances, const Beginning& beginning,
                                     const std::string& stage);
    Stages missingIn(const Stages& beginning) const;
    std::vector<OpenedChain*> opened(Instances& instances, std::size_t first_place, const Stages& stages);
    void onAllCores(std::size_t count, const std::function<void(Instances&, std::size_t)>& work);

    OrderComparison& m_comparison;
    const chain::Chain& m_chain;
    const Stages& m_movable;
    const std::filesystem::path& m_file;
    std::vector<Stages> m_fixed;      ///< before the first place of a stage that may move, and behind each
    std::size_t m_latency_frames = 0; ///< of the whole chain
    hosting::WorkerFolder m_folder;
    std::atomic<std::size_t> m_files{0};
    std::vector<Instances> m_instances; ///< of each thread
};

} // namespace hr::audition
