// SPDX-License-Identifier: GPL-3.0-or-later
//
// Test classes of a folder run one after the other in its executable. A class named as the first
// argument runs alone; what follows it goes to Qt Test.
#pragma once

#include <QTest>

namespace hr::test {

using Make = QObject* (*)();
bool registerTest(const char* name, Make make);

} // namespace hr::test

#define HR_TEST(Class)                                                                                         \
    static const bool registered_##Class =                                                                     \
        hr::test::registerTest(#Class, [] { return static_cast<QObject*>(new Class); });
