// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/chain_study.h"

#include "chain/chain_json.h"

#include <QTemporaryDir>
#include <algorithm>

namespace hr::app {

namespace {

constexpr int settles_ms = 400;

} // namespace

ChainStudy::ChainStudy(ChainDraft& draft, Transport& transport, library::Store& store, Jobs& jobs,
                       QObject* parent)
    : QObject(parent), m_draft(draft), m_transport(transport), m_store(store), m_jobs(jobs),
      m_soon(settles_ms, [this] { findLevels(); })
{
    connect(&m_draft, &ChainDraft::changed, this, &ChainStudy::chainChanged);
    const auto begin = [this] { // with another sound, or another chain, nothing has arisen
        m_overloaded.reset();
        forgetLevels();
    };
    connect(&m_transport, &Transport::sourceChanged, this, begin);
    connect(&m_draft, &ChainDraft::replaced, this, begin);
}

void ChainStudy::keepLevels(bool wanted)
{
    m_wanted = wanted;
    if (wanted && m_path.points.empty() && m_levels_job == 0)
        m_soon.start();
}

/// A purpose or a mark changes nothing that is heard.
void ChainStudy::chainChanged()
{
    chain::Chain heard = m_draft.chain();
    heard.name.clear();
    for (chain::Node& node : heard.nodes) {
        node.purpose.clear();
        node.phase.clear();
        node.may_move = false;
    }
    if (const std::string sounding = chain::toText(heard); sounding != std::exchange(m_sounding, sounding))
        forgetLevels();
    else
        forgetAnswers();
}

void ChainStudy::forgetLevels()
{
    ++m_levels_turn;
    if (m_levels_job != 0)
        m_jobs.cancel(std::exchange(m_levels_job, 0));
    m_path = {};
    m_why_no_levels.clear();
    if (m_wanted)
        m_soon.start();
    emit levelsChanged();
    forgetAnswers();
}

audition::OpenPart ChainStudy::Request::opener(const std::stop_token& cancel) const
{
    return [this, cancel](const chain::Chain& part) { return chain.open(part, cancel); };
}

/// The section alone, at its own level.
Result<void> ChainStudy::writeSection(const Request& asked, const std::filesystem::path& file,
                                      const std::stop_token& cancel)
{
    constexpr std::size_t stretch = 65536;
    auto writer = signal::AudioFileWriter::create(file, 2, asked.source->rateHz());
    if (!writer)
        return tl::make_unexpected(writer.error());
    std::vector<float> left(stretch);
    std::vector<float> right(stretch);
    std::vector<float> interleaved(2 * stretch);
    for (std::size_t at = 0; at < asked.section.frames && !cancel.stop_requested(); at += stretch) {
        const std::size_t count = std::min(stretch, asked.section.frames - at);
        asked.source->read(asked.section, at, left.data(), right.data(), count);
        for (std::size_t i = 0; i < count; ++i) {
            interleaved[2 * i] = left[i];
            interleaved[2 * i + 1] = right[i];
        }
        if (auto written = writer->write(interleaved.data(), count); !written)
            return written;
    }
    return writer->finish();
}

Jobs::Id ChainStudy::onSection(JobOrder job, Work work)
{
    const auto asked = std::make_shared<const Request>(
        Request{ChainOpening(m_draft.chain(), m_store), m_transport.source(), m_transport.loop()});
    job.owner = this;
    job.work = [asked, work = std::move(work)](const JobControl& control) {
        const QTemporaryDir folder;
        const std::filesystem::path file = folder.filePath(QStringLiteral("section.wav")).toStdString();
        const auto written = writeSection(*asked, file, control.cancel());
        work(*asked, written ? Result<std::filesystem::path>(file) : tl::make_unexpected(written.error()),
             control);
    };
    return m_jobs.add(std::move(job));
}

// --- levels ------------------------------------------------------------------------------------------

void ChainStudy::findLevels()
{
    if (!m_wanted || !m_transport.source() || m_draft.chain().nodes.empty())
        return;
    const auto found = std::make_shared<Found<audition::AlongPath>>(wrongRequest(""));
    JobOrder job;
    job.title = tr("Levels along the chain");
    job.line = QStringLiteral("chain levels");
    job.supersedes = true;
    job.finished = [this, found, turn = m_levels_turn](JobEnd end) {
        if (turn != m_levels_turn)
            return;
        m_levels_job = 0;
        if (end == JobEnd::Done)
            levelsFound(std::move(*found));
    };
    m_levels_job =
        onSection(std::move(job), [found](const Request& asked, const auto& file, const auto& control) {
            std::size_t done = 0;
            audition::PathQuestion question;
            question.with_tone = question.with_response = false;
            question.cancel = control.cancel();
            question.point = [&](const audition::PathPoint&, std::size_t of) {
                control.report(static_cast<double>(++done) / static_cast<double>(of));
            };
            *found = !file ? tl::make_unexpected(file.error())
                           : audition::alongPath(asked.chain.chain(), asked.opener(control.cancel()), *file,
                                                 question);
        });
}

void ChainStudy::levelsFound(Found<audition::AlongPath> found)
{
    if (found && *found) {
        m_path = std::move(**found);
        const bool overloads = m_path.overload_arises.has_value();
        if (std::exchange(m_overloaded, overloads) == false && overloads) {
            const auto where =
                std::ranges::find(m_path.points, *m_path.overload_arises, &audition::PathPoint::after);
            emit overloadArose(where->after, *where->true_peak_dbtp);
        }
    } else {
        m_why_no_levels = whyNot(found);
    }
    emit levelsChanged();
}

void ChainStudy::toNeutral(const std::vector<std::string>& stages)
{
    if (!m_transport.source())
        return emit notice(tr("There is no source to find the levels on: choose one below."));
    const auto found = std::make_shared<Found<Trims>>(wrongRequest(""));
    JobOrder job;
    job.title = tr("Level stages to neutral");
    job.line = QStringLiteral("chain trims");
    job.supersedes = true;
    job.urgent = true;
    job.finished = [this, found, stages, turn = m_levels_turn](JobEnd end) {
        if (turn != m_levels_turn)
            emit notice(tr("The chain was changed meanwhile: level it again."));
        else if (end == JobEnd::Done)
            takeTrims(*found, stages);
    };
    onSection(std::move(job), [found, stages](const Request& asked, const auto& file, const auto& control) {
        *found = !file ? tl::make_unexpected(file.error())
                       : audition::neutralTrims(asked.chain.chain(), stages, asked.opener(control.cancel()),
                                                *file, control.cancel());
    });
}

void ChainStudy::takeTrims(const Found<Trims>& found, const std::vector<std::string>& asked)
{
    if (!found || !*found)
        return emit notice(whyNot(found));
    chain::Chain trimmed = m_draft.chain();
    for (chain::Node& node : trimmed.nodes)
        if (const auto trim = (*found)->find(node.id); trim != (*found)->end())
            node.trim_db = trim->second;
    if ((*found)->size() < asked.size())
        emit notice(tr("%1 of %2 could not be leveled: off, or silent with this section.")
                        .arg(asked.size() - (*found)->size())
                        .arg(asked.size()));
    m_draft.change(trimmed);
}

} // namespace hr::app
