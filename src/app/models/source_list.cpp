// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/source_list.h"

#include "audition/generated_source.h"

#include <QFile>
#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QObject>
#include <algorithm>

namespace hr::app {

bool isSourceThere(const QString& file)
{
    return std::ranges::any_of(audition::generatedSounds(),
                               [name = file.toStdString()](const auto& sound) { return sound.name == name; }) ||
           QFile::exists(file);
}

SourceList::SourceList(const std::filesystem::path& data_directory)
    : m_folder(QFile::decodeName((data_directory / "sources").c_str()))
{
    for (const auto& sound : audition::generatedSounds())
        m_sources.push_back({QString::fromUtf8(sound.name.data(), static_cast<qsizetype>(sound.name.size())),
                             QString::fromUtf8(sound.title.data(), static_cast<qsizetype>(sound.title.size())),
                             QObject::tr("generated"), 0, SourceOrigin::Generated});
    reload();
}

void SourceList::reload()
{
    QFile list(m_folder + QStringLiteral("/sources.json"));
    if (!list.open(QIODevice::ReadOnly))
        return;
    for (const QJsonValue value : QJsonDocument::fromJson(list.readAll()).array()) {
        const QJsonObject one = value.toObject();
        const QString file = m_folder + QLatin1Char('/') + one.value(QStringLiteral("file")).toString();
        if (std::ranges::find(m_sources, file, &SourceInfo::file) == m_sources.end())
            m_sources.push_back({file, one.value(QStringLiteral("name")).toString(),
                                 one.value(QStringLiteral("role")).toString(),
                                 one.value(QStringLiteral("tempo_bpm")).toDouble(), SourceOrigin::Delivered});
    }
}

QString SourceList::first() const
{
    return next({});
}

SourceInfo SourceList::of(const QString& file) const
{
    const auto found = std::ranges::find(m_sources, file, &SourceInfo::file);
    return found != m_sources.end() ? *found : SourceInfo{file, QFileInfo(file).completeBaseName(), {}, 0};
}

bool SourceList::has(const QString& file) const
{
    return std::ranges::find(m_sources, file, &SourceInfo::file) != m_sources.end();
}

void SourceList::add(const QString& file)
{
    if (!has(file))
        m_sources.push_back(of(file));
}

void SourceList::setTempo(const QString& file, double bpm)
{
    add(file);
    std::ranges::find(m_sources, file, &SourceInfo::file)->tempo_bpm = bpm;
}

void SourceList::setRole(const QString& file, const QString& role)
{
    add(file);
    std::ranges::find(m_sources, file, &SourceInfo::file)->role = role;
}

void SourceList::remove(const QString& file)
{
    std::erase_if(m_sources, [&](const SourceInfo& one) { return one.file == file; });
}

QString SourceList::next(const QString& file, int step) const
{
    const auto found = std::ranges::find(m_sources, file, &SourceInfo::file);
    const auto count = static_cast<int>(m_sources.size());
    const int at =
        found == m_sources.end() ? (step > 0 ? -1 : count) : static_cast<int>(found - m_sources.begin());
    for (int i = 1; i <= count; ++i) {
        const auto place = static_cast<std::size_t>(((at + i * step) % count + count) % count);
        const SourceInfo& one = m_sources[place];
        if (one.origin != SourceOrigin::Generated && QFile::exists(one.file))
            return one.file;
    }
    return {};
}

} // namespace hr::app
