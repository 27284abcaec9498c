// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/parts_play.h"

#include "audition/render.h"
#include "chain/chain_json.h"

#include <QFile>
#include <algorithm>

namespace hr::app {

namespace {

constexpr int hand_rests_ms = 400;

Result<std::filesystem::path> whereItIs(const std::string& file)
{
    std::error_code failed;
    if (!std::filesystem::exists(file, failed))
        return wrongRequest("The sound " + file +
                            " of a part is not there any more: remove the part, or put it back.");
    return std::filesystem::path(file);
}

std::vector<chain::Chain> chainsOf(const chain::Company& company)
{
    std::vector<chain::Chain> chains{company.sum};
    for (const chain::Part& part : company.parts)
        chains.push_back(part.chain);
    for (const chain::Return& back : company.returns)
        chains.push_back(back.chain);
    return chains;
}

} // namespace

/// As it was when it was asked for.
struct PartsPlay::Asked {
    chain::Company company;
    std::string part;
    ChainOpening opening;
    double rate_hz = 0, first_s = 0, length_s = 0;
    std::string rest_of; ///< all that the rest depends on

    audition::CompanyOrder order(const std::stop_token& cancel) const
    {
        audition::CompanyOrder order;
        order.find = whereItIs;
        order.rate_hz = rate_hz;
        order.first_s = order.silence_s = first_s;
        order.length_s = length_s;
        order.cancel = cancel;
        return order;
    }
    audition::OpenPart opener(const std::stop_token& cancel) const
    {
        return [this, cancel](const chain::Chain& chain) { return opening.open(chain, cancel); };
    }
};

PartsPlay::PartsPlay(PartsDraft& parts, LineUp& line_up, Transport& transport, library::Store& store,
                     Jobs& jobs, QObject* parent)
    : QObject(parent), m_parts(parts), m_line_up(line_up), m_transport(transport), m_store(store), m_jobs(jobs),
      m_soon(hand_rests_ms, [this] { make(); })
{
    connect(&m_parts, &PartsDraft::changed, this, &PartsPlay::somethingChanged);
    connect(&m_transport, &Transport::sourceChanged, this, &PartsPlay::somethingChanged);
}

/// The one that is worked on, where its sound is the source.
const chain::Part* PartsPlay::part() const
{
    const chain::Part* worked = m_parts.company().part(m_parts.worked());
    return worked && m_transport.source() && QString::fromStdString(worked->file) == m_transport.sourceFile()
               ? worked
               : nullptr;
}

void PartsPlay::setHeard(Heard heard)
{
    m_heard = heard;
    somethingChanged();
}

void PartsPlay::somethingChanged()
{
    if (m_heard == Heard::Alone || m_parts.isEmpty()) {
        m_soon.stop();
        m_why_not.clear();
    } else {
        m_soon.start();
    }
    apply();
    emit changed();
}

std::shared_ptr<const PartsPlay::Asked> PartsPlay::asked() const
{
    const chain::Company& company = m_parts.company();
    const auto loop = m_transport.loop();
    const double rate_hz = m_transport.rateHz();
    Asked now{company,
              m_parts.worked(),
              ChainOpening(chainsOf(company), m_store),
              rate_hz,
              static_cast<double>(loop.first) / rate_hz,
              static_cast<double>(loop.frames) / rate_hz,
              {}};
    chain::Company rest = company; // without what it does not depend on
    for (chain::Part& one : rest.parts)
        if (one.id == now.part) {
            one.chain = {};
            one.standing = {};
            one.sends.clear();
        }
    rest.sum = {};
    rest.next_id = 1;
    now.rest_of = chain::toJson(rest).dump(-1, ' ', false, nlohmann::json::error_handler_t::replace) +
                  now.part + std::to_string(now.rate_hz) + ' ' + std::to_string(loop.first) + ' ' +
                  std::to_string(loop.frames);
    return std::make_shared<const Asked>(std::move(now));
}

/// Somebody waits for it; what was asked before is not wanted any more.
JobOrder PartsPlay::jobFor(const QString& title, const QString& line)
{
    JobOrder job;
    job.title = title;
    job.line = line;
    job.supersedes = true;
    job.urgent = true;
    job.owner = this;
    return job;
}

void PartsPlay::make()
{
    if (!part()) {
        m_why_not = tr("Work on a part to hear it among the others.");
        apply();
        return emit changed();
    }
    const auto asked = this->asked();
    const bool known = asked->rest_of == m_rest_of;
    const QString file = known ? m_rest_file : m_folder.filePath(QStringLiteral("rest-%1.wav").arg(++m_files));
    using Rest = Result<hosting::FaultOr<audition::CompanySound>>;
    const auto rest = std::make_shared<Rest>(wrongRequest(""));
    const auto part_lufs = std::make_shared<std::optional<double>>();
    JobOrder job = jobFor(tr("The others in company"), QStringLiteral("company"));
    job.work = [=](const JobControl& control) {
        audition::CompanyOrder order = asked->order(control.cancel());
        // The part alone: how loud it is among them.
        chain::Company alone = asked->company;
        std::erase_if(alone.parts, [&](const chain::Part& one) { return one.id != asked->part; });
        alone.returns.clear();
        alone.parts.front().sends.clear();
        alone.parts.front().standing.heard = true;
        order.silence_s = 0;
        const QString aside = file + QStringLiteral(".part.wav");
        const auto own = audition::playTogether(alone, asked->opener(control.cancel()),
                                                QFile::encodeName(aside).toStdString(), order);
        QFile::remove(aside);
        if (!own || !*own) {
            *rest = own;
            return;
        }
        *part_lufs = (*own)->levels.front().loudness_lufs;
        if (known) {
            *rest = hosting::FaultOr<audition::CompanySound>(audition::CompanySound());
            return;
        }
        order = asked->order(control.cancel());
        order.without = asked->part;
        *rest = audition::playTogether(asked->company, asked->opener(control.cancel()),
                                       QFile::encodeName(file).toStdString(), order);
    };
    job.finished = [this, asked, rest, file, part_lufs](JobEnd end) {
        m_job = 0;
        if (end == JobEnd::Done)
            made(*asked, *rest, file, *part_lufs);
    };
    m_job = m_jobs.add(std::move(job));
    emit changed();
}

void PartsPlay::made(const Asked& asked, const Result<hosting::FaultOr<audition::CompanySound>>& rest,
                     const QString& file, std::optional<double> part_lufs)
{
    m_why_not = !rest       ? inWords(rest.error())
                : !*rest    ? inWords(rest->error())
                : part_lufs ? QString()
                            : tr("The part is silent with this section.");
    if (!m_why_not.isEmpty()) {
        m_line_up.setRest({});
        m_rest_of.clear();
    } else {
        for (const auto& level : (*rest)->levels)
            m_levels[level.id] = level.loudness_lufs;
        m_levels[asked.part] = part_lufs;
        const QString before = std::exchange(m_rest_file, file);
        m_rest_of = asked.rest_of;
        m_line_up.setRest(LineUp::Rest{file, *part_lufs});
        if (before != file && !before.isEmpty())
            QFile::remove(before); // who still reads it has it open
    }
    apply();
    emit changed();
}

void PartsPlay::apply()
{
    const chain::Part* worked = part();
    if (!worked || m_heard == Heard::Alone || m_line_up.rest() == audition::no_contender)
        return m_transport.setAccompaniment(audition::no_contender);
    chain::Standing place = worked->standing;
    place.level_db = 0; // it is the others that are brought to its level
    place.heard = m_heard == Heard::InCompany;
    m_transport.setAccompaniment(m_line_up.rest(), gainsOf(place));
}

void PartsPlay::hearSum()
{
    if (!part())
        return emit notice(tr("Work on a part first: the sum is heard beside its candidates."));
    const auto asked = this->asked();
    const QString file = m_folder.filePath(QStringLiteral("sum-%1.wav").arg(++m_files));
    const auto why_not = std::make_shared<QString>();
    JobOrder job = jobFor(tr("All parts and their sum"), QStringLiteral("company sum"));
    job.work = [asked, file, why_not](const JobControl& control) {
        const QString aside = file + QStringLiteral(".parts.wav");
        const auto opener = asked->opener(control.cancel());
        const auto parts = audition::playTogether(
            asked->company, opener, QFile::encodeName(aside).toStdString(), asked->order(control.cancel()));
        auto opened = opener(asked->company.sum);
        if (!parts || !*parts || !opened || !*opened) {
            *why_not = !parts    ? inWords(parts.error())
                       : !*parts ? inWords(parts->error())
                       : !opened ? inWords(opened.error())
                                 : inWords(opened->error());
            return;
        }
        audition::RenderOrder order;
        order.in = QFile::encodeName(aside).toStdString();
        order.out = QFile::encodeName(file).toStdString();
        const auto rendered = audition::render(*(*opened)->instance, (*opened)->values, false, order);
        *why_not = !rendered         ? inWords(rendered.error())
                   : rendered->fault ? inWords(*rendered->fault)
                                     : QString();
        QFile::remove(aside);
    };
    job.finished = [this, file, why_not](JobEnd end) {
        if (end != JobEnd::Done)
            return;
        if (!why_not->isEmpty())
            return emit notice(*why_not);
        const ContenderId sum = m_line_up.addRendered(file);
        m_line_up.setName(sum, tr("the sum of all parts"));
        m_line_up.hear(sum);
    };
    m_jobs.add(std::move(job));
}

} // namespace hr::app
