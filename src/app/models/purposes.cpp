// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/purposes.h"

#include "chain/chain_json.h"

#include <algorithm>
#include <set>

namespace hr::app {

namespace {

constexpr auto purposes_setting = "purposes";
constexpr std::size_t most_purposes = 100;
constexpr int purposes_rest_ms = 500;

/// A line of the setting: a chain of one stage, or the words alone; empty: it is neither.
std::optional<chain::Node> stageFrom(const QString& line)
{
    if (const auto chain = chain::fromText(line.toStdString()); chain && chain->nodes.size() == 1)
        return chain->nodes.front();
    if (line.startsWith(QLatin1Char('{')))
        return std::nullopt;
    chain::Node words;
    words.purpose = line.toStdString();
    return words;
}

QString lineOf(const chain::Node& stage)
{
    if (stage.processor.empty())
        return QString::fromStdString(stage.purpose);
    chain::Chain one;
    one.nodes.push_back(stage);
    return QString::fromStdString(chain::toText(one));
}

} // namespace

Purposes::Purposes(ChainDraft& draft, library::Store& store, Notices& notices, QObject* parent)
    : QObject(parent), m_draft(draft), m_store(store), m_notices(notices),
      m_soon(purposes_rest_ms, [this] { remember(); })
{
    const QString kept = m_store.setting(QLatin1String(purposes_setting));
    for (const QString& line : kept.split(QLatin1Char('\n'), Qt::SkipEmptyParts))
        if (auto stage = stageFrom(line))
            m_stages.push_back(std::move(*stage));
    connect(&m_draft, &ChainDraft::changed, this, [this] { m_soon.start(); });
}

QStringList Purposes::words() const
{
    QStringList words;
    for (const chain::Node& stage : m_stages)
        if (const QString purpose = QString::fromStdString(stage.purpose); !words.contains(purpose))
            words << purpose;
    return words;
}

std::vector<chain::Node> Purposes::find(const QString& text) const
{
    const QStringList wanted = text.split(QLatin1Char(' '), Qt::SkipEmptyParts);
    std::vector<chain::Node> found;
    std::ranges::copy_if(m_stages, std::back_inserter(found), [&](const chain::Node& stage) {
        const QString purpose = QString::fromStdString(stage.purpose);
        return !stage.processor.empty() && !wanted.isEmpty() &&
               std::ranges::all_of(
                   wanted, [&](const QString& word) { return purpose.contains(word, Qt::CaseInsensitive); });
    });
    return found;
}

void Purposes::remember()
{
    bool is_new = false;
    std::set<std::pair<std::string, std::string>> met; // of two that serve the same purpose the first counts
    for (const chain::Node& node : m_draft.chain().nodes) {
        if (node.kind != chain::NodeKind::Stage || node.purpose.empty() ||
            !met.emplace(node.purpose, node.processor).second)
            continue;
        chain::Node stage = node;
        stage.id = "s1"; // and nothing of where it stood
        stage.phase.clear();
        stage.may_move = false;
        stage.on = true;
        if (stage.key == processors::KeySource::Wired)
            stage.key = processors::KeySource::Own;
        const auto known = std::ranges::find_if(m_stages, [&](const chain::Node& one) {
            return one.purpose == stage.purpose && (one.processor.empty() || one.processor == stage.processor);
        });
        if (known != m_stages.end() && lineOf(*known) == lineOf(stage))
            continue; // in its place: an edit elsewhere does not make it the latest
        if (known != m_stages.end())
            m_stages.erase(known);
        m_stages.insert(m_stages.begin(), std::move(stage));
        is_new = true;
    }
    if (!is_new)
        return;
    m_stages.resize(std::min(m_stages.size(), most_purposes));
    QStringList lines;
    for (const chain::Node& stage : m_stages)
        lines << lineOf(stage);
    (void)m_notices.succeeded(
        m_store.setSetting(QLatin1String(purposes_setting), lines.join(QLatin1Char('\n'))));
}

} // namespace hr::app
