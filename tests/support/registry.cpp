// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/registry.h"

#include <QCoreApplication>
#include <cstring>
#include <memory>
#include <string>
#include <vector>

#ifdef HONEST_RACK_SANITIZED
// Qt, JACK and PulseAudio are not built with the thread sanitizer: what they do among themselves it cannot see.
extern "C" const char* __tsan_default_options()
{
    return "die_after_fork=0";
}
extern "C" const char* __tsan_default_suppressions()
{
    return "race:QWaitCondition\ncalled_from_lib:libQt6Core.so\ncalled_from_lib:libQt6Test.so\n"
           "race:QTest::qRun\ncalled_from_lib:libjack.so\nrace:libjack.so\ncalled_from_lib:libpulse.so\n"
           "called_from_lib:libpulsecommon\nrace:libpulse\n";
}
// Qt asks a session bus, where there is one, and D-Bus keeps what it made for that.
extern "C" const char* __lsan_default_suppressions()
{
    return "leak:libdbus-1\n";
}
#endif

namespace hr::test {

namespace {

struct Entry {
    const char* name;
    Make make;
};

std::vector<Entry>& entries()
{
    static std::vector<Entry> all;
    return all;
}

} // namespace

bool registerTest(const char* name, Make make)
{
    entries().push_back({name, make});
    return true;
}

/// Defined by folders that need widgets; the others run without a display.
__attribute__((weak)) std::unique_ptr<QCoreApplication> makeApplication(int& argc, char** argv)
{
    return std::make_unique<QCoreApplication>(argc, argv);
}

int runRegistered(int argc, char** argv)
{
    qputenv("HR_TEST_TAG",
            QByteArray::number(QCoreApplication::applicationPid()) + ";"); // see runningWorkers()
    const auto application = makeApplication(argc, argv);
    // A crash is to end the run at once: Qt's handler asks a debugger, which may hang.
    std::vector<char*> arguments(argv, argv + argc);
    std::string plain = "-nocrashhandler";
    arguments.push_back(plain.data());
    int failed = 0;
    bool any = false;
    for (const Entry& entry : entries()) {
        const bool named = argc > 1 && std::strncmp(argv[1], "tst_", 4) == 0;
        if (named && std::strcmp(argv[1], entry.name) != 0)
            continue;
        any = true;
        const std::unique_ptr<QObject> test(entry.make());
        const int skipped = named ? 1 : 0;
        failed += QTest::qExec(test.get(), argc + 1 - skipped, arguments.data() + skipped);
    }
    return any ? failed : 1;
}

} // namespace hr::test

int main(int argc, char** argv)
{
    return hr::test::runRegistered(argc, argv);
}
