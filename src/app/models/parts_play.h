// SPDX-License-Identifier: GPL-3.0-or-later
//
// How the part or return that is worked on is heard: alone, among the others, or only the others. Their sound
// is made in the background with the section that repeats, again whenever something of it changes.
#pragma once

#include "audition/company.h"
#include "models/line_up.h"
#include "models/parts_source.h"

#include <QTemporaryDir>

namespace hr::app {

class PartsPlay : public QObject {
    Q_OBJECT
public:
    enum class Heard { Alone, InCompany, OnlyRest };

    PartsPlay(PartsDraft& parts, LineUp& line_up, Transport& transport, library::Store& store, Jobs& jobs,
              QObject* parent = nullptr);

    void setHeard(Heard heard);
    Heard heard() const { return m_heard; }
    /// Why the others cannot be heard; empty: they can, or are being made.
    const QString& whyNot() const { return m_why_not; }
    bool isPending() const { return m_job != 0 || m_soon.isActive() || m_into.isPending(); }
    /// Of parts and returns, as they were heard last, by id.
    const std::map<std::string, std::optional<double>>& levels() const { return m_levels; }
    /// All parts through the chain on their sum, as a candidate; of one section.
    void hearSum();

signals:
    void changed();
    void notice(const QString& text);

private:
    struct Request;
    JobOrder jobFor(const QString& title, const QString& line);
    std::shared_ptr<const Request> request() const;
    void somethingChanged();
    void make();
    void made(const Request& asked, const Result<hosting::FaultOr<audition::CompanySound>>& rest,
              const QString& file, std::optional<double> part_lufs);
    void apply();
    const chain::Standing* standing() const;
    static chain::Company aloneOf(const Request& asked);

    PartsDraft& m_parts;
    LineUp& m_line_up;
    Transport& m_transport;
    library::Store& m_store;
    Jobs& m_jobs;
    PartsSource m_into;
    Soon m_soon;
    QTemporaryDir m_folder;
    Heard m_heard = Heard::Alone;
    Jobs::Id m_job = 0;
    int m_files = 0;
    std::string m_rest_of; // what the rest that plays was made of; empty: there is none
    QString m_rest_file;
    QString m_why_not;
    std::map<std::string, std::optional<double>> m_levels;
};

} // namespace hr::app
