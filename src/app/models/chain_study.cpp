// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/chain_study.h"

#include "chain/chain_json.h"

#include <QTemporaryDir>

namespace hr::app {

namespace {

constexpr int settles_ms = 400;

template<class T>
QString whyNot(const Result<hosting::FaultOr<T>>& found)
{
    return found ? inWords(found->error()) : inWords(found.error());
}

} // namespace

ChainStudy::ChainStudy(ChainDraft& draft, Transport& transport, library::Store& store, Jobs& jobs,
                       QObject* parent)
    : QObject(parent), m_draft(draft), m_transport(transport), m_store(store), m_jobs(jobs)
{
    m_soon.setSingleShot(true);
    m_soon.setInterval(settles_ms);
    connect(&m_soon, &QTimer::timeout, this, &ChainStudy::findLevels);
    connect(&m_draft, &ChainDraft::changed, this, &ChainStudy::chainChanged);
    connect(&m_transport, &Transport::sourceChanged, this, &ChainStudy::forgetAll);
}

void ChainStudy::keepLevels(bool wanted)
{
    m_wanted = wanted;
    if (wanted && m_levels.empty() && m_levels_job == 0)
        m_soon.start();
}

/// A purpose or a mark changes nothing that is heard.
void ChainStudy::chainChanged()
{
    chain::Chain heard = m_draft.chain();
    heard.name.clear();
    for (chain::Node& node : heard.nodes) {
        node.purpose.clear();
        node.may_move = false;
    }
    if (const std::string sounding = chain::toText(heard); sounding != std::exchange(m_sounding, sounding))
        forgetAll();
    else
        forgetOrders();
}

void ChainStudy::forgetOrders()
{
    ++m_orders_turn;
    if (m_orders_job != 0)
        m_jobs.cancel(std::exchange(m_orders_job, 0));
    m_orders.reset();
    m_why_no_orders.clear();
    emit ordersChanged();
}

void ChainStudy::forgetAll()
{
    ++m_levels_turn;
    if (m_levels_job != 0)
        m_jobs.cancel(std::exchange(m_levels_job, 0));
    m_levels.clear();
    m_why_no_levels.clear();
    if (m_wanted)
        m_soon.start();
    emit levelsChanged();
    forgetOrders();
}

std::shared_ptr<const ChainStudy::Asked> ChainStudy::asked() const
{
    return std::make_shared<const Asked>(
        Asked{ChainOpening(m_draft.chain(), m_store), m_transport.source(), m_transport.loop()});
}

/// The section alone, at its own level.
Result<void> ChainStudy::writeSection(const Asked& asked, const QString& file, const std::stop_token& cancel)
{
    constexpr std::size_t stretch = 65536;
    auto writer = signal::AudioFileWriter::create(file.toStdString(), 2, asked.source->rateHz());
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

audition::OpenPart ChainStudy::opener(const std::shared_ptr<const Asked>& asked, const std::stop_token& cancel)
{
    return [asked, cancel](const chain::Chain& part) { return asked->chain.open(part, cancel); };
}

void ChainStudy::findLevels()
{
    if (!m_wanted || !m_transport.source() || m_draft.chain().nodes.empty())
        return;
    using Found = Result<hosting::FaultOr<audition::AlongPath>>;
    const auto found = std::make_shared<Found>(wrongRequest(""));
    JobOrder job;
    job.title = tr("Levels along the chain");
    job.line = QStringLiteral("chain levels");
    job.supersedes = true;
    job.owner = this;
    job.work = [found, asked = asked()](const JobControl& control) {
        const QTemporaryDir folder;
        const QString file = folder.filePath(QStringLiteral("section.wav"));
        if (auto written = writeSection(*asked, file, control.cancel()); !written) {
            *found = tl::make_unexpected(written.error());
            return;
        }
        std::size_t done = 0;
        audition::PathQuestion question;
        question.with_tone = question.with_response = false;
        question.cancel = control.cancel();
        question.point = [&](const audition::PathPoint&, std::size_t of) {
            control.report(static_cast<double>(++done) / static_cast<double>(of));
        };
        *found = audition::alongPath(asked->chain.chain(), opener(asked, control.cancel()), file.toStdString(),
                                     question);
    };
    job.finished = [this, found, turn = m_levels_turn](JobEnd end) {
        if (turn != m_levels_turn)
            return;
        m_levels_job = 0;
        if (end == JobEnd::Done)
            levelsFound(*found);
    };
    m_levels_job = m_jobs.add(std::move(job));
}

void ChainStudy::levelsFound(const Result<hosting::FaultOr<audition::AlongPath>>& found)
{
    if (found && *found)
        m_levels = (*found)->points;
    else
        m_why_no_levels = whyNot(found);
    emit levelsChanged();
}

void ChainStudy::compareOrders()
{
    m_why_no_orders.clear();
    const auto movable = chain::movable(m_draft.chain(), {});
    if (!movable)
        m_why_no_orders = QString::fromStdString(movable.error().text);
    else if (!m_transport.source())
        m_why_no_orders = tr("There is no source to hear them on: choose one below.");
    if (!m_why_no_orders.isEmpty() || isComparing())
        return emit ordersChanged();
    using Found = Result<hosting::FaultOr<audition::Orders>>;
    const auto found = std::make_shared<Found>(wrongRequest(""));
    JobOrder job;
    job.title = tr("Compare orders of the chain");
    job.line = QStringLiteral("bench");
    job.awaited = true;
    job.owner = this;
    job.work = [found, movable = *movable, asked = asked()](const JobControl& control) {
        const QTemporaryDir folder;
        const QString file = folder.filePath(QStringLiteral("section.wav"));
        if (auto written = writeSection(*asked, file, control.cancel()); !written) {
            *found = tl::make_unexpected(written.error());
            return;
        }
        const auto progress = [&](std::size_t done, std::size_t of) {
            control.report(static_cast<double>(done) / static_cast<double>(of));
        };
        *found = audition::compareOrders(asked->chain.chain(), movable, opener(asked, control.cancel()),
                                         file.toStdString(), folder.path().toStdString(),
                                         {control.cancel(), progress});
    };
    job.finished = [this, found, turn = m_orders_turn](JobEnd end) {
        if (turn == m_orders_turn)
            ordersFound(std::move(*found), end);
    };
    job.progressed = [this, turn = m_orders_turn](double progress) {
        if (turn != m_orders_turn)
            return;
        m_orders_progress = progress;
        emit ordersChanged();
    };
    m_orders.reset();
    m_orders_progress = 0;
    m_orders_job = m_jobs.add(std::move(job));
    emit ordersChanged();
}

void ChainStudy::ordersFound(Result<hosting::FaultOr<audition::Orders>> found, JobEnd end)
{
    m_orders_job = 0;
    if (end == JobEnd::Done && found && *found)
        m_orders = std::move(**found);
    else if (end == JobEnd::Done)
        m_why_no_orders = whyNot(found);
    emit ordersChanged();
}

void ChainStudy::cancelOrders()
{
    if (m_orders_job != 0)
        m_jobs.cancel(m_orders_job);
}

} // namespace hr::app
