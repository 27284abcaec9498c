// SPDX-License-Identifier: GPL-3.0-or-later
#include "frame/session.h"

#include "library/settings_json.h"
#include "pages/find/find_page.h"
#include "theme/theme.h"

#include <QApplication>
#include <QFile>

namespace hr::app {

using nlohmann::json;

namespace {

constexpr int soon_ms = 500;

QString text(const json& from, const char* key)
{
    const auto found = from.find(key);
    return found != from.end() && found->is_string() ? QString::fromStdString(found->get<std::string>())
                                                     : QString();
}

std::int64_t whole(const json& from, const char* key, std::int64_t fallback)
{
    const auto found = from.find(key);
    return found != from.end() && found->is_number_integer() ? found->get<std::int64_t>() : fallback;
}

} // namespace

json Session::stored(const library::Store& store)
{
    json found = json::parse(store.setting(QStringLiteral("session")).toStdString(), nullptr, false);
    return found.is_object() ? found : json::object();
}

audition::DeviceChoice Session::device(const json& stored)
{
    return {text(stored, "device_system").toStdString(), text(stored, "device_name").toStdString()};
}

Session::Session(Desk& desk, MainWindow& window, SourceList& sources)
    : m_desk(desk), m_window(window), m_sources(sources)
{
    m_soon.setSingleShot(true);
    m_soon.setInterval(soon_ms);
    connect(&m_soon, &QTimer::timeout, this, &Session::save);
    const auto later = [this] { m_soon.start(); };
    connect(&m_desk.line_up, &LineUp::contendersChanged, this, later);
    connect(&m_desk.line_up, &LineUp::valueChanged, this, later);
    connect(&m_desk.line_up, &LineUp::heardChanged, this, later);
    connect(&m_desk.line_up, &LineUp::sourceChanged, this, later);
    connect(&m_desk.audio, &AudioSession::deviceChanged, this, later);
    connect(&m_desk.processors, &QAbstractItemModel::modelReset, this, later);
    connect(&m_window, &MainWindow::pageShown, this, later);
    connect(&m_window, &MainWindow::closing, this, &Session::save);
}

json Session::now() const
{
    json line_up = json::array();
    for (int lane = 1; lane < m_desk.line_up.count(); ++lane) {
        const Contender& contender = m_desk.line_up.at(lane);
        line_up.push_back(
            {{"id", contender.id.toStdString()}, {"settings", library::settingsToJson(contender.settings())}});
        if (contender.chain)
            line_up.back()["chain"] = json(chain::toJson(contender.chainNow()));
    }
    const audition::Section loop = m_desk.line_up.loop();
    return {{"page", static_cast<int>(m_window.page())},
            {"search", m_window.findPage()->searchText().toStdString()},
            {"selected", m_window.findPage()->selectedId().toStdString()},
            {"line_up", line_up},
            {"heard", m_desk.line_up.heard()},
            {"source", m_desk.line_up.sourceFile().toStdString()},
            {"loop_first", loop.first},
            {"loop_frames", loop.frames},
            {"loop_rate_hz", m_desk.audio.rateHz()},
            {"device_system", m_desk.audio.device().system},
            {"device_name", m_desk.audio.device().name},
            {"lamplight", Theme::current() == ThemeName::Lamplight},
            {"window", m_window.saveGeometry().toBase64().toStdString()}};
}

void Session::save()
{
    m_soon.stop();
    const std::string text = now().dump(-1, ' ', false, json::error_handler_t::replace);
    if (auto stored = m_desk.store->setSetting(QStringLiteral("session"), QString::fromStdString(text));
        !stored)
        m_window.showNotice(QString::fromStdString(stored.error().text));
}

void Session::restoreContender(const json& stored)
{
    if (!stored.is_object())
        return;
    const auto settings = library::settingsFromJson(stored.value("settings", json()));
    if (const auto chain = chain::fromJson(stored.value("chain", json())))
        m_desk.line_up.addChain(*chain);
    else
        m_desk.line_up.add(text(stored, "id"), settings);
}

void Session::restore(const json& stored)
{
    const QByteArray geometry = QByteArray::fromBase64(text(stored, "window").toUtf8());
    if (!geometry.isEmpty())
        m_window.restoreGeometry(geometry);
    if (stored.value("lamplight", json(false)) == true && Theme::current() == ThemeName::Paper)
        m_window.toggleTheme();
    m_window.findPage()->setSearchText(text(stored, "search"));
    m_window.findPage()->select(text(stored, "selected"));
    if (const auto line_up = stored.find("line_up"); line_up != stored.end() && line_up->is_array())
        for (const json& one : *line_up)
            restoreContender(one);
    m_desk.line_up.hear(static_cast<int>(whole(stored, "heard", 0)));

    QString source = text(stored, "source");
    std::optional<audition::Section> loop;
    if (!source.isEmpty() && QFile::exists(source)) {
        const auto first = whole(stored, "loop_first", 0);
        const auto frames = whole(stored, "loop_frames", 0);
        if (first >= 0 && frames > 0 && stored.value("loop_rate_hz", json()) == m_desk.audio.rateHz())
            loop = audition::Section{static_cast<std::size_t>(first), static_cast<std::size_t>(frames)};
    } else {
        if (!source.isEmpty())
            m_window.showNotice(tr("The source %1 is not there any more: another was taken.").arg(source));
        source = m_sources.first();
    }
    if (!source.isEmpty())
        m_desk.line_up.loadSource(source, loop);
    const auto page = whole(stored, "page", 0);
    if (page >= 0 && page <= static_cast<int>(PageName::Write))
        m_window.showPage(static_cast<PageName>(page));
}

} // namespace hr::app
