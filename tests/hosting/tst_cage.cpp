// SPDX-License-Identifier: GPL-3.0-or-later
//
// Plug-ins that try to get out of their worker: each is refused, what it wanted is told, and the host goes on.
#include "hosting/cage_offers.h"
#include "hosting/instance.h"
#include "support/fixtures.h"

#include <cerrno>
#include <csignal>
#include <fcntl.h>
#include <unistd.h>

using namespace hr;
using namespace hr::hosting;

class tst_cage : public QObject {
    Q_OBJECT

    static Location intruder(const QString& name)
    {
        return {"lv2:urn:honest-rack:tests:" + name.toStdString(), test::intruders_bundle};
    }
    /// What its attempt came to: 0, or the error number.
    static FaultOr<int> outcomeOf(Instance& instance)
    {
        if (auto started = instance.start({48000, 256}, std::vector<double>{0}); !started)
            return tl::make_unexpected(started.error());
        auto out = instance.process(test::tone(1000, -20, 0.05));
        if (!out)
            return tl::make_unexpected(out.error());
        return static_cast<int>(std::lround(1000 * out->channel(0)[100]));
    }

private slots:
    void everyWayOutIsClosed_data()
    {
        QTest::addColumn<int>("outcome");
        QTest::addColumn<QString>("wanted");
        QTest::newRow("shrinks-the-block") << EPERM << "";
        QTest::newRow("starts-a-program") << EPERM << "wanted other programs";
        QTest::newRow("forks") << EPERM << "wanted other programs";
        QTest::newRow("traces-its-host") << EPERM << "wanted to reach into other processes";
        QTest::newRow("signals-its-host") << EPERM << "wanted to reach into other processes";
        QTest::newRow("reaches-the-network") << EPERM << "wanted the network";
        QTest::newRow("reaches-other-programs") << EPERM << "wanted other programs";
        QTest::newRow("writes-to-the-home") << EACCES << "wanted to write to HOME/intruder.txt";
        QTest::newRow("writes-to-its-folder") << 0 << "";
        QTest::newRow("raises-its-limits") << EPERM << "wanted to reach into other processes";
        QTest::newRow("sends-by-owner") << EPERM << "wanted to reach into other processes";
        QTest::newRow("finds-our-files") << 0 << "";
    }
    void everyWayOutIsClosed()
    {
        QFETCH(int, outcome);
        QFETCH(QString, wanted);
        if (!missingFrom(cageOffers()).empty())
            QSKIP("this kernel offers less");
        const QTemporaryDir home;
        const QByteArray before = qgetenv("HOME");
        qputenv("HOME", home.path().toUtf8());
        const int inherited = open("/dev/null", O_RDONLY); // as a library of ours might leave one open
        auto instance =
            openInstance(intruder(QLatin1String(QTest::currentDataTag())), {.workers = Workers::Fresh});
        close(inherited);
        qputenv("HOME", before);
        HR_VERIFY(instance);
        const auto found = outcomeOf(**instance);
        HR_VERIFY(found);
        QCOMPARE(*found, outcome);
        QCOMPARE(QString::fromStdString(inWords((*instance)->refusals())),
                 wanted.replace(QStringLiteral("HOME"), home.path()));
        HR_VERIFY((*instance)->stop());
        instance->reset();
        QVERIFY(!QFile::exists(home.filePath(QStringLiteral("intruder.txt"))));
        QTRY_COMPARE(test::runningWorkers(), 0);
    }

    void twentyTimesInARowTheHostLives()
    {
        for (int i = 0; i < 20; ++i) {
            auto instance =
                openInstance(intruder(QStringLiteral("shrinks-the-block")), {.workers = Workers::Fresh});
            HR_VERIFY(instance);
            HR_VERIFY(outcomeOf(**instance));
        }
    }

    void whatIsAllowedIsOpen()
    {
        if (!missingFrom(cageOffers()).empty())
            QSKIP("this kernel offers less");
        Location network = intruder(QStringLiteral("reaches-the-network"));
        network.permissions.network = true;
        auto instance = openInstance(network);
        HR_VERIFY(instance);
        QCOMPARE(*outcomeOf(**instance), 0);
        QVERIFY(!(*instance)->refusals().any());
        instance->reset();
        // Revoked: the worker that was allowed it is not given out again.
        network.permissions.network = false;
        instance = openInstance(network);
        HR_VERIFY(instance);
        QCOMPARE(*outcomeOf(**instance), EPERM);

        const QTemporaryDir folder;
        Location writer = intruder(QStringLiteral("writes-to-the-home"));
        writer.permissions.folder = folder.path().toStdString();
        const QByteArray before = qgetenv("HOME");
        qputenv("HOME", folder.path().toUtf8());
        instance = openInstance(writer);
        qputenv("HOME", before);
        HR_VERIFY(instance);
        QCOMPARE(*outcomeOf(**instance), 0);
        QVERIFY(QFile::exists(folder.filePath(QStringLiteral("intruder.txt"))));
    }

    void aChainMayOnlyWhatAllItsStagesMay()
    {
        Location chain;
        chain.graph.nodes = {{"a"}, {"b"}};
        chain.graph.edges = processors::inSeries(chain.graph.nodes);
        chain.stages = {{"a", "lv2:x", "/x", {}, {true, "/f"}}, {"b", "lv2:y", "/y", {}, {true, "/f"}}};
        QVERIFY((permissionsOf(chain) == Permissions{true, "/f"}));
        chain.stages[1].permissions = {false, "/other"};
        QVERIFY(permissionsOf(chain) == Permissions());
    }

    void aFolderOfItsOwnIsEmptied()
    {
        const auto folders = [] {
            return QDir::temp().entryList({QStringLiteral("honest-rack-worker-*")}, QDir::Dirs);
        };
        test::runningWorkers(); // ends those in reserve
        const QStringList before = folders();
        auto instance =
            openInstance(intruder(QStringLiteral("writes-to-its-folder")), {.workers = Workers::Fresh});
        HR_VERIFY(instance);
        HR_VERIFY(outcomeOf(**instance));
        QCOMPARE(folders().size(), before.size() + 1);
        instance->reset();
        QTRY_COMPARE(test::runningWorkers(), 0);
        QCOMPARE(folders(), before);
    }
};

HR_TEST(tst_cage)
#include "tst_cage.moc"
