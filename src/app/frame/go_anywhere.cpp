// SPDX-License-Identifier: GPL-3.0-or-later
#include "frame/go_anywhere.h"

#include "theme/theme.h"
#include "widgets/basics.h"

#include <QLineEdit>
#include <QListWidget>
#include <algorithm>

namespace hr::app {

namespace {

constexpr int most_shown = 40;
constexpr int action_role = Qt::UserRole;
constexpr int processor_role = Qt::UserRole + 1;
constexpr int button_role = Qt::UserRole + 2;

/// Whether each word that was typed begins one of these.
bool matches(const QString& words, const QString& typed)
{
    for (const QString& part : typed.split(QLatin1Char(' '), Qt::SkipEmptyParts))
        if (!(QLatin1Char(' ') + words).contains(QLatin1Char(' ') + part, Qt::CaseInsensitive))
            return false;
    return true;
}

} // namespace

void GoAnywhere::open(const Services& services, QWidget* over)
{
    auto* window = new GoAnywhere(services, over);
    window->openAt(over->mapToGlobal(QPoint((over->width() - window->width()) / 2, 90)));
}

GoAnywhere::GoAnywhere(const Services& services, QWidget* over)
    : SearchPopup(tr("a page, something to do, or a processor to listen to"), tr("go to"), {460, 360}, over),
      m_services(services), m_over(over)
{
    connect(this, &SearchPopup::typed, this, &GoAnywhere::fill);
    connect(this, &SearchPopup::taken, this, [this](const QListWidgetItem* item) { go(*item); });
    fill({});
}

void GoAnywhere::fill(const QString& text)
{
    list().clear();
    addActions(text);
    addButtons(text);
    if (!text.trimmed().isEmpty())
        addProcessors(text);
    beginAtTop();
}

/// What cannot be done now is listed all the same: choosing it says why.
void GoAnywhere::addActions(const QString& text)
{
    for (const Action& action : m_services.actions.all()) {
        const QString words = tr("%1: %2").arg(action.group, action.words);
        if (!matches(words, text))
            continue;
        const QString key = action.key.toString(QKeySequence::NativeText);
        auto* item = new QListWidgetItem(key.isEmpty() ? words : tr("%1   %2").arg(words, key), &list());
        item->setData(action_role, action.id);
        if (action.disabledReason && !action.disabledReason().isEmpty())
            item->setForeground(Theme::palette().faint);
    }
}

/// Buttons in sight, by what stands on them: what somebody reads there is what they ask for.
void GoAnywhere::addButtons(const QString& text)
{
    m_buttons.clear();
    if (text.trimmed().isEmpty())
        return;
    for (Button* button : m_over->findChildren<Button*>()) {
        const bool has_words = std::ranges::any_of(button->text(), [](QChar c) { return c.isLetter(); });
        const QString words = has_words ? button->text() : button->accessibleName();
        if (!button->isVisible() || !button->isEnabled() || words.isEmpty() || !matches(words, text))
            continue;
        auto* item = new QListWidgetItem(tr("In sight: %1").arg(words), &list());
        item->setData(button_role, static_cast<int>(m_buttons.size()));
        m_buttons.emplace_back(button);
    }
}

void GoAnywhere::addProcessors(const QString& text)
{
    const library::Finder& finder = m_services.processors.finder();
    const auto found = finder.find({text, {}});
    for (std::size_t i = 0; i < std::min<std::size_t>(found.rows.size(), most_shown); ++i) {
        const library::Entry& entry = finder.entries()[static_cast<std::size_t>(found.rows[i])];
        auto* item = new QListWidgetItem(tr("%1   %2").arg(entry.title(), entry.maker), &list());
        item->setData(processor_role, entry.id);
    }
}

void GoAnywhere::go(const QListWidgetItem& item)
{
    const QString action = item.data(action_role).toString();
    const QString processor = item.data(processor_role).toString();
    const QVariant place = item.data(button_role);
    const QPointer<Button> button = place.isValid() ? m_buttons[place.toUInt()] : nullptr;
    const Services services = m_services;
    close();
    if (place.isValid())
        return button ? button->click() : void();
    if (!action.isEmpty())
        services.actions.run(action);
    else
        services.routes.listenTo(processor);
}

} // namespace hr::app
