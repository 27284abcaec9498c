// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is known about a processor: why it is in quarantine, what it may do, what it is, how it measured, and
// where it is written about.
#pragma once

#include "pages/find/find_services.h"
#include "widgets/filled_column.h"

namespace hr::app {

class AboutPart : public FilledColumn {
    Q_OBJECT
public:
    explicit AboutPart(const FindServices& services, QWidget* parent = nullptr);

    void show(const library::Entry& entry, const processors::ProcessorInfo& info);

signals:
    void changed(); ///< something that is kept about it, by a button here

private:
    void addQuarantine();
    void addCage(const library::Entry& entry);
    void addPlacing(const library::Entry& entry);
    void addHelp(const library::Entry& entry, const processors::ProcessorInfo& info);
    void addReadings();
    void addPages();
    QStringList inQuarantine() const;

    const FindServices m_services;
    QString m_id;
};

} // namespace hr::app
