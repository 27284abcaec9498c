// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/candidate_actions.h"

#include "pages/listen/listen_services.h"
#include "widgets/ask_file.h"
#include "widgets/name_popup.h"

#include <QMenu>
#include <QPointer>

namespace hr::app {

namespace {

using Do = std::function<void(SettingsSteps&, ContenderId)>;

/// Something that is done to whole settings.
struct Step {
    QString id;
    QString words; ///< as it would follow "to"
    QString entry; ///< in a menu
    QKeySequence key;
    Do take;
};

std::vector<Step> steps()
{
    const auto tr = [](const char* text) { return QObject::tr(text); };
    return {{QStringLiteral("preset.next"), tr("take the next preset"), tr("Next preset"), Qt::Key_Period,
             [](SettingsSteps& s, ContenderId id) { s.stepPreset(id, 1); }},
            {QStringLiteral("preset.previous"), tr("take the preset before"), tr("Preset before"),
             Qt::Key_Comma, [](SettingsSteps& s, ContenderId id) { s.stepPreset(id, -1); }},
            {QStringLiteral("settings.defaults"), tr("set what is audible to its defaults"), tr("Defaults"),
             Qt::CTRL | Qt::Key_Backspace, [](SettingsSteps& s, ContenderId id) { s.takeDefaults(id); }},
            {QStringLiteral("settings.random"), tr("set what is audible at random, but for what is held"),
             tr("Random settings"), Qt::CTRL | Qt::SHIFT | Qt::Key_R,
             [](SettingsSteps& s, ContenderId id) { s.takeRandom(id); }},
            {QStringLiteral("settings.copy"), tr("copy the settings of what is audible"), tr("Copy settings"),
             Qt::CTRL | Qt::SHIFT | Qt::Key_C, [](SettingsSteps& s, ContenderId id) { s.copy(id); }}};
}

constexpr std::size_t snapshot_count = std::tuple_size_v<decltype(Contender::snapshots)>;

void addSnapshotActions(const ListenServices& services, const std::function<QString()>& no_candidate)
{
    LineUp* line_up = &services.line_up;
    SettingsSteps* settings = &services.settings;
    const QString group = QObject::tr("Settings");
    for (std::size_t i = 0; i < snapshot_count; ++i) {
        const auto key = static_cast<Qt::Key>(Qt::Key_F5 + static_cast<int>(i));
        services.actions.add({QStringLiteral("snapshot.%1").arg(i + 1),
                              QObject::tr("recall snapshot %1 of what is audible").arg(i + 1), group, key,
                              [=] { settings->takeSnapshot(line_up->wanted(), i); }, no_candidate});
        services.actions.add({QStringLiteral("snapshot.store.%1").arg(i + 1),
                              QObject::tr("store what is audible as snapshot %1").arg(i + 1), group,
                              Qt::SHIFT | key, [=] { settings->storeSnapshot(line_up->wanted(), i); },
                              no_candidate});
    }
}

} // namespace

void addCandidateActions(const ListenServices& services)
{
    LineUp* line_up = &services.line_up;
    LineUpEdits* edits = &services.edits;
    SettingsSteps* settings = &services.settings;
    const BlindTrials* trials = &services.trials;
    const auto no_candidate = [line_up, trials] {
        const Contender* wanted = line_up->find(line_up->wanted());
        return trials->isRunning() ? trials->disturbed()
               : !wanted || wanted->isUntreated()
                   ? QObject::tr("The source has no settings: hear a candidate first.")
                   : QString();
    };
    const QString group = QObject::tr("Settings");
    for (const Step& step : steps())
        services.actions.add({step.id, step.words, group, step.key,
                              [=, take = step.take] { take(*settings, line_up->wanted()); }, no_candidate});
    services.actions.add({QStringLiteral("settings.paste"),
                          QObject::tr("paste the copied settings into what is audible"), group,
                          Qt::CTRL | Qt::SHIFT | Qt::Key_V, [=] { settings->paste(line_up->wanted()); },
                          [=] { return settings->pasteDisabledReason(line_up->wanted()); }});
    addSnapshotActions(services, no_candidate);
    // What is on or off of whoever is wanted.
    const auto addTurn = [&](const char* id, const QString& words, const QString& of_group,
                             const QKeySequence& key, bool Contender::*is_on,
                             const std::function<void(ContenderId, bool)>& set) {
        services.actions.add({QLatin1String(id), words, of_group, key,
                              [=] {
                                  const Contender* wanted = line_up->find(line_up->wanted());
                                  set(line_up->wanted(), !(wanted->*is_on));
                              },
                              no_candidate,
                              [=] {
                                  const Contender* wanted = line_up->find(line_up->wanted());
                                  return wanted && wanted->*is_on;
                              }});
    };
    addTurn("parameters.all",
            QObject::tr("see all parameters of what is audible, or those that are seen first"), group,
            Qt::Key_P, &Contender::all_seen, [line_up](ContenderId id, bool on) { line_up->seeAll(id, on); });
    addTurn("settings.follow-tempo",
            QObject::tr("let note values of what is audible follow the tempo, or stand"), group,
            Qt::ALT | Qt::Key_T, &Contender::follows_tempo,
            [edits](ContenderId id, bool on) { edits->setFollowsTempo(id, on); });
    const QString hearing = QObject::tr("Hearing");
    addTurn("candidate.on", QObject::tr("switch what is audible on or off"), hearing, Qt::Key_O, &Contender::on,
            [edits](ContenderId id, bool on) { edits->setOn(id, on); });
    services.actions.add({QStringLiteral("line-up.duplicate"),
                          QObject::tr("put what is audible into the line-up once more"), hearing,
                          Qt::CTRL | Qt::SHIFT | Qt::Key_D, [=] { edits->duplicate(line_up->wanted()); },
                          no_candidate});
    services.actions.add({QStringLiteral("line-up.up"), QObject::tr("move what is audible up"), hearing,
                          Qt::ALT | Qt::Key_Up, [=] { edits->move(line_up->wanted(), -1); }, no_candidate});
    services.actions.add({QStringLiteral("line-up.down"), QObject::tr("move what is audible down"), hearing,
                          Qt::ALT | Qt::Key_Down, [=] { edits->move(line_up->wanted(), 1); }, no_candidate});
}

void openCandidateMenu(const ListenServices& services, ContenderId id, QWidget* at)
{
    const Contender* contender = services.line_up.find(id);
    if (!contender)
        return;
    SettingsSteps* settings = &services.settings;
    LineUpEdits* edits = &services.edits;
    const LineUp* line_up = &services.line_up;
    QMenu* menu = menuFor(at);
    const auto add = [&](QMenu* to, const QString& text, std::function<void()> what) {
        return to->addAction(text, settings, std::move(what));
    };
    add(menu, QObject::tr("Call it …"), [=, at = QPointer<QWidget>(at)] {
        if (const Contender* named = line_up->find(id); named && at)
            askName(at, QObject::tr("what it is called here, for instance what it is for"), named->calledHere(),
                    [=](const QString& name) { edits->setName(id, name); });
    });
    add(menu, QObject::tr("Make it the reference"), [=] { edits->makeReference(id); });
    add(menu, QObject::tr("Duplicate"), [=] { edits->duplicate(id); });
    add(menu, QObject::tr("Move up"), [=] { edits->move(id, -1); });
    add(menu, QObject::tr("Move down"), [=] { edits->move(id, 1); });
    menu->addSeparator();
    QAction* follows = add(menu, QObject::tr("Note values follow the tempo"), [=] {
        edits->setFollowsTempo(id, !line_up->find(id) || !line_up->find(id)->follows_tempo);
    });
    follows->setCheckable(true);
    follows->setChecked(contender->follows_tempo);
    for (const Step& step : steps())
        add(menu, step.entry, [=, take = step.take] { take(*settings, id); })->setEnabled(contender->isOpen());
    add(menu, QObject::tr("Paste settings"), [=] {
        settings->paste(id);
    })->setEnabled(settings->pasteDisabledReason(id).isEmpty());
    QMenu* store = menu->addMenu(QObject::tr("Store a snapshot"));
    QMenu* take = menu->addMenu(QObject::tr("Recall a snapshot"));
    for (std::size_t i = 0; i < snapshot_count; ++i) {
        add(store, QObject::tr("Snapshot %1").arg(i + 1), [=] { settings->storeSnapshot(id, i); });
        add(take, QObject::tr("Snapshot %1").arg(i + 1), [=] {
            settings->takeSnapshot(id, i);
        })->setEnabled(contender->snapshots[i].has_value());
    }
    menu->popup(at->mapToGlobal(QPoint(0, at->height())));
}

} // namespace hr::app
