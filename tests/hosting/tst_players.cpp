// SPDX-License-Identifier: GPL-3.0-or-later
//
// What somebody keeps stays loaded between its courses; of a chain that was edited only what is new is loaded.
#include "hosting/instance.h"
#include "hosting/worker_pool.h"
#include "processors/settings.h"
#include "support/fixtures.h"

#include <QElapsedTimer>

using namespace hr;
using namespace hr::hosting;

class tst_players : public QObject {
    Q_OBJECT

    static inline const OpenOptions stereo{.channels = Channels::Stereo};

    static Location chainOf(const std::vector<Location>& stages)
    {
        Location chain;
        for (const Location& stage : stages) {
            const std::string node = "s" + std::to_string(chain.graph.nodes.size() + 1);
            chain.graph.nodes.push_back({node});
            chain.stages.push_back({node, stage.id, stage.bundle});
            chain.id += stage.id + ' ';
        }
        chain.graph.edges = processors::inSeries(chain.graph.nodes);
        return chain;
    }
    /// Opens and starts it as a lane does; how long that took, in milliseconds.
    static qint64 course(const Location& location, std::unique_ptr<Instance>* keep = nullptr)
    {
        QElapsedTimer clock;
        clock.start();
        auto opened = openInstance(location, stereo);
        if (!opened || !(*opened)->start({48000, 256, 0, true}, processors::defaultValues((*opened)->info())))
            return -1;
        const qint64 took = clock.elapsed();
        if (keep)
            *keep = std::move(*opened);
        return took;
    }
    static std::size_t loads() { return WorkerPool::shared().loads(); }

private slots:
    void cleanup() { WorkerPool::shared().clear(); }

    void whatIsKeptIsLoadedOnce()
    {
        const Location slow = test::faultyAt("slow-to-start"); // 0.3 s to be made
        std::optional<KeptLoaded> kept(slow);
        const std::size_t before = loads();
        QVERIFY(course(slow) >= 300);
        for (int i = 0; i < 5; ++i)
            QVERIFY2(course(slow) < 200, "it was loaded again");
        QCOMPARE(loads(), before + 1);
        // Two at a time are two, and both are there afterwards.
        std::unique_ptr<Instance> playing;
        course(slow, &playing);
        course(slow);
        QCOMPARE(loads(), before + 2);
        playing.reset();
        course(slow, &playing);
        course(slow);
        QCOMPARE(loads(), before + 2);
        playing.reset();
        // At another preset, state or name it is the same.
        Location named = slow;
        named.name = "another name";
        named.preset = "a preset";
        course(named);
        QCOMPARE(loads(), before + 2);
        // Nobody keeps it any more: nothing of it stays loaded.
        kept.reset();
        course(slow);
        QCOMPARE(loads(), before + 3);
    }

    void aCourseBeginsAfresh()
    {
        const Location echo = test::specimenAt("cordage-leveller");
        const KeptLoaded kept(echo);
        const auto in = test::tone(440, -6, 0.5);
        std::vector<signal::AudioBuffer> heard;
        for (int i = 0; i < 3; ++i) {
            auto instance = openInstance(echo, stereo);
            HR_VERIFY(instance);
            HR_VERIFY(
                (*instance)->start({48000, 256, 0, true}, processors::defaultValues((*instance)->info())));
            auto out = (*instance)->process(in);
            HR_VERIFY(out);
            heard.push_back(std::move(*out));
        }
        QVERIFY(std::ranges::equal(heard[0].samples(), heard[1].samples()));
        QVERIFY(std::ranges::equal(heard[0].samples(), heard[2].samples()));
    }

    void ofAnEditedChainOnlyWhatIsNewIsLoaded()
    {
        const Location slow = test::faultyAt("slow-to-start");
        const Location first = chainOf({slow, test::specimenAt("tidepool-equaliser")});
        const Location edited =
            chainOf({test::specimenAt("cordage-leveller"), slow, test::specimenAt("tidepool-equaliser")});
        std::optional<KeptLoaded> kept(first);
        QVERIFY(course(first) >= 300);
        const KeptLoaded kept_too(edited);
        kept.reset();
        QVERIFY2(course(edited) < 250, "the slow one was loaded again");
    }

    void aWorkerThatFailedIsNotGivenOutAgain()
    {
        const Location crashing = test::faultyAt("crash-in-run");
        const KeptLoaded kept(crashing);
        const std::size_t before = loads();
        for (int i = 0; i < 2; ++i) {
            auto instance = openInstance(crashing, stereo);
            HR_VERIFY(instance);
            HR_VERIFY((*instance)->start({48000, 256}, processors::defaultValues((*instance)->info())));
            QVERIFY(!(*instance)->process(test::tone(440, -20, 0.1)));
        }
        QCOMPARE(loads(), before + 2);
    }

    void aWorkerThatDiedAtRestIsNotGivenOut()
    {
        const Location location = test::specimenAt("tidepool-equaliser");
        const KeptLoaded kept(location);
        QVERIFY(course(location) >= 0);
        test::killWorkers();
        QTRY_COMPARE(test::runningWorkers(test::Reserve::Kept), 0);
        QVERIFY(course(location) >= 0);
    }

    void notMoreThanAreOfUseAreKept()
    {
        const Location location = test::specimenAt("tidepool-equaliser");
        const KeptLoaded kept(location);
        std::vector<std::unique_ptr<Instance>> at_work(5);
        for (auto& one : at_work)
            QVERIFY(course(location, &one) >= 0);
        QVERIFY(!WorkerPool::shared().wantsSpare(location, Channels::Stereo));
        at_work.clear();
        const std::size_t before = loads();
        at_work.resize(5);
        for (auto& one : at_work)
            QVERIFY(course(location, &one) >= 0);
        QCOMPARE(loads(), before + 5 - WorkerPool::loaded_each);
    }
};

HR_TEST(tst_players)
#include "tst_players.moc"
