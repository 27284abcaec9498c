// SPDX-License-Identifier: GPL-3.0-or-later
#include "services/source_notes.h"

#include "actions/undoable.h"
#include "audition/passage_text.h"
#include "library/store.h"
#include "services/source_tempo.h"

#include <QDir>
#include <QDirIterator>
#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <algorithm>

namespace hr::app {

namespace {

constexpr auto setting_key = "source-notes";
constexpr std::size_t most_files = 2000;
constexpr double edges_s = 0.2; // looked at beside a section whose edges snap

const QStringList& audioFiles()
{
    static const QStringList patterns{
        QStringLiteral("*.wav"), QStringLiteral("*.flac"), QStringLiteral("*.aif"), QStringLiteral("*.aiff"),
        QStringLiteral("*.ogg"), QStringLiteral("*.opus"), QStringLiteral("*.mp3")};
    return patterns;
}

/// What is named, and what lies in folders that are named, in the order of their names.
QStringList filesIn(const QStringList& files_or_folders)
{
    QStringList files;
    for (const QString& one : files_or_folders) {
        if (!QFileInfo(one).isDir()) {
            files << one;
            continue;
        }
        QStringList inside;
        QDirIterator entries(one, audioFiles(), QDir::Files, QDirIterator::Subdirectories);
        while (entries.hasNext() && inside.size() < static_cast<qsizetype>(most_files))
            inside << entries.next();
        inside.sort();
        files << inside;
    }
    return files.mid(0, static_cast<qsizetype>(most_files));
}

} // namespace

SourceNotes::SourceNotes(const Services& services, QObject* parent) : QObject(parent), m_services(services)
{
    recall();
    connect(&m_services.transport, &Transport::sourceChanged, this, [this] {
        const QString file = m_services.transport.sourceFile();
        if (!file.isEmpty() && file != m_forgotten && !m_services.sources.has(file)) {
            m_services.sources.add(file); // somebody has opened it
            keep();
        }
        emit changed();
    });
}

void SourceNotes::recall()
{
    const QJsonObject stored =
        QJsonDocument::fromJson(m_services.store.setting(QLatin1String(setting_key)).toUtf8()).object();
    m_snapping = static_cast<Snapping>(std::clamp(stored.value(QStringLiteral("snapping")).toInt(), 0, 2));
    const QJsonArray sources = stored.value(QStringLiteral("sources")).toArray();
    for (const auto& value : sources) {
        const QJsonObject one = value.toObject();
        const QString file = one.value(QStringLiteral("file")).toString();
        if (file.isEmpty())
            continue;
        m_services.sources.add(file);
        if (const QString role = one.value(QStringLiteral("role")).toString(); !role.isEmpty())
            m_services.sources.setRole(file, role);
        const QJsonArray sections = one.value(QStringLiteral("sections")).toArray();
        for (const auto& section : sections) {
            const QJsonObject named = section.toObject();
            const NamedSection read{named.value(QStringLiteral("name")).toString(),
                                    named.value(QStringLiteral("first_s")).toDouble(),
                                    named.value(QStringLiteral("length_s")).toDouble()};
            if (!read.name.isEmpty() && read.first_s >= 0 && read.length_s > 0)
                m_sections[file].push_back(read);
        }
    }
}

void SourceNotes::keep()
{
    QJsonArray sources;
    for (const SourceInfo& source : m_services.sources.all()) {
        QJsonArray sections;
        if (const auto found = m_sections.find(source.file); found != m_sections.end())
            for (const NamedSection& one : found->second)
                sections.append(QJsonObject{{QStringLiteral("name"), one.name},
                                            {QStringLiteral("first_s"), one.first_s},
                                            {QStringLiteral("length_s"), one.length_s}});
        if (source.origin != SourceOrigin::Generated)
            sources.append(QJsonObject{{QStringLiteral("file"), source.file},
                                       {QStringLiteral("role"), source.role},
                                       {QStringLiteral("sections"), sections}});
    }
    const QJsonObject all{{QStringLiteral("sources"), sources},
                          {QStringLiteral("snapping"), static_cast<int>(m_snapping)}};
    (void)m_services.notices.succeeded(m_services.store.setSetting(
        QLatin1String(setting_key), QString::fromUtf8(QJsonDocument(all).toJson(QJsonDocument::Compact))));
}

void SourceNotes::add(const QStringList& files_or_folders)
{
    const QStringList files = filesIn(files_or_folders);
    if (files.isEmpty())
        return m_services.notices.say(tr("There is no audio file in %1: WAV, FLAC, AIFF, Ogg, Opus or MP3.")
                                          .arg(files_or_folders.join(QStringLiteral(", "))));
    for (const QString& file : files)
        m_services.sources.add(file);
    keep();
    m_services.transport.load(files.first());
    if (files.size() > 1)
        m_services.notices.say(tr("%1 files are in the list now: S steps through it.").arg(files.size()));
    emit changed();
}

void SourceNotes::forget(const QString& file)
{
    const SourceInfo info = m_services.sources.of(file);
    if (info.origin != SourceOrigin::Own)
        return;
    m_services.undo.push(new Undoable(
        tr("take %1 off the list").arg(info.name),
        [this, file] {
            m_services.sources.remove(file);
            m_forgotten = file; // it may still be playing
            keep();
            emit changed();
        },
        [this, info] {
            m_forgotten.clear();
            m_services.sources.add(info.file);
            m_services.sources.setRole(info.file, info.role);
            keep();
            emit changed();
        }));
}

void SourceNotes::setRole(const QString& role)
{
    const QString file = m_services.transport.sourceFile();
    const QString before = m_services.sources.of(file).role;
    const auto become = [this, file](const QString& words) {
        m_services.sources.setRole(file, words);
        keep();
        emit changed();
    };
    m_services.undo.push(new Undoable(
        tr("say what the source is for"), [become, role] { become(role.simplified().left(60)); },
        [become, before] { become(before); }));
}

void SourceNotes::step(int by)
{
    if (const QString file = m_services.sources.next(m_services.transport.sourceFile(), by); !file.isEmpty())
        m_services.transport.load(file);
}

// --- sections ----------------------------------------------------------------------------------------

std::vector<NamedSection> SourceNotes::sections() const
{
    const auto found = m_sections.find(m_services.transport.sourceFile());
    return found == m_sections.end() ? std::vector<NamedSection>() : found->second;
}

void SourceNotes::setSections(const QString& file, std::vector<NamedSection> sections)
{
    m_sections[file] = std::move(sections);
    keep();
    emit changed();
}

void SourceNotes::keepSection(const QString& name)
{
    const auto passage = m_services.transport.passage();
    if (!passage || name.trimmed().isEmpty())
        return;
    const NamedSection kept{name.simplified().left(60), passage->first_s, passage->length_s};
    auto after = sections();
    std::erase_if(after, [&](const NamedSection& one) { return one.name == kept.name; });
    after.push_back(kept);
    std::ranges::sort(after, {}, &NamedSection::first_s);
    m_services.undo.push(new Undoable(
        tr("keep the section %1").arg(kept.name),
        [this, file = m_services.transport.sourceFile(), after] { setSections(file, after); },
        [this, file = m_services.transport.sourceFile(), before = sections()] { setSections(file, before); }));
}

void SourceNotes::removeSection(const QString& name)
{
    auto after = sections();
    std::erase_if(after, [&](const NamedSection& one) { return one.name == name; });
    m_services.undo.push(new Undoable(
        tr("remove the section %1").arg(name),
        [this, file = m_services.transport.sourceFile(), after] { setSections(file, after); },
        [this, file = m_services.transport.sourceFile(), before = sections()] { setSections(file, before); }));
}

void SourceNotes::takeSection(const QString& name)
{
    for (const NamedSection& one : sections())
        if (one.name == name)
            m_services.transport.setPassage({one.first_s, one.length_s, m_services.transport.levelDb()});
}

void SourceNotes::typeSection(const QString& text)
{
    const auto& source = m_services.transport.source();
    if (!source)
        return;
    const auto typed = audition::passageFromText(text.toStdString(), source->seconds(), m_services.tempo.bpm());
    if (m_services.notices.succeeded(typed))
        m_services.transport.setPassage(
            {typed->first_s, typed->end_s - typed->first_s, m_services.transport.levelDb()});
}

void SourceNotes::setSnapping(Snapping snapping)
{
    m_snapping = snapping;
    keep();
    emit changed();
}

void SourceNotes::choose(audition::Section section)
{
    const auto& source = m_services.transport.source();
    if (!source)
        return;
    const double rate_hz = source->rateHz();
    const double bpm = m_services.tempo.bpm();
    if (m_snapping == Snapping::Bars && bpm > 0 && section.frames < source->frames()) {
        const std::size_t first = audition::snappedToBar(bpm, section.first, rate_hz);
        const std::size_t end = audition::snappedToBar(bpm, section.first + section.frames, rate_hz);
        if (end > first)
            section = {first, end - first};
    }
    m_services.transport.setLoop(section);
    if (m_snapping == Snapping::Onsets && section.frames < source->frames())
        snapToOnsets(m_services.transport.loop());
}

/// Found in the background: the section repeats meanwhile as it was drawn.
void SourceNotes::snapToOnsets(audition::Section section)
{
    const double rate_hz = m_services.transport.rateHz();
    const auto edge = static_cast<std::size_t>(edges_s * rate_hz);
    const std::size_t from = section.first - std::min(section.first, edge);
    const std::size_t until =
        std::min(m_services.transport.source()->frames(), section.first + section.frames + edge);
    m_services.rhythm.find({from, until - from}, [this, section, rate_hz](const audition::Rhythm& rhythm) {
        if (m_services.transport.loop() != section)
            return; // another was chosen meanwhile
        const std::size_t first = audition::snappedToOnset(rhythm, section.first, rate_hz);
        const std::size_t end = audition::snappedToOnset(rhythm, section.first + section.frames, rate_hz);
        if (end > first)
            m_services.transport.setLoop({first, end - first});
    });
}

} // namespace hr::app
