// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/stage_pictures.h"

#include "signal/number_text.h"

#include <algorithm>

namespace hr::app {

namespace {

constexpr int rests_ms = 500; // nothing is measured while a hand turns something
constexpr qsizetype most_known = 500;

} // namespace

StagePictures::StagePictures(ChainDraft& draft, StageFacts& facts, Jobs& jobs, QObject* parent)
    : QObject(parent), m_draft(draft), m_facts(facts), m_jobs(jobs), m_soon(rests_ms, [this] { measureNext(); })
{
    const auto later = [this] {
        if (m_wanted)
            m_soon.start();
    };
    connect(&m_draft, &ChainDraft::changed, this, later);
    connect(&m_facts, &StageFacts::changed, this, [this, later] {
        m_known.clear(); // it may be another build
        later();
    });
}

void StagePictures::keepCurrent(bool wanted)
{
    m_wanted = wanted;
    if (wanted)
        m_soon.start();
}

std::optional<StagePictures::Request> StagePictures::request(const chain::Node& stage) const
{
    const StageFacts::Facts* facts = m_facts.of(stage.processor);
    auto values = m_facts.valuesOf(stage);
    if (!facts || values.size() != facts->info.parameters.size() ||
        facts->entry.state == library::State::Quarantined)
        return std::nullopt;
    QString key = QString::fromStdString(stage.processor + '\n' + stage.preset + '\n' + stage.state);
    for (const double value : values)
        key += QLatin1Char('\n') + QString::fromStdString(signal::shortText(value, 15));
    return Request{key, library::pictureOf(facts->entry.kind.toStdString()), facts, std::move(values)};
}

StagePicture StagePictures::of(const chain::Node& stage) const
{
    const auto known = request(stage);
    if (!known)
        return {};
    StagePicture picture = m_known.value(known->key);
    picture.what = known->what;
    return picture;
}

/// One after the other: what is turned meanwhile is measured as it is then.
void StagePictures::measureNext()
{
    if (!m_wanted || m_job != 0)
        return;
    std::optional<Request> next;
    const auto& nodes = m_draft.chain().nodes;
    const auto stage = std::ranges::find_if(nodes, [&](const chain::Node& node) {
        next = node.kind == chain::NodeKind::Stage ? request(node) : std::nullopt;
        return next && !m_known.contains(next->key);
    });
    if (stage == nodes.end())
        return;
    if (m_known.size() > most_known)
        m_known.clear();
    const auto picture = std::make_shared<StagePicture>();
    JobOrder job;
    job.line = QStringLiteral("bench");
    job.awaited = true;
    job.owner = this;
    hosting::Location location = next->facts->location;
    location.preset = stage->preset;
    location.state = stage->state;
    job.work = [picture, what = next->what, location, info = next->facts->info,
                values = next->values](const JobControl& control) {
        const std::string test = library::testOf(what);
        const auto measured = bench::measure(location, info, values, *bench::testsNamed({test}), {},
                                             {.cancel = control.cancel(), .progress = {}});
        for (const auto& [key, reading] : measured.readings)
            if (key == test) {
                picture->heights = library::heightsOf(what, reading);
                if (what == library::PictureOf::Decay) {
                    picture->rt60_s = reading.number("rt60_s");
                    picture->predelay_ms = reading.number("predelay_ms");
                }
            }
    };
    job.finished = [this, picture, key = next->key](JobEnd end) {
        m_job = 0;
        if (end == JobEnd::Done)
            m_known.insert(key, *picture);
        emit changed();
        measureNext();
    };
    m_job = m_jobs.add(std::move(job));
}

} // namespace hr::app
