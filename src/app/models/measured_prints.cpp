// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/measured_prints.h"

#include <algorithm>
#include <bit>
#include <cstdint>

namespace hr::app {

namespace {

/// Bit by bit: what was not measured is no number, and equal all the same.
bool areEqual(const MeasuredPrints::Prints& a, const MeasuredPrints::Prints& b)
{
    const auto bits = [](float part) { return std::bit_cast<std::uint32_t>(part); };
    const auto equal = [bits](const bench::Fingerprint& one, const bench::Fingerprint& other) {
        return std::ranges::equal(one, other, {}, bits, bits);
    };
    return a.ids == b.ids && std::ranges::equal(a.prints, b.prints, equal);
}

} // namespace

MeasuredPrints::MeasuredPrints(std::filesystem::path data_directory, Jobs& jobs, Notices& notices,
                               QObject* parent)
    : QObject(parent), m_data_directory(std::move(data_directory)), m_jobs(jobs), m_notices(notices)
{
}

std::shared_ptr<const MeasuredPrints::Prints> MeasuredPrints::latest()
{
    if (m_reading)
        m_asked_again = true;
    else
        read();
    return m_prints;
}

void MeasuredPrints::read()
{
    m_reading = true;
    m_asked_again = false;
    const auto found = std::make_shared<Result<Prints>>();
    JobOrder job;
    job.urgent = true;
    job.owner = this;
    job.work = [found, directory = m_data_directory](const JobControl&) {
        auto store = library::Store::open(directory);
        *found = store ? (*store)->runs.fingerprints() : tl::make_unexpected(store.error());
    };
    job.finished = [this, found](JobEnd end) {
        m_reading = false;
        if (end != JobEnd::Done || !m_notices.succeeded(*found))
            return;
        const bool is_new = !m_prints || !areEqual(*m_prints, **found);
        if (is_new)
            m_prints = std::make_shared<const Prints>(std::move(**found));
        if (m_asked_again)
            read();
        if (is_new)
            emit changed();
    };
    m_jobs.add(std::move(job));
}

} // namespace hr::app
