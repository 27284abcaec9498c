// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/thread_priority.h"
#include "hosting/worker_pool.h"
#include "processors/settings.h"
#include "support/fixtures.h"

#include <algorithm>
#include <sys/resource.h>
#include <thread>

using namespace hr;
using namespace hr::hosting;

class tst_thread_priority : public QObject {
    Q_OBJECT

    static std::unique_ptr<Worker> take(const Location& place)
    {
        return std::move(WorkerPool::shared().take(place, Channels::Own, {})->worker);
    }

private slots:
    void workersKeepThePaceOfWhoStartedThem()
    {
        const int usual = niceness();
        std::thread([&] {
            setPriority(Priority::Background);
            QVERIFY(niceness() > usual);
            const auto worker = Worker::spawn();
            HR_VERIFY(worker);
            QCOMPARE(getpriority(PRIO_PROCESS, static_cast<id_t>((*worker)->pid())), niceness());
        }).join();
        QCOMPARE(niceness(), usual); // of that thread alone
    }

    void reservesOfOnePaceAreNotGivenToAnother()
    {
        const Location place = test::specimenAt("cordage-leveller");
        pid_t behind = 0;
        std::thread([&] {
            setPriority(Priority::Background);
            auto taken = take(place);
            const auto info = taken->load(place);
            HR_VERIFY(info);
            behind = taken->pid();
            WorkerPool::shared().giveBack(std::move(taken), place, Channels::Own, *info);
        }).join();
        const auto ahead = take(place);
        QVERIFY(ahead->pid() != behind);
        std::thread([&] {
            setPriority(Priority::Background);
            bool again = false; // it may still be unloading what it had
            for (int i = 0; i < 100 && !again; ++i)
                again = take(place)->pid() == behind;
            QVERIFY(again);
        }).join();
        WorkerPool::shared().clear();
    }

    void aWorkerTellsItsMemoryAndItsBlocks()
    {
        const auto instance = openInstance(test::specimenAt("cordage-leveller"));
        HR_VERIFY(instance);
        QVERIFY(*(*instance)->memoryMib() > 1 && *(*instance)->memoryMib() < 500);
        const auto values = processors::defaultValues((*instance)->info());
        HR_VERIFY((*instance)->start({48000, 100}, values));
        const signal::AudioBuffer in((*instance)->info().audio_in + (*instance)->info().key_in, 20050, 48000);
        HR_VERIFY((*instance)->process(in));
        QVERIFY((*instance)->takeBlockTimes().empty()); // kept from here on
        HR_VERIFY((*instance)->process(in));
        // Two stretches, each with a short block at its end.
        const auto times = (*instance)->takeBlockTimes();
        QCOMPARE(times.size(), std::size_t{164 + 37});
        QVERIFY(std::ranges::all_of(times, [](std::uint32_t ns) { return ns < 2'000'000'000; }));
    }

    void presetsOfABundleSayWhoseTheyAre()
    {
        const auto worker = Worker::spawn();
        HR_VERIFY(worker);
        const auto contents = (*worker)->describe(test::specimens_bundle);
        HR_VERIFY(contents);
        QVERIFY(!contents->presets.empty());
        for (const auto& [processor, preset] : contents->presets) {
            const auto owner =
                std::ranges::find(contents->processors, processor, &processors::ProcessorInfo::id);
            QVERIFY(owner != contents->processors.end());
            QVERIFY(std::ranges::find(owner->presets, preset.id, &processors::PresetInfo::id) !=
                    owner->presets.end());
        }
    }
};

HR_TEST(tst_thread_priority)
#include "tst_thread_priority.moc"
