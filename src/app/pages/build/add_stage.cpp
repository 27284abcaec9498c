// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/build/add_stage.h"

#include "processors/kinds.h"
#include "theme/theme.h"
#include "widgets/basics.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QScreen>
#include <QVBoxLayout>
#include <algorithm>

namespace hr::app {

namespace {

constexpr int most_offered = 60;
constexpr int most_used_lately = 6;
constexpr int id_role = Qt::UserRole;
constexpr int kind_role = Qt::UserRole + 1;
constexpr int stage_role = Qt::UserRole + 2; // its number among those with a purpose
constexpr std::size_t most_purposes_offered = 5;

} // namespace

void AddStage::open(const BuildServices& services, QWidget* over, const QPoint& at, const QString& what,
                    Take take)
{
    auto* sheet = new AddStage(services, over, what, std::move(take));
    const QRect room = over->window()->geometry();
    const int left = std::clamp(at.x() - sheet->width() / 2, room.left() + 8,
                                std::max(room.left() + 8, room.right() - sheet->width() - 8));
    const int top = std::min(at.y() + 14, std::max(room.top(), room.bottom() - sheet->height() - 8));
    sheet->openAt({left, top});
}

AddStage::AddStage(const BuildServices& services, QWidget* over, const QString& what, Take take_stage)
    : SearchPopup(what, what, {560, 400}, over), m_services(services), m_take(std::move(take_stage))
{
    connect(this, &SearchPopup::typed, this, &AddStage::fill);
    connect(this, &SearchPopup::taken, this, [this](const QListWidgetItem* item) { take(*item); });
    fill({});
}

void AddStage::addHeading(const QString& text)
{
    auto* item = new QListWidgetItem(text, &list());
    item->setFlags(Qt::NoItemFlags);
    item->setForeground(Theme::palette().faint);
    item->setFont(Theme::words(Theme::small_px));
}

void AddStage::addProcessor(const library::Entry& entry)
{
    auto* item = new QListWidgetItem(tr("%1   %2").arg(entry.title(), entry.kind), &list());
    item->setToolTip(entry.maker);
    item->setData(id_role, entry.id);
}

void AddStage::addPurpose(const chain::Node& stage)
{
    auto* item = new QListWidgetItem(
        tr("%1   %2").arg(QString::fromStdString(stage.purpose), m_services.facts.nameOf(stage)), &list());
    item->setToolTip(tr("as it was set for that before"));
    item->setData(stage_role, static_cast<int>(m_stages.size()));
    m_stages.push_back(stage);
}

void AddStage::addKinds()
{
    addHeading(tr("by kind"));
    for (const std::string& kind : processors::allKinds()) {
        const auto about = processors::kindAbout(kind);
        const QString word = QString::fromStdString(kind);
        auto* item = new QListWidgetItem(
            tr("%1 – %2").arg(word, QString::fromUtf8(about.data(), static_cast<qsizetype>(about.size()))),
            &list());
        item->setToolTip(item->text());
        item->setData(kind_role, word);
    }
}

void AddStage::fill(const QString& text)
{
    list().clear();
    m_stages.clear();
    const library::Finder& finder = m_services.processors.finder();
    const auto& entries = finder.entries();
    if (!text.trimmed().isEmpty()) {
        const auto meant = m_services.purposes.find(text);
        if (!meant.empty())
            addHeading(tr("put in for this before"));
        for (std::size_t i = 0; i < std::min(meant.size(), most_purposes_offered); ++i)
            addPurpose(meant[i]);
        const auto found = finder.find({text, {}});
        if (!meant.empty() && !found.rows.empty())
            addHeading(tr("installed"));
        for (std::size_t i = 0; i < std::min<std::size_t>(found.rows.size(), most_offered); ++i)
            addProcessor(entries[static_cast<std::size_t>(found.rows[i])]);
        if (list().count() == 0)
            addHeading(tr("Nothing installed is called “%1”.").arg(text.trimmed()));
    } else {
        QStringList first;
        for (const QString& id : m_services.processors.recent())
            if (const int at = finder.indexOf(id); at >= 0 && first.size() < most_used_lately) {
                if (first.isEmpty())
                    addHeading(tr("used lately"));
                addProcessor(entries[static_cast<std::size_t>(at)]);
                first << id;
            }
        bool headed = false;
        for (const library::Entry& entry : entries)
            if (entry.favourite && !entry.hidden && !first.contains(entry.id)) {
                if (!std::exchange(headed, true))
                    addHeading(tr("favourites"));
                addProcessor(entry);
            }
        addKinds();
    }
    beginAtTop();
}

void AddStage::take(const QListWidgetItem& item)
{
    if (const QString kind = item.data(kind_role).toString(); !kind.isEmpty())
        return edit().setText(kind);
    const QString id = item.data(id_role).toString();
    const QVariant listed = item.data(stage_role);
    if (id.isEmpty() && !listed.isValid()) {
        close();
        return;
    }
    Result<chain::Node> stage =
        listed.isValid() ? m_stages.at(static_cast<std::size_t>(listed.toInt())) : m_services.draft.stageOf(id);
    Notices& notices = m_services.notices;
    const auto take_stage = m_take;
    close(); // which deletes this
    if (notices.succeeded(stage))
        take_stage(std::move(*stage));
}

} // namespace hr::app
