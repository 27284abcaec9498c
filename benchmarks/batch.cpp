// SPDX-License-Identifier: GPL-3.0-or-later
//
// How a batch scales: the same processors measured one at a time (the baseline) and as many at once as there
// are cores. Usage: bench-batch [PROCESSORS]
#include "exchange/batch.h"

#include <QCoreApplication>
#include <QTemporaryDir>
#include <chrono>
#include <cstdio>
#include <thread>

using namespace hr;

namespace {

double seconds(library::Store& store, const std::vector<exchange::BatchItem>& items, unsigned jobs)
{
    const QTemporaryDir folder;
    exchange::BatchOrder order;
    order.folder = folder.path().toStdString();
    order.tests = *bench::testsNamed({"response", "harmonics", "transfer", "noise"});
    order.jobs = jobs;
    order.store = false;
    const auto began = std::chrono::steady_clock::now();
    if (!exchange::runBatch(store, items, order))
        return 0;
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - began).count();
}

} // namespace

int main(int argc, char** argv)
{
    const QCoreApplication application(argc, argv);
    const int count = argc > 1 ? std::atoi(argv[1]) : 24;
    const QTemporaryDir data;
    auto store = library::Store::open(data.path().toStdString());
    if (!store || !(*store)->catalogue.recordReferences())
        return 1;
    const auto info = *(*store)->catalogue.info(QStringLiteral("reference:compressor"));
    std::vector<exchange::BatchItem> items;
    for (int i = 0; i < count; ++i) {
        exchange::BatchItem item{{info.id, {}}, info, {}, {}};
        for (const auto& parameter : info.parameters)
            item.values.push_back(parameter.default_value);
        item.values[0] = -10.0 - i; // so that each is another
        item.set_up = library::setUpOf((*store)->catalogue, item.location, info, item.values);
        items.push_back(std::move(item));
    }
    const unsigned cores = std::max(1U, std::thread::hardware_concurrency());
    const double alone = seconds(**store, items, 1);
    const double together = seconds(**store, items, cores);
    std::printf(
        "one at a time (baseline): %.2f s for %d\n%u at once: %.2f s, %.2f times as fast: %.0f %% of linear\n",
        alone, count, cores, together, alone / together, 100 * alone / together / cores);
}
