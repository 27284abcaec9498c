// SPDX-License-Identifier: GPL-3.0-or-later
//
// What stands behind the line-up's contenders: processors of the catalogue, in the build that fits, and sounds
// that were rendered before. Chains: line_up_chains.cpp.
#include "models/line_up.h"

#include "audition/rendered.h"
#include "processors/settings.h"
#include "processors/value_text.h"

#include <QFile>
#include <QFileInfo>
#include <algorithm>

namespace hr::app {

namespace {

/// The defaults of `contender` with these over them; names of what was beyond a stated range.
QStringList applied(Contender& contender, const std::vector<processors::Setting>& settings)
{
    contender.values = processors::nearestValues(contender.info, settings);
    QStringList beyond;
    for (const processors::Setting& s : settings) {
        const auto index = contender.info.parameterIndex(s.key);
        if (!index)
            continue; // a newer version may lack it
        const processors::ParameterInfo& p = contender.info.parameters[*index];
        if (contender.values[*index] != s.value)
            beyond << QObject::tr("%1 to %2")
                          .arg(QString::fromStdString(p.name),
                               QString::fromStdString(processors::valueText(p, contender.values[*index])));
    }
    return beyond;
}

} // namespace

// --- processors of the catalogue ---------------------------------------------------------------------

/// Of the builds joined under it, the one for the source's channels.
Result<library::Entry> LineUp::fittingBuild(const library::Entry& entry) const
{
    auto joined = m_store.builds.joined();
    if (!joined)
        return tl::make_unexpected(joined.error());
    std::vector<library::Entry> builds{entry};
    for (const QString& id : joined->keys(entry.id))
        if (auto build = m_store.catalogue.entry(id))
            builds.push_back(std::move(*build));
    const auto& source = m_transport.source();
    return *library::fittingBuild(builds, source ? static_cast<int>(source->fileChannels()) : 2);
}

/// The processor as it is in the catalogue, for the source there is, with these settings over its defaults.
Result<void> LineUp::become(Contender& contender, const library::Entry& entry,
                            const std::vector<processors::Setting>& settings)
{
    auto build = fittingBuild(entry);
    if (!build)
        return tl::make_unexpected(build.error());
    if (build->state == library::State::Quarantined)
        return wrongRequest(tr("%1 is in quarantine and cannot be heard: its details on Find say why.")
                                .arg(entry.title())
                                .toStdString());
    auto info = m_store.catalogue.info(build->id);
    if (!info)
        return tl::make_unexpected(info.error());
    auto location = m_store.catalogue.location(build->id);
    if (!location)
        return tl::make_unexpected(location.error());
    contender.processor = entry.id;
    contender.title = entry.title();
    contender.maker = entry.maker;
    contender.described = std::move(*info);
    contender.info = processors::atRate(contender.described, m_rate_hz);
    location->state = contender.location.state; // another build of it understands it, or keeps its default
    contender.location = std::move(*location);
    if (const QStringList beyond = applied(contender, settings); !beyond.isEmpty())
        emit notice(tr("%1: values beyond the stated range were set to its end, %2.")
                        .arg(contender.title, beyond.join(QStringLiteral(", "))));
    return {};
}

/// Another source, section or rate: for another count of channels another build may be the one to take, and
/// everything is to be matched again.
void LineUp::followSource()
{
    bool others = false;
    const bool rate_changed = m_rate_hz != m_transport.rateHz();
    m_rate_hz = m_transport.rateHz();
    for (Contender& contender : m_contenders) {
        const auto settings = contender.settings();
        if (rate_changed) {
            contender.info = processors::atRate(contender.described, m_rate_hz);
            (void)applied(contender, settings);
            if (contender.pending) // matched once more, within the ranges of the new rate
                contender.pending->values =
                    processors::nearestValues(contender.info, contender.settings(contender.pending->values));
            if (auto& next = contender.changed_chain) {
                const auto set = processors::settingsOf(next->info, next->values);
                next->info = processors::atRate(next->described, m_rate_hz);
                next->values = processors::nearestValues(next->info, set);
            }
            others = true;
        }
        if (contender.rendered) {
            others = placeRendered(contender) || others;
            continue;
        }
        auto entry = m_store.catalogue.entry(contender.processor);
        auto build = entry ? fittingBuild(*entry) : entry;
        if (!build || build->id.toStdString() == contender.location.id)
            continue;
        contender.pending.reset();
        const processors::ProcessorInfo before = contender.info;
        if (become(contender, *entry, settings)) {
            takeAlong(contender, before);
            contender.kept_settings.clear();
            contender.fault.clear();
            ++contender.generation;
            contender.gain_known = false;
            others = true;
        }
    }
    if (others) {
        updateEngine();
        emit contendersChanged();
    }
    for (Contender& contender : m_contenders)
        changed(contender);
}

// --- rendered sounds ---------------------------------------------------------------------------------

ContenderId LineUp::addRendered(const QString& file, const QString& of, int mark)
{
    if (!hasRoom())
        return audition::no_contender;
    if (of.isEmpty() && m_transport.sourceFile().isEmpty()) {
        emit notice(tr("No source plays: open the one that this was rendered from first."));
        return audition::no_contender;
    }
    Contender contender;
    contender.id = m_next_id++;
    contender.mark = freeMark(mark);
    contender.title = QFileInfo(file).completeBaseName();
    contender.rendered = Contender::Rendered{file, of.isEmpty() ? m_transport.sourceFile() : of};
    contender.maker = tr("rendered from %1").arg(QFileInfo(contender.rendered->of).completeBaseName());
    contender.location = audition::renderedAt(QFile::encodeName(file).toStdString());
    contender.described.id = contender.info.id = contender.location.id;
    (void)placeRendered(contender);
    return insert(std::move(contender), 0);
}

/// Whether it is heard on the source there is has changed.
bool LineUp::placeRendered(Contender& contender)
{
    const bool elsewhere = contender.rendered->of != m_transport.sourceFile();
    if (elsewhere == contender.out_of_place)
        return false;
    contender.out_of_place = elsewhere;
    ++contender.generation;
    contender.gain_known = false;
    contender.match = elsewhere ? MatchState::Failed : MatchState::Waiting;
    contender.fault = elsewhere ? tr("was rendered from another source") : QString();
    return true;
}

void LineUp::keepExtras(ContenderId id, nlohmann::ordered_json extras)
{
    Contender* contender = findMutable(id);
    if (contender && !contender->isOpen())
        contender->kept_extras = std::move(extras);
}

} // namespace hr::app
