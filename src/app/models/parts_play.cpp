// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/parts_play.h"

#include "audition/render.h"
#include "models/company_request.h"

#include <QFile>
#include <algorithm>

namespace hr::app {

/// Of the section that repeats.
struct PartsPlay::Request : CompanyRequest {
    using CompanyRequest::CompanyRequest;
    std::string worked;
    bool sends_stay = false; ///< what the part that is worked on sends belongs to the rest
    std::string rest_of;     ///< all that the rest depends on
};

PartsPlay::PartsPlay(PartsDraft& parts, LineUp& line_up, Transport& transport, library::Store& store,
                     Jobs& jobs, QObject* parent)
    : QObject(parent), m_parts(parts), m_line_up(line_up), m_transport(transport), m_store(store), m_jobs(jobs),
      m_into(parts, transport, store, jobs), m_soon(parts_rest_ms, [this] { make(); })
{
    connect(&m_parts, &PartsDraft::changed, this, &PartsPlay::somethingChanged);
    connect(&m_transport, &Transport::sourceChanged, this, &PartsPlay::somethingChanged);
    connect(&m_into, &PartsSource::changed, this, &PartsPlay::changed);
    connect(&m_into, &PartsSource::notice, this, &PartsPlay::notice);
}

/// Of what is worked on, where its sound is the source; null: it is not, or it is the sum.
const chain::Standing* PartsPlay::standing() const
{
    if (!m_transport.source())
        return nullptr;
    if (const chain::Part* part = m_parts.company().part(m_parts.worked()))
        return QString::fromStdString(part->file) == m_transport.sourceFile() ? &part->standing : nullptr;
    const chain::Return* back = m_parts.company().returnOf(m_parts.worked());
    return back && m_into.isTheSource() ? &back->standing : nullptr;
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

std::shared_ptr<const PartsPlay::Request> PartsPlay::request() const
{
    const auto loop = m_transport.loop();
    const double rate_hz = m_transport.rateHz();
    auto now = std::make_shared<Request>(m_parts.company(), m_store, rate_hz);
    now->worked = m_parts.worked();
    now->first_s = static_cast<double>(loop.first) / rate_hz;
    now->length_s = static_cast<double>(loop.frames) / rate_hz;
    // Heard among them, it sends to the returns what it sends in the whole; not heard, it sends nothing.
    const chain::Part* part = now->company.part(now->worked);
    now->sends_stay = m_heard == Heard::InCompany && part && !part->sends.empty();
    chain::Company rest = now->company; // without what it does not depend on
    for (chain::Part& one : rest.parts) {
        std::erase_if(one.sends, [&](const chain::Part::SendTo& send) { return send.to == now->worked; });
        if (one.id == now->worked && !now->sends_stay) {
            one.chain = {};
            one.standing = {};
            one.sends.clear();
        }
    }
    std::erase_if(rest.returns, [&](const chain::Return& one) { return one.id == now->worked; });
    rest.sum = {};
    rest.next_id = 1;
    now->rest_of = CompanyRequest::textOf(rest) + now->worked + std::to_string(rate_hz) + ' ' +
                   (now->sends_stay ? "with sends " : "") + std::to_string(loop.first) + ' ' +
                   std::to_string(loop.frames);
    return now;
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

/// What is worked on alone, as it stands among them: a part, or a return with what is sent to it.
chain::Company PartsPlay::aloneOf(const Request& asked)
{
    chain::Company alone = asked.company;
    const bool is_part = alone.part(asked.worked) != nullptr;
    std::erase_if(alone.returns, [&](const chain::Return& one) { return one.id != asked.worked; });
    std::erase_if(alone.parts, [&](const chain::Part& one) { return is_part && one.id != asked.worked; });
    for (chain::Part& one : alone.parts) {
        one.standing.heard = one.standing.heard || is_part;
        std::erase_if(one.sends, [&](const chain::Part::SendTo& send) { return send.to != asked.worked; });
    }
    for (chain::Return& one : alone.returns)
        one.standing.heard = true;
    return alone;
}

void PartsPlay::make()
{
    if (!standing()) {
        m_why_not = m_parts.worked() == PartsDraft::the_sum
                        ? tr("The sum is all of them: there are no others beside it.")
                        : tr("Work on a part or a return to hear it among the others.");
        apply();
        return emit changed();
    }
    const auto asked = this->request();
    const bool known = asked->rest_of == m_rest_of;
    const QString file = known ? m_rest_file : m_folder.filePath(QStringLiteral("rest-%1.wav").arg(++m_files));
    using Rest = Result<hosting::FaultOr<audition::CompanySound>>;
    const auto rest = std::make_shared<Rest>(wrongRequest(""));
    const auto part_lufs = std::make_shared<std::optional<double>>();
    JobOrder job = jobFor(tr("The others in company"), QStringLiteral("company"));
    job.work = [=](const JobControl& control) {
        audition::CompanyOrder order = asked->order(control.cancel());
        const chain::Company alone = aloneOf(*asked); // how loud it is among them
        order.silence_s = 0;
        const QString aside = file + QStringLiteral(".part.wav");
        const auto own = audition::playTogether(alone, asked->opener(control.cancel()),
                                                QFile::encodeName(aside).toStdString(), order);
        QFile::remove(aside);
        if (!own || !*own) {
            *rest = own;
            return;
        }
        for (const auto& level : (*own)->levels)
            if (level.id == asked->worked)
                *part_lufs = level.loudness_lufs;
        if (known) {
            *rest = hosting::FaultOr<audition::CompanySound>(audition::CompanySound());
            return;
        }
        order = asked->order(control.cancel());
        order.without = asked->worked;
        order.sends_stay = asked->sends_stay;
        chain::Company company = asked->company;
        for (chain::Part& part : company.parts)
            if (part.id == asked->worked)
                part.standing.heard = true; // being worked on
        *rest = audition::playTogether(company, asked->opener(control.cancel()),
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

void PartsPlay::made(const Request& asked, const Result<hosting::FaultOr<audition::CompanySound>>& rest,
                     const QString& file, std::optional<double> part_lufs)
{
    m_why_not = !rest       ? inWords(rest.error())
                : !*rest    ? inWords(rest->error())
                : part_lufs ? QString()
                            : tr("It is silent with this section.");
    if (!m_why_not.isEmpty()) {
        m_line_up.setRest({});
        m_rest_of.clear();
    } else {
        if (file != m_rest_file)
            m_levels.clear(); // who is silent now has none
        for (const auto& level : (*rest)->levels)
            m_levels[level.id] = level.loudness_lufs;
        m_levels[asked.worked] = part_lufs;
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
    const chain::Standing* worked = standing();
    if (!worked || m_heard == Heard::Alone || m_line_up.rest() == audition::no_contender)
        return m_transport.setAccompaniment(audition::no_contender);
    chain::Standing place = *worked;
    place.level_db = 0; // it is the others that are brought to its level
    place.heard = m_heard == Heard::InCompany;
    m_transport.setAccompaniment(m_line_up.rest(), gainsOf(place));
}

void PartsPlay::hearSum()
{
    if (!standing())
        return emit notice(tr("Work on a part or a return first: the sum is heard beside its candidates."));
    const auto asked = this->request();
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
