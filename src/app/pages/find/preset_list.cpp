// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/find/preset_list.h"

#include "actions/undoable.h"
#include "exchange/preset_file.h"
#include "library/find/words.h"
#include "widgets/ask_file.h"
#include "widgets/basics.h"
#include "widgets/candidate_mark.h"
#include "widgets/name_popup.h"

#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QVBoxLayout>
#include <algorithm>

namespace hr::app {

using library::Preset;

namespace {

bool matches(const Preset& preset, const QStringList& words)
{
    const QStringList own = library::foldedWords(preset.name + QLatin1Char(' ') + preset.bank);
    return std::ranges::all_of(words, [&](const QString& word) {
        return std::ranges::any_of(own, [&](const QString& one) { return one.startsWith(word); });
    });
}

} // namespace

PresetList::PresetList(const FindServices& services, QWidget* parent) : QWidget(parent), m_services(services)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 10, 0);
    column->setSpacing(6);
    m_search = new QLineEdit;
    m_search->setAccessibleName(tr("search the presets"));
    m_search->setPlaceholderText(tr("name or bank"));
    m_search->setClearButtonEnabled(true);
    connect(m_search, &QLineEdit::textChanged, this, &PresetList::fill);
    column->addWidget(m_search);
    m_list = new QListWidget;
    m_list->setAccessibleName(tr("presets"));
    m_list->setUniformItemSizes(true);
    connect(m_list, &QListWidget::currentRowChanged, this, [this] {
        const Preset* preset = current();
        m_favourite->setEnabled(preset && preset->from != Preset::From::Defaults);
        m_favourite->setChecked(preset && preset->favourite);
    });
    connect(m_list, &QListWidget::itemActivated, m_list, [this] { m_listen->click(); });
    column->addWidget(m_list, 1);

    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    m_listen = new Button(tr("Hear it"));
    m_listen->setToolTip(tr("in the line-up, with this preset"));
    connect(m_listen, &QPushButton::clicked, this, [this] {
        if (const Preset* preset = current())
            m_services.routes.listenTo(QString::fromStdString(m_info.id), preset->settings);
    });
    row->addWidget(m_listen);
    m_favourite = toggle(QStringLiteral("★"), tr("a favourite among the presets"));
    m_favourite->setAccessibleName(tr("favourite preset"));
    connect(m_favourite, &QPushButton::clicked, this, [this](bool on) {
        if (const Preset* preset = current())
            say(m_services.store.presets.setFavourite(QString::fromStdString(m_info.id), preset->id, on), {});
    });
    row->addWidget(m_favourite);
    m_more = new Button(tr("More"));
    connect(m_more, &QPushButton::clicked, this, &PresetList::openMenu);
    row->addWidget(m_more);
    row->addStretch();
    column->addLayout(row);
}

void PresetList::show(const processors::ProcessorInfo& info)
{
    if (info.id != m_info.id)
        m_search->clear();
    m_info = info;
    reload();
}

void PresetList::reload()
{
    auto presets = m_services.store.presets.of(m_info);
    if (!presets)
        return m_services.notices.say(QString::fromStdString(presets.error().text));
    m_presets = std::move(*presets);
    fill();
}

void PresetList::fill()
{
    const Preset* before = current();
    const QString kept = before ? before->id : QString();
    const QStringList words = library::foldedWords(m_search->text());
    m_list->clear();
    for (std::size_t i = 0; i < m_presets.size(); ++i) {
        const Preset& preset = m_presets[i];
        if (!matches(preset, words))
            continue;
        QString text = preset.favourite ? QStringLiteral("★ ") + preset.name : preset.name;
        if (!preset.bank.isEmpty())
            text += QStringLiteral(" · ") + preset.bank;
        if (preset.from == Preset::From::User)
            text += tr(" · yours");
        auto* item = new QListWidgetItem(text, m_list);
        item->setData(Qt::UserRole, static_cast<int>(i));
        item->setSizeHint(QSize(0, 26));
        if (preset.id == kept)
            m_list->setCurrentItem(item);
    }
    if (!m_list->currentItem() && m_list->count() > 0)
        m_list->setCurrentRow(0);
}

const Preset* PresetList::current() const
{
    const QListWidgetItem* item = m_list->currentItem();
    const auto at = item ? static_cast<std::size_t>(item->data(Qt::UserRole).toInt()) : m_presets.size();
    return at < m_presets.size() ? &m_presets[at] : nullptr;
}

