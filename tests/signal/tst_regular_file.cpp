// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/document.h"
#include "processors/json_text.h"
#include "signal/audio_file.h"
#include "signal/regular_file.h"
#include "support/fixtures.h"

#include <fstream>
#include <sys/stat.h>

using namespace hr;

class tst_regular_file : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    std::filesystem::path path(const char* name) const
    {
        return m_folder.filePath(QLatin1String(name)).toStdString();
    }

private slots:
    void whatIsNoFileIsRefusedAtOnce()
    {
        QCOMPARE(mkfifo(path("pipe").c_str(), 0600), 0);
        std::filesystem::create_symlink("/dev/zero", path("endless"));
        std::ofstream(path("file")) << "twelve bytes";
        for (const char* name : {"pipe", "endless", "nowhere"}) {
            QVERIFY(!signal::isRegularFile(path(name)));
            QVERIFY2(!signal::readRegularFile(path(name), 1000), name);
            QVERIFY2(!signal::readAudioFile(path(name)), name);
            QVERIFY2(!exchange::readDocument(path(name)), name);
        }
        QCOMPARE(*signal::readRegularFile(path("file"), 12), std::string("twelve bytes"));
        QVERIFY(test::why(signal::readRegularFile(path("file"), 11)).contains(QStringLiteral("too large")));
    }

    void jsonIsBoundedBeforeItIsBuilt()
    {
        const auto nested = [](std::size_t levels) {
            return std::string(levels, '[') + std::string(levels, ']');
        };
        QVERIFY(!processors::jsonFrom(nested(64)).is_discarded());
        QVERIFY(processors::jsonFrom(nested(65)).is_discarded());
        QVERIFY(processors::jsonFrom(std::string(60 << 20, '[')).is_discarded());
        QVERIFY(processors::jsonFrom("[1, 2]", 5).is_discarded());
        const std::string in_strings = "{\"a\": \"[[[[\\\"[[\", \"b\": [1]}";
        QVERIFY(!processors::jsonFrom(in_strings).is_discarded());
        const std::string escaped = "[\"\\\\\", \"[[[\"]";
        QVERIFY(!processors::nestsDeeperThan(escaped, 1));
    }
};

HR_TEST(tst_regular_file)
#include "tst_regular_file.moc"
