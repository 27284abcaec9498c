// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/registry.h"

#include <QCoreApplication>
#include <cstring>
#include <memory>
#include <vector>

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
    int failed = 0;
    bool any = false;
    for (const Entry& entry : entries()) {
        const bool named = argc > 1 && std::strncmp(argv[1], "tst_", 4) == 0;
        if (named && std::strcmp(argv[1], entry.name) != 0)
            continue;
        any = true;
        const std::unique_ptr<QObject> test(entry.make());
        failed += QTest::qExec(test.get(), named ? argc - 1 : argc, named ? argv + 1 : argv);
    }
    return any ? failed : 1;
}

} // namespace hr::test

int main(int argc, char** argv)
{
    return hr::test::runRegistered(argc, argv);
}
