// SPDX-License-Identifier: GPL-3.0-or-later
//
// Under which conditions candidates are measured from now on. They are kept over a restart, but for the sound.
#pragma once

#include "actions/notices.h"
#include "audio/transport.h"
#include "bench/conditions.h"
#include "jobs/jobs.h"
#include "library/store.h"
#include "models/source_list.h"

#include <QObject>

namespace hr::app {

class BenchConditions : public QObject {
    Q_OBJECT
public:
    struct Services {
        library::Store& store;
        Transport& transport;
        SourceList& sources;
        Jobs& jobs;
        Notices& notices;
    };
    explicit BenchConditions(const Services& services, QObject* parent = nullptr);

    const bench::Conditions& now() const { return m_now; }
    bool areStandard() const { return m_now == bench::Conditions(); }
    /// "44.1 kHz · block of 64 · at −20 dBFS · 120 BPM"
    QString text() const;

    /// As typed, by the key of bench::conditionRanges(); of level, frequency and tempo, nothing means each
    /// test's own. What makes no sense is said, and changes nothing.
    void type(const QString& key, const QString& text);
    /// As it is typed; empty where it is each test's own.
    QString typed(const QString& key) const;
    void setKey(bench::KeyFeed key);
    /// The section that plays now takes the place of the bench's programme, once it has been read.
    void takeSection();
    void takeOwnProgramme();
    void reset();

signals:
    void changed();

private:
    void set(bench::Conditions conditions);
    void recall();

    const Services m_services;
    bench::Conditions m_now;
};

} // namespace hr::app
