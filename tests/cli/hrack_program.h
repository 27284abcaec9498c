// SPDX-License-Identifier: GPL-3.0-or-later
//
// hrack, run as a script would, with a data directory of its own.
#pragma once

#include "support/fixtures.h"

#include <nlohmann/json.hpp>

namespace hr::test {

class HrackProgram : public QObject {
protected:
    QTemporaryDir m_data;

    Finished hrack(const QStringList& arguments) const
    {
        return runProgram(QStringLiteral("hrack"), arguments,
                          {QStringLiteral("HONEST_RACK_DATA=") + m_data.path()});
    }
    static nlohmann::json document(const Finished& finished)
    {
        return nlohmann::json::parse(finished.out.toStdString(), nullptr, false);
    }
    static QString id(const char* name) { return QString::fromStdString(specimen) + QString::fromLatin1(name); }
};

} // namespace hr::test
