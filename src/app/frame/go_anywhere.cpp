// SPDX-License-Identifier: GPL-3.0-or-later
#include "frame/go_anywhere.h"

#include "theme/theme.h"
#include "widgets/basics.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>
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
    window->setAttribute(Qt::WA_DeleteOnClose);
    window->move(over->mapToGlobal(QPoint((over->width() - window->width()) / 2, 90)));
    window->show();
    window->m_edit->setFocus();
}

GoAnywhere::GoAnywhere(const Services& services, QWidget* over)
    : QWidget(over, Qt::Popup), m_services(services), m_over(over)
{
    resize(460, 360);
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    auto* sheet = new Sheet;
    outer->addWidget(sheet);
    auto* column = new QVBoxLayout(sheet);
    m_edit = new QLineEdit;
    m_edit->setPlaceholderText(tr("a page, something to do, or a processor to listen to"));
    m_edit->setAccessibleName(tr("go to"));
    m_edit->installEventFilter(this);
    m_list = new QListWidget;
    m_list->setFocusPolicy(Qt::NoFocus);
    column->addWidget(m_edit);
    column->addWidget(m_list);
    connect(m_edit, &QLineEdit::textChanged, this, &GoAnywhere::fill);
    connect(m_edit, &QLineEdit::returnPressed, this, &GoAnywhere::go);
    connect(m_list, &QListWidget::itemClicked, this, &GoAnywhere::go);
    fill({});
}

void GoAnywhere::fill(const QString& text)
{
    m_list->clear();
    addActions(text);
    addButtons(text);
    if (!text.trimmed().isEmpty())
        addProcessors(text);
    m_list->setCurrentRow(0);
}

/// What cannot be done now is listed all the same: choosing it says why.
void GoAnywhere::addActions(const QString& text)
{
    for (const Action& action : m_services.actions.all()) {
        const QString words = tr("%1: %2").arg(action.group, action.words);
        if (!matches(words, text))
            continue;
        const QString key = action.key.toString(QKeySequence::NativeText);
        auto* item = new QListWidgetItem(key.isEmpty() ? words : tr("%1   %2").arg(words, key), m_list);
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
        auto* item = new QListWidgetItem(tr("In sight: %1").arg(words), m_list);
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
        auto* item = new QListWidgetItem(tr("%1   %2").arg(entry.title(), entry.maker), m_list);
        item->setData(processor_role, entry.id);
    }
}

void GoAnywhere::go()
{
    const QListWidgetItem* item = m_list->currentItem();
    if (!item)
        return;
    const QString action = item->data(action_role).toString();
    const QString processor = item->data(processor_role).toString();
    const QVariant place = item->data(button_role);
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

bool GoAnywhere::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Down || key == Qt::Key_Up) {
            const int row = m_list->currentRow() + (key == Qt::Key_Down ? 1 : -1);
            m_list->setCurrentRow(std::clamp(row, 0, std::max(0, m_list->count() - 1)));
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

} // namespace hr::app
