// SPDX-License-Identifier: GPL-3.0-or-later
#include "playbar/source_menu.h"

#include "signal/number_text.h"
#include "theme/theme.h"
#include "widgets/ask_file.h"
#include "widgets/name_popup.h"

#include <QMenu>
#include <array>

namespace hr::app {

namespace {

QString escaped(QString text)
{
    return text.replace(QLatin1Char('&'), QStringLiteral("&&"));
}

void openFiles(const SourceMenuServices& services, QWidget* at)
{
    askToOpenSeveral(at, QObject::tr("Listen through files"),
                     QObject::tr("Audio (*.wav *.flac *.aif *.aiff *.ogg *.opus *.mp3);;All files (*)"),
                     [notes = &services.notes](const QStringList& files) { notes->add(files); });
}

void openFolder(const SourceMenuServices& services, QWidget* at)
{
    askForFolder(at, QObject::tr("Listen through the files in a folder"),
                 [notes = &services.notes](const QString& folder) { notes->add({folder}); });
}

void typeSection(const SourceMenuServices& services, QWidget* at)
{
    const auto passage = services.transport.passage().value_or(Passage());
    askName(at, QObject::tr("section: “2.5 to 6”, “0:02 to 0:06” or “bar 3 to 5”"),
            QObject::tr("%1 to %2")
                .arg(passage.first_s, 0, 'f', 2)
                .arg(passage.first_s + passage.length_s, 0, 'f', 2),
            [notes = &services.notes](const QString& text) { notes->typeSection(text); });
}

void typeLevel(const SourceMenuServices& services, QWidget* at)
{
    askName(at, QObject::tr("level of the source before everything, in dB"),
            QString::number(services.transport.levelDb()),
            [transport = &services.transport, notices = &services.notices](QString text) {
                if (text.endsWith(QStringLiteral("dB"), Qt::CaseInsensitive))
                    text.chop(2);
                const auto level_db = signal::typedNumber(text.toStdString());
                if (!level_db || std::abs(*level_db) > Transport::most_level_db)
                    return notices->say(QObject::tr("“%1” is not a level: type −%2 to +%2 dB.")
                                            .arg(text)
                                            .arg(Transport::most_level_db));
                transport->setLevel(*level_db);
            });
}

void typeTempo(const SourceMenuServices& services, QWidget* at)
{
    const double bpm = services.tempo.bpm();
    askName(at, QObject::tr("tempo in beats a minute, 0 for none"), bpm > 0 ? QString::number(bpm) : QString(),
            [tempo = &services.tempo](const QString& text) { tempo->type(text); });
}

void addSources(const SourceMenuServices& services, QMenu* menu, bool generated)
{
    for (const SourceInfo& source : services.sources.all()) {
        if ((source.origin == SourceOrigin::Generated) != generated || !isSourceThere(source.file))
            continue;
        const QString words = source.role.isEmpty() || generated
                                  ? source.name
                                  : QObject::tr("%1 · %2").arg(source.name, source.role);
        QAction* one =
            menu->addAction(escaped(words), &services.transport,
                            [transport = &services.transport, file = source.file] { transport->load(file); });
        one->setCheckable(true);
        one->setChecked(source.file == services.transport.sourceFile());
    }
}

void addSections(const SourceMenuServices& services, QMenu* menu, QWidget* at)
{
    SourceNotes* notes = &services.notes;
    const auto sections = notes->sections();
    for (const NamedSection& one : sections)
        menu->addAction(
            escaped(QObject::tr("%1 · %2 to %3 s")
                        .arg(one.name, number(one.first_s, 2), number(one.first_s + one.length_s, 2))),
            notes, [notes, name = one.name] { notes->takeSection(name); });
    if (!sections.empty())
        menu->addSeparator();
    menu->addAction(services.actions.view(QStringLiteral("source.whole"), menu));
    menu->addAction(services.actions.view(QStringLiteral("section.type"), menu));
    menu->addAction(QObject::tr("Keep this section as …"), at, [at, notes] {
        askName(at, QObject::tr("keep this section as"), {},
                [notes](const QString& name) { notes->keepSection(name); });
    });
    QMenu* remove = menu->addMenu(QObject::tr("Remove a section"));
    remove->setEnabled(!sections.empty());
    for (const NamedSection& one : sections)
        remove->addAction(escaped(one.name), notes, [notes, name = one.name] { notes->removeSection(name); });
    menu->addSeparator();
    const std::array words{QObject::tr("Edges anywhere"), QObject::tr("Edges snap to transients"),
                           QObject::tr("Edges snap to bars")}; // in the order of Snapping
    for (std::size_t i = 0; i < words.size(); ++i) {
        QAction* one =
            menu->addAction(words[i], notes, [notes, i] { notes->setSnapping(static_cast<Snapping>(i)); });
        one->setCheckable(true);
        one->setChecked(notes->snapping() == static_cast<Snapping>(i));
        one->setEnabled(static_cast<Snapping>(i) != Snapping::Bars || services.tempo.bpm() > 0);
    }
}

/// The inputs there are, once the servers have answered.
void offerInputs(const SourceMenuServices& services, QWidget* at)
{
    OutsideInput* outside = &services.outside;
    Notices* notices = &services.notices;
    QObject::connect(
        outside, &OutsideInput::inputsFound, at,
        [outside, notices, at,
         transport = &services.transport](const std::vector<audition::DeviceChoice>& choices) {
            if (choices.empty())
                return notices->say(QObject::tr("Neither JACK nor PulseAudio nor ALSA offers an input: start a "
                                                "server, or connect a device, first."));
            QMenu* menu = menuFor(at);
            for (const audition::DeviceChoice& choice : choices)
                menu->addAction(escaped(QString::fromStdString(choice.system + ": " + choice.name)), outside,
                                [outside, transport, choice] { outside->watch(choice, transport->rateHz()); });
            menu->popup(at->mapToGlobal(QPoint(0, 0)) - QPoint(0, menu->sizeHint().height()));
        },
        Qt::SingleShotConnection);
    outside->findInputs();
}

void addOutsideActions(const SourceMenuServices& services, QWidget* at, const QString& group,
                       const std::function<QString()>& disabledReason)
{
    OutsideInput* outside = &services.outside;
    LivePlay* live = &services.live_play;
    const auto nothing_watched = [outside] { return outside->disabledReason(); };
    ActionList& actions = services.actions;
    actions.add(
        {QStringLiteral("outside.watch"), QObject::tr("watch an input, or another"), group, {}, [services, at] {
             offerInputs(services, at);
         }});
    actions.add({QStringLiteral("outside.take"), QObject::tr("take the last two minutes of the input"), group,
                 Qt::CTRL | Qt::Key_I, [outside] { outside->takeLast(); }, nothing_watched});
    actions.add({QStringLiteral("outside.record"), QObject::tr("record the input from now, or end that"), group,
                 Qt::CTRL | Qt::SHIFT | Qt::Key_I, [outside] { outside->record(); }, nothing_watched,
                 [outside] { return outside->isRecording(); }});
    actions.add({QStringLiteral("outside.live"), QObject::tr("play the input live, or go back to the source"),
                 group, Qt::SHIFT | Qt::Key_I, [live] { live->toggle(); },
                 [disabledReason, live] {
                     return disabledReason().isEmpty() ? live->disabledReason() : disabledReason();
                 },
                 [live] { return live->isOn(); }});
    actions.add({QStringLiteral("outside.stop"),
                 QObject::tr("watch the input no more"),
                 group,
                 {},
                 [outside] { outside->stop(); },
                 nothing_watched});
}

} // namespace

void addSourceActions(const SourceMenuServices& services, QWidget* at,
                      const std::function<QString()>& disabledReason)
{
    const QString group = QObject::tr("Hearing");
    const auto no_source = [transport = &services.transport] {
        return transport->source() ? QString()
                                   : QObject::tr("There is no source to play: open an audio file first.");
    };
    const auto neither = [disabledReason, no_source] {
        return disabledReason().isEmpty() ? no_source() : disabledReason();
    };
    ActionList& actions = services.actions;
    actions.add({QStringLiteral("source.whole"),
                 QObject::tr("repeat the whole source"),
                 group,
                 {},
                 [transport = &services.transport] { transport->setLoop(transport->source()->whole()); },
                 neither});
    actions.add({QStringLiteral("source.next"), QObject::tr("take the next source"), group, Qt::Key_S,
                 [notes = &services.notes] { notes->step(1); }, disabledReason});
    actions.add({QStringLiteral("source.previous"), QObject::tr("take the source before"), group,
                 Qt::SHIFT | Qt::Key_S, [notes = &services.notes] { notes->step(-1); }, disabledReason});
    actions.add({QStringLiteral("source.open"), QObject::tr("listen through files of your own"), group,
                 QKeySequence::Open, [services, at] { openFiles(services, at); }, disabledReason});
    actions.add({QStringLiteral("source.folder"),
                 QObject::tr("listen through the files in a folder"),
                 group,
                 {},
                 [services, at] { openFolder(services, at); },
                 disabledReason});
    addOutsideActions(services, at, group, disabledReason);
    actions.add({QStringLiteral("section.type"), QObject::tr("type the section that repeats"), group, Qt::Key_E,
                 [services, at] { typeSection(services, at); }, neither});
    actions.add({QStringLiteral("source.level"), QObject::tr("set the level of the source before everything"),
                 group, Qt::SHIFT | Qt::Key_L, [services, at] { typeLevel(services, at); }, neither});
    actions.add({QStringLiteral("tempo.tap"), QObject::tr("tap the tempo, four times or more"), group,
                 Qt::Key_T, [tempo = &services.tempo] { tempo->tap(); }, no_source});
    actions.add({QStringLiteral("tempo.type"), QObject::tr("type the tempo of the source"), group,
                 Qt::SHIFT | Qt::Key_T, [services, at] { typeTempo(services, at); }, no_source});
    actions.add({QStringLiteral("tempo.estimate"), QObject::tr("estimate the tempo from the sound"), group,
                 Qt::CTRL | Qt::Key_T, [tempo = &services.tempo] { tempo->estimate(); }, no_source});
}

void openSourceMenu(const SourceMenuServices& services, QWidget* at)
{
    QMenu* menu = menuFor(at);
    const auto view = [&](const char* action) {
        menu->addAction(services.actions.view(QLatin1String(action), menu));
    };
    addSources(services, menu, false);
    addSources(services, menu->addMenu(QObject::tr("Generated")), true);
    menu->addSeparator();
    view("source.open");
    view("source.folder");
    QMenu* outside = menu->addMenu(QObject::tr("From outside"));
    for (const char* action :
         {"outside.watch", "outside.take", "outside.record", "outside.live", "outside.stop"})
        outside->addAction(services.actions.view(QLatin1String(action), outside));
    const QString file = services.transport.sourceFile();
    const SourceInfo current = file.isEmpty() ? SourceInfo() : services.sources.of(file);
    if (!file.isEmpty() && current.origin == SourceOrigin::Own)
        menu->addAction(escaped(QObject::tr("Take “%1” off the list").arg(current.name)), &services.notes,
                        [notes = &services.notes, file] { notes->forget(file); });
    if (services.transport.source()) {
        menu->addSeparator();
        addSections(services, menu->addMenu(QObject::tr("Section")), at);
        menu->addAction(QObject::tr("What it is for …"), at, [at, notes = &services.notes, current] {
            askName(at, QObject::tr("what it is for: drum, voice, full mix …"), current.role,
                    [notes](const QString& role) { notes->setRole(role); });
        });
        view("source.level");
        view("tempo.type");
        view("tempo.estimate");
    }
    menu->popup(at->mapToGlobal(QPoint(0, 0)) - QPoint(0, menu->sizeHint().height()));
}

} // namespace hr::app
