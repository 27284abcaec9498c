// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/fault_search.h"

#include "processors/settings.h"
#include "signal/generators.h"

#include <bit>

namespace hr::library {

namespace {

int halvings(qsizetype between)
{
    return between <= 1 ? 0 : static_cast<int>(std::bit_width(static_cast<std::uint64_t>(between - 1)));
}

} // namespace

FaultSearch::FaultSearch(QStringList ids) : m_ids(std::move(ids))
{
    m_fails = m_ids.size();
    if (m_ids.isEmpty())
        m_step = Step::Over;
}

std::optional<QStringList> FaultSearch::next() const
{
    switch (m_step) {
    case Step::All:
        return m_ids;
    case Step::Beginning:
        return m_ids.mid(0, (m_works + m_fails) / 2);
    case Step::Alone:
        return QStringList{m_last};
    case Step::Company:
        return m_ids.mid(0, (m_works + m_fails) / 2) << m_last;
    case Step::FirstBesideThird:
        return QStringList{m_third, m_last};
    case Step::SecondBesideThird:
        return QStringList{m_partner, m_third};
    case Step::Over:
        break;
    }
    return std::nullopt;
}

void FaultSearch::beginCompany()
{
    m_step = Step::Company;
    m_works = 0;
    m_fails = m_ids.indexOf(m_last);
    if (m_fails > 1)
        return;
    if (m_fails == 1)
        return beginTelling();
    m_step = Step::Over; // it failed alone before and does not now: it cannot be told when it does
    m_verdict = {{m_last}, {}};
}

void FaultSearch::beginTelling()
{
    m_partner = m_ids[m_fails - 1];
    for (const QString& id : m_ids)
        if (id != m_last && id != m_partner) {
            m_third = id;
            m_step = Step::FirstBesideThird;
            return;
        }
    m_verdict = {{m_last, m_partner}, {}};
    m_step = Step::Over;
}

void FaultSearch::tell(bool failed)
{
    switch (m_step) {
    case Step::All:
        m_step = failed ? Step::Beginning : Step::Over;
        break;
    case Step::Beginning:
    case Step::Company:
        (failed ? m_fails : m_works) = (m_works + m_fails) / 2;
        break;
    case Step::Alone:
        if (!failed)
            return beginCompany();
        m_verdict = {{m_last}, {}};
        m_step = Step::Over;
        return;
    case Step::FirstBesideThird:
        m_first_fails = failed;
        m_step = Step::SecondBesideThird;
        return;
    case Step::SecondBesideThird:
        if (m_first_fails == failed)
            m_verdict = {{m_last, m_partner}, {}};
        else
            m_verdict = m_first_fails ? Verdict{{m_last}, m_partner} : Verdict{{m_partner}, m_last};
        m_step = Step::Over;
        return;
    case Step::Over:
        return;
    }
    if (m_step == Step::Beginning && m_fails - m_works <= 1) {
        m_last = m_ids[m_fails - 1];
        m_step = Step::Alone;
    } else if (m_step == Step::Company && m_fails - m_works <= 1) {
        beginTelling();
    }
}

int FaultSearch::stepsLeft() const
{
    constexpr int telling = 2;
    switch (m_step) {
    case Step::All:
        return 1 + 2 * halvings(m_ids.size()) + 1 + telling;
    case Step::Beginning:
        return halvings(m_fails - m_works) + 1 + halvings(m_fails) + telling;
    case Step::Alone:
        return 1 + halvings(m_ids.indexOf(m_last)) + telling;
    case Step::Company:
        return halvings(m_fails - m_works) + telling;
    case Step::FirstBesideThird:
        return 2;
    case Step::SecondBesideThird:
        return 1;
    case Step::Over:
        break;
    }
    return 0;
}

std::optional<hosting::Fault> failureTogether(const std::vector<hosting::Location>& locations,
                                              const std::stop_token& cancel)
{
    constexpr double rate_hz = 48000;
    // Side by side, so that each gets the noise itself: a hundred gains in a row would be no wonder.
    hosting::Location together{"chain:search", {}};
    for (std::size_t i = 0; i < locations.size(); ++i) {
        const std::string node = "s" + std::to_string(i + 1);
        together.graph.nodes.push_back({node});
        together.graph.edges.push_back({processors::chain_input, {}, node, {}});
        together.graph.edges.push_back({node, {}, processors::chain_output, {}});
        together.stages.push_back(
            {node, locations[i].id, locations[i].bundle, locations[i].preset, locations[i].permissions});
    }
    const auto many = static_cast<int>(locations.size());
    const hosting::TimeLimits limits{std::chrono::seconds(10 + many), std::chrono::seconds(2 + many / 10),
                                     std::chrono::seconds(60 + many)};
    auto instance =
        hosting::openInstance(together, {hosting::Channels::Stereo, limits, hosting::Workers::Fresh, cancel});
    if (!instance)
        return instance.error();
    const processors::ProcessorInfo& info = (*instance)->info();
    if (auto started = (*instance)->start({rate_hz, 256}, processors::defaultValues(info)); !started)
        return started.error();
    const auto noise =
        signal::onChannels(signal::gaussianNoise(0.1, std::size_t{256} * 200, 5), 2 + info.key_in, rate_hz);
    if (auto ran = (*instance)->process(noise); !ran)
        return ran.error();
    if (auto stopped = (*instance)->stop(); !stopped)
        return stopped.error();
    return std::nullopt;
}

} // namespace hr::library
