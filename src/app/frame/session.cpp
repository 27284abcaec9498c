// SPDX-License-Identifier: GPL-3.0-or-later
#include "frame/session.h"

#include "models/line_up_document.h"
#include "pages/find/find_page.h"
#include "processors/json_text.h"
#include "theme/theme.h"

#include <QApplication>
#include <QFile>

namespace hr::app {

using nlohmann::json;
using nlohmann::ordered_json;

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

double real(const json& from, const char* key)
{
    const auto found = from.find(key);
    return found != from.end() && found->is_number() ? found->get<double>() : 0;
}

} // namespace

json Session::stored(const library::Store& store)
{
    json found = processors::jsonFrom(store.setting(QStringLiteral("session")).toStdString());
    return found.is_object() ? found : json::object();
}

audition::DeviceChoice Session::device(const json& stored)
{
    return {text(stored, "device_system").toStdString(), text(stored, "device_name").toStdString()};
}

Session::Session(Desk& desk, MainWindow& window)
    : m_desk(desk), m_window(window), m_soon(soon_ms, [this] { save(); })
{
    const auto later = [this] { m_soon.start(); };
    connect(&m_desk.line_up, &LineUp::contendersChanged, this, later);
    connect(&m_desk.line_up, &LineUp::valueChanged, this, later);
    connect(&m_desk.line_up, &LineUp::settingsChanged, this, later);
    connect(&m_desk.line_up, &LineUp::audibleChanged, this, later);
    connect(&m_desk.line_up, &LineUp::ruleChanged, this, later);
    connect(&m_desk.line_up, &LineUp::matchChanged, this, later); // among it gains by hand
    connect(&m_desk.saved, &SavedLineUps::changed, this, later);
    connect(&m_desk.transport, &Transport::sourceChanged, this, later);
    connect(&m_desk.output, &OutputSwitch::changed, this, later);
    connect(&m_desk.processors, &QAbstractItemModel::modelReset, this, later);
    connect(&m_window, &MainWindow::pageShown, this, later);
    connect(&m_window, &MainWindow::closing, this, &Session::save);
}

json Session::now() const
{
    const auto passage = m_desk.transport.passage().value_or(Passage());
    return {{"page", static_cast<int>(m_window.page())},
            {"search", m_window.findPage()->searchText().toStdString()},
            {"selected", m_window.findPage()->selectedId().toStdString()},
            {"line_up", toDocument(m_desk.line_up, m_desk.transport)},
            {"saved_line_up", m_desk.saved.current()},
            {"wanted", m_desk.line_up.placeOf(m_desk.line_up.wanted())},
            {"source", m_desk.transport.sourceFile().toStdString()},
            {"passage_first_s", passage.first_s},
            {"passage_length_s", passage.length_s},
            {"source_level_db", passage.level_db},
            {"device_system", m_desk.output.chosen().system},
            {"device_name", m_desk.output.chosen().name},
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

/// As an earlier version stored it: the candidates alone, in their order.
ordered_json Session::fromEarlier(const json& line_up)
{
    ordered_json candidates = ordered_json::array();
    for (const json& one : line_up) {
        ordered_json candidate(one);
        if (candidate.is_object())
            candidate["processor"] = candidate.value("id", ordered_json());
        candidates.push_back(std::move(candidate));
    }
    return {{"candidates", candidates}};
}

/// In their order; the one that was heard, by its place in what was stored.
void Session::restoreLineUp(const json& stored)
{
    const auto line_up = stored.find("line_up");
    if (line_up == stored.end())
        return;
    ordered_json document = line_up->is_array() ? fromEarlier(*line_up) : ordered_json(*line_up);
    if (document.is_object())
        document.erase("source"); // the session knows its own
    fromDocument(document, m_desk.line_up, m_desk.transport);
    m_desk.saved.restore(whole(stored, "saved_line_up", 0));
    const auto wanted = whole(stored, "wanted", whole(stored, "heard", 0)); // as an earlier version called it
    if (wanted > 0 && wanted <= static_cast<std::int64_t>(m_desk.line_up.candidates().size()))
        m_desk.line_up.hear(m_desk.line_up.candidates()[static_cast<std::size_t>(wanted - 1)].id);
}

void Session::restoreSource(const json& stored)
{
    QString source = text(stored, "source");
    std::optional<Passage> passage;
    if (!source.isEmpty() && isSourceThere(source)) {
        const double first_s = real(stored, "passage_first_s");
        const double length_s = real(stored, "passage_length_s");
        if (first_s >= 0 && length_s > 0)
            passage = Passage{first_s, length_s, real(stored, "source_level_db")};
    } else {
        if (!source.isEmpty())
            m_window.showNotice(tr("The source %1 is not there any more: another was taken.").arg(source));
        source = m_desk.sources.first();
    }
    if (!source.isEmpty())
        m_desk.transport.load(source, passage);
}

void Session::restore(const json& stored)
{
    const QByteArray geometry = QByteArray::fromBase64(text(stored, "window").toUtf8());
    if (geometry.isEmpty() || !m_window.restoreGeometry(geometry))
        m_window.fitToScreen();
    if (stored.value("lamplight", json(false)) == true && Theme::current() == ThemeName::Paper)
        m_window.toggleTheme();
    m_window.findPage()->setSearchText(text(stored, "search"));
    m_window.findPage()->select(text(stored, "selected"));
    m_desk.output.choose(device(stored));
    restoreSource(stored);
    restoreLineUp(stored);
    const auto page = whole(stored, "page", 0);
    if (page >= 0 && page <= static_cast<int>(PageName::Write))
        m_window.showPage(static_cast<PageName>(page));
}

} // namespace hr::app
