// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/parts_source.h"

#include "library/store.h"
#include "models/company_request.h"
#include "signal/hash.h"

#include <QDir>
#include <QFile>

namespace hr::app {

PartsSource::PartsSource(PartsDraft& parts, Transport& transport, library::Store& store, Jobs& jobs,
                         QObject* parent)
    : QObject(parent), m_parts(parts), m_transport(transport), m_store(store), m_jobs(jobs),
      m_folder(
          QDir(QFile::decodeName(store.database().directory().c_str())).filePath(QStringLiteral("together"))),
      m_soon(parts_rest_ms, [this] { make(); })
{
    connect(&m_parts, &PartsDraft::changed, this, &PartsSource::follow);
    if (QFile::exists(fileOf(m_parts.worked()))) { // as it was left
        m_worked = m_parts.worked();
        m_made_of = whatGoesIn();
    }
}

/// Its name is what is read beside the waveform; two of the same name lie apart, whatever is in their ids.
QString PartsSource::fileOf(const std::string& id) const
{
    QString name = m_parts.nameOf(id);
    for (QChar& letter : name)
        if (letter == QLatin1Char('/') || letter.unicode() < ' ')
            letter = QLatin1Char('-');
    return QDir(m_folder).filePath(QString::fromStdString(signal::hashText(signal::hashOf(id))) +
                                   QLatin1Char('/') + tr("into %1").arg(name.left(80)) +
                                   QStringLiteral(".wav"));
}

bool PartsSource::isTheSource() const
{
    return !m_worked.empty() && m_worked == m_parts.worked() && m_transport.sourceFile() == fileOf(m_worked);
}

/// All that it depends on; empty: nothing goes into what is worked on but a sound of its own.
std::string PartsSource::whatGoesIn() const
{
    const std::string& worked = m_parts.worked();
    chain::Company company = m_parts.company();
    company.sum = {};
    company.next_id = 1;
    if (worked == PartsDraft::the_sum)
        return worked + CompanyRequest::textOf(company);
    if (!company.returnOf(worked))
        return {};
    for (chain::Part& part : company.parts)
        std::erase_if(part.sends, [&](const chain::Part::SendTo& send) { return send.to != worked; });
    std::erase_if(company.parts, [](const chain::Part& part) { return part.sends.empty(); });
    std::erase_if(company.returns, [&](const chain::Return& back) { return back.id != worked; });
    company.returns.front().chain = {};
    company.returns.front().standing = {};
    return CompanyRequest::textOf(company);
}

void PartsSource::follow()
{
    const std::string made_of = whatGoesIn();
    if (made_of.empty()) {
        m_worked.clear();
        m_made_of.clear();
        m_jobs.cancel(std::exchange(m_job, 0));
        return m_soon.stop();
    }
    if (made_of == m_made_of)
        return;
    const bool at_once = m_worked != m_parts.worked();
    m_worked = m_parts.worked();
    m_made_of = made_of;
    at_once ? make() : m_soon.start();
}

void PartsSource::make()
{
    m_soon.stop();
    const auto asked = std::make_shared<const CompanyRequest>(m_parts.company(), m_store, m_transport.rateHz());
    const QString file = fileOf(m_worked);
    const auto made = std::make_shared<Result<hosting::FaultOr<audition::CompanySound>>>(wrongRequest(""));
    JobOrder job;
    job.title = tr("What goes into %1").arg(m_parts.nameOf(m_worked));
    job.line = QStringLiteral("into");
    job.supersedes = true;
    job.urgent = true;
    job.owner = this;
    job.work = [asked, file, made, worked = m_worked](const JobControl& control) {
        audition::CompanyOrder order = asked->order(control.cancel());
        order.into = worked == PartsDraft::the_sum ? std::string() : worked;
        const std::filesystem::path out = QFile::encodeName(file).toStdString();
        const std::filesystem::path beside = out.string() + ".part.wav";
        std::error_code failed;
        std::filesystem::create_directories(out.parent_path(), failed);
        *made = audition::playTogether(asked->company, asked->opener(control.cancel()), beside, order);
        const bool whole = *made && **made && !control.cancel().stop_requested();
        if (whole) // who plays the one before has it open
            std::filesystem::rename(beside, out, failed);
        if (whole && failed)
            *made = machineFailed("The sound of the parts cannot be kept as " + out.string() + " (" +
                                  failed.message() + "): make room on the disk.");
        if (!whole || failed)
            std::filesystem::remove(beside, failed);
    };
    const auto id = std::make_shared<Jobs::Id>();
    job.finished = [this, id, made, file](JobEnd end) {
        if (m_job != *id)
            return; // something else is worked on by now, or it has changed
        m_job = 0;
        if (end == JobEnd::Done && *made && **made)
            m_transport.load(file, m_transport.passage());
        else if (end == JobEnd::Done)
            emit notice(!*made ? inWords(made->error()) : inWords((*made)->error()));
        emit changed();
    };
    m_job = *id = m_jobs.add(std::move(job));
    emit changed();
}

} // namespace hr::app