void PresetList::openMenu()
{
    QMenu* menu = menuFor(this);
    const Preset* preset = current();
    const bool own = preset && preset->from == Preset::From::User;
    const QString id = QString::fromStdString(m_info.id);
    for (const Contender& contender : m_services.line_up.candidates())
        if (contender.processor == id)
            menu->addAction(tr("Save the settings of %1").arg(markLetter(contender.mark)), this,
                            [this, settings = contender.settings(), state = contender.location.state] {
                                save(settings, state);
                            });
    if (menu->isEmpty())
        menu->addAction(tr("Save (add it to the line-up first)"))->setEnabled(false);
    menu->addAction(tr("Rename"), this, &PresetList::renameCurrent)->setEnabled(own);
    menu->addAction(tr("Remove"), this, &PresetList::removeCurrent)->setEnabled(own);
    menu->addSeparator();
    menu->addAction(tr("Write yours to a file"), this, [this] {
        askToSave(this, tr("Write the presets"), QString::fromStdString(m_info.name) + QStringLiteral(".json"),
                  tr("Presets (*.json);;LV2 bundle (*.lv2)"), [this](const QString& file) { exportTo(file); });
    });
    menu->addAction(tr("Read from a file"), this, [this] {
        askToOpen(this, tr("Read presets"), tr("Presets (*.json)"),
                  [this](const QString& file) { importFrom(file); });
    });
    menu->addAction(tr("Read from an LV2 bundle"), this, [this] {
        askForFolder(this, tr("Read presets from an LV2 bundle"),
                     [this](const QString& bundle) { importFrom(bundle); });
    });
    menu->popup(m_more->mapToGlobal(QPoint(0, m_more->height() + 2)));
}

void PresetList::save(const std::vector<processors::Setting>& settings, const std::string& state)
{
    askName(m_more, tr("name of the preset; “bank: name” puts it into a bank"), tr("My preset"),
            [this, id = QString::fromStdString(m_info.id), settings, state](const QString& name) {
                const auto colon = name.indexOf(QLatin1Char(':'));
                auto saved =
                    m_services.store.presets.save(id, colon < 0 ? name : name.mid(colon + 1),
                                                  colon < 0 ? QString() : name.left(colon), settings, state);
                say(saved ? Result<void>() : tl::make_unexpected(saved.error()),
                    tr("Saved as “%1”.").arg(name));
            });
}

void PresetList::renameCurrent()
{
    const Preset* preset = current();
    if (!preset || preset->from != Preset::From::User)
        return;
    askName(m_more, tr("name of the preset"), preset->name, [this, preset = *preset](const QString& name) {
        say(m_services.store.presets.rename(preset.row_id, name, preset.bank), {});
    });
}

void PresetList::removeCurrent()
{
    const Preset* preset = current();
    if (!preset || preset->from != Preset::From::User)
        return;
    const auto kept = std::make_shared<Preset>(*preset);
    const QString id = QString::fromStdString(m_info.id);
    const auto remove = [this, kept] { say(m_services.store.presets.remove(kept->row_id), {}); };
    const auto back = [this, kept, id] { say(m_services.store.presets.restore(id, *kept), {}); };
    m_services.undo.push(new Undoable(tr("remove the preset “%1”").arg(kept->name), remove, back));
}

void PresetList::exportTo(const QString& path)
{
    std::vector<Preset> own;
    std::ranges::copy_if(m_presets, std::back_inserter(own),
                         [](const Preset& p) { return p.from == Preset::From::User; });
    if (own.empty())
        return m_services.notices.say(tr("There is no preset of yours for %1 yet: save one first.")
                                          .arg(QString::fromStdString(m_info.name)));
    const auto write =
        path.endsWith(QStringLiteral(".json")) ? exchange::writePresets : exchange::writeLv2Presets;
    say(write(path.toStdString(), m_info, own), tr("%1 presets are written to %2.").arg(own.size()).arg(path));
}

void PresetList::importFrom(const QString& path)
{
    auto presets = exchange::readPresets(path.toStdString(), m_info);
    say(presets ? m_services.store.presets.insert(QString::fromStdString(m_info.id), *presets)
                : Result<void>(tl::make_unexpected(presets.error())),
        tr("%1 presets are read from %2.").arg(presets ? presets->size() : 0).arg(path));
}

void PresetList::say(const Result<void>& result, const QString& done)
{
    const QString text = result ? done : QString::fromStdString(result.error().text);
    if (!text.isEmpty())
        m_services.notices.say(text);
    reload();
}

} // namespace hr::app
