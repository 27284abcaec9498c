// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/orders.h"
#include "exchange/chain_file.h"
#include "opened.h"

#include <cstdio>
#include <iostream>

namespace hr::cli {

namespace {

struct OrderOptions {
    std::string chain, on;
    std::vector<std::string> move;
    std::optional<std::size_t> at_most;
    bool json = false, again = false;
};

nlohmann::ordered_json toJson(const audition::HeardOrder& order)
{
    return {{"order", order.stages},
            {"as_built", order.as_built},
            {"gain_db", orNull(order.gain_db)},
            {"loudness_lufs", orNull(order.loudness_lufs)},
            {"true_peak_dbtp", orNull(order.true_peak_dbtp)},
            {"residual_db", orNull(order.residual_db)},
            {"same_as", order.same_as ? nlohmann::ordered_json(*order.same_as) : nlohmann::ordered_json()}};
}

int report(const OrderOptions& options, const audition::Orders& orders)
{
    const std::size_t shown = std::min(options.at_most.value_or(orders.orders.size()), orders.orders.size());
    auto list = nlohmann::ordered_json::array();
    for (std::size_t i = 0; i < shown; ++i) {
        const audition::HeardOrder& one = orders.orders[i];
        list.push_back(toJson(one));
        if (options.json)
            continue;
        for (const std::string& stage : one.stages)
            std::cout << stage << ' ';
        std::cout << '\t' << figure(one.loudness_lufs, "LUFS") << '\t'
                  << (one.as_built ? std::string("as built") : "differs by " + figure(one.residual_db, "dB"))
                  << (one.same_as ? ", as number " + std::to_string(*one.same_as + 1) : std::string()) << '\n';
    }
    if (options.json)
        print({{"movable", orders.movable}, {"orders", list}, {"distinct", orders.distinct}});
    else
        std::cout << orders.distinct << " of " << orders.orders.size() << " orders differ.\n";
    if (orders.cannot_run > 0)
        std::cerr << "hrack: " << orders.cannot_run
                  << " orders are left out: a key would come from behind its stage.\n";
    return 0;
}

Result<int> run(const Context& context, const OrderOptions& options)
{
    auto chain = exchange::readChain(options.chain);
    if (!chain)
        return tl::make_unexpected(chain.error());
    auto movable = chain::movable(*chain, options.move);
    if (!movable)
        return wrongRequest(options.chain + ": " + movable.error().text);
    const auto in = signal::AudioFileReader::open(options.on);
    if (!in)
        return tl::make_unexpected(in.error());
    ChainOpener opener(context, options.chain, options.again, in->sampleRateHz());
    const auto open = [&](const chain::Chain& one) { return opener.openToPlay(one); };
    audition::OrdersControl control;
    if (context.progress)
        control.progress = [](std::size_t done, std::size_t of) {
            std::fprintf(stderr, "%zu of %zu orders\n", done, of);
        };
    auto orders = audition::compareOrders(*chain, *movable, open, options.on,
                                          std::filesystem::temp_directory_path(), control);
    if (!orders)
        return tl::make_unexpected(orders.error());
    if (*orders)
        return report(options, **orders);
    return opener.reportFailure(orders->error(), options.json);
}

} // namespace

void addOrder(CLI::App& app, Context& context)
{
    auto* command = app.add_subcommand("order", "what the order of a chain's stages does to a file");
    const auto options = std::make_shared<OrderOptions>();
    command->add_option("CHAIN", options->chain, "a chain file")->required();
    command->add_option("--on", options->on, "audio file to hear them on")->required();
    command
        ->add_option("--move", options->move,
                     "ids of the stages that may move; those marked in the file when left out")
        ->delimiter(',');
    command->add_option("--at-most", options->at_most, "print no more orders than these");
    command->add_flag("--json", options->json, "one JSON document on standard output");
    command->add_flag("--again", options->again, "try stages even though they are in quarantine");
    command->callback(
        [&context, options] { context.run = [&context, options] { return run(context, *options); }; });
}

} // namespace hr::cli
