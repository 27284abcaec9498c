// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/listening_row.h"

#include "widgets/ask_file.h"
#include "widgets/basics.h"
#include "widgets/segments.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QMenu>
#include <algorithm>
#include <array>
#include <functional>
#include <optional>

namespace hr::app {

using audition::Listened;
using audition::Monitor;

namespace {

using Unit = Alternation::Unit;

constexpr std::array<Alternation::Every, 7> ways_to_switch{{{},
                                                            {2, Unit::Seconds},
                                                            {4, Unit::Seconds},
                                                            {8, Unit::Seconds},
                                                            {1, Unit::Bars},
                                                            {2, Unit::Bars},
                                                            {4, Unit::Bars}}};

constexpr std::array mono_below_hz{60.0, 80.0, 100.0, 120.0, 150.0, 200.0, 300.0};

QString words(const Alternation::Every& every)
{
    if (every.count <= 0)
        return QObject::tr("by hand");
    if (every.unit == Unit::Seconds)
        return QObject::tr("every %1 s").arg(every.count);
    return every.count == 1 ? QObject::tr("with every bar") : QObject::tr("every %1 bars").arg(every.count);
}

void change(Transport& transport, const std::function<void(Monitor&)>& how)
{
    Monitor monitor = transport.monitor();
    how(monitor);
    transport.setMonitor(monitor);
}

} // namespace

ListeningRow::ListeningRow(const ListenServices& services, QWidget* parent)
    : QWidget(parent), m_services(services)
{
    addActions();
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 8, 0);
    row->addWidget(label(tr("listen to"), "faint"));
    m_listened = new Segments(tr("which channels are listened to"), // in the order of Listened
                              {tr("Stereo"), tr("Mono"), tr("Left"), tr("Right"), tr("Side")});
    m_listened->setSizePolicy(QSizePolicy::Maximum, QSizePolicy::Fixed);
    row->addWidget(m_listened);
    m_quieter = toggle(tr("20 dB quieter"), m_services.actions.tip(QStringLiteral("listened.quieter")));
    row->addWidget(m_quieter);
    m_difference = toggle(tr("Difference"), m_services.actions.tip(QStringLiteral("listened.difference")));
    row->addWidget(m_difference);
    m_band = toggle(tr("One band"), m_services.actions.tip(QStringLiteral("listened.band")));
    row->addWidget(m_band);
    connect(m_band, &QPushButton::clicked, this, [this] {
        m_services.actions.run(QStringLiteral("listened.band"));
        refresh();
    });
    connect(&m_services.line_up, &LineUp::ruleChanged, this, [this] {
        if (m_services.transport.monitor().band)
            change(m_services.transport,
                   [this](Monitor& monitor) { monitor.band = m_services.line_up.rule().band; });
    });
    row->addSpacing(12);
    row->addWidget(label(tr("switch"), "faint"));
    m_alternation = new QComboBox;
    m_alternation->setAccessibleName(tr("switch by itself"));
    row->addWidget(m_alternation);
    auto* more = new Button(tr("More ⋯"));
    more->setAccessibleName(tr("more ways to listen"));
    more->setToolTip(tr("wet part alone, key signal, mono below a frequency, polarity, begin again at each "
                        "switch, switch in time with the bar"));
    connect(more, &QPushButton::clicked, this, [this, more] { openMore(more); });
    row->addWidget(more);
    row->addStretch();
    m_meters = toggle(tr("Meters"), m_services.actions.tip(QStringLiteral("meters")));
    connect(m_meters, &QPushButton::clicked, this,
            [this] { m_services.actions.run(QStringLiteral("meters")); });
    row->addWidget(m_meters);
    Alternation* alternation = &m_services.alternation;
    connect(m_alternation, &QComboBox::activated, alternation,
            [alternation](int choice) { alternation->set(ways_to_switch[static_cast<std::size_t>(choice)]); });
    connect(alternation, &Alternation::changed, this, &ListeningRow::fillAlternation);
    connect(&m_services.transport, &Transport::sourceChanged, this, &ListeningRow::fillAlternation);
    connect(&m_services.tempo, &SourceTempo::changed, this, &ListeningRow::fillAlternation);
    fillAlternation();
    Transport* transport = &m_services.transport;
    connect(m_listened, &Segments::chosen, transport, [transport](int choice) {
        change(*transport, [choice](Monitor& monitor) { monitor.listened = static_cast<Listened>(choice); });
    });
    connect(m_quieter, &QPushButton::clicked, transport,
            [transport](bool on) { change(*transport, [on](Monitor& monitor) { monitor.quieter = on; }); });
    connect(m_difference, &QPushButton::clicked, this, [this] {
        m_services.actions.run(QStringLiteral("listened.difference"));
        refresh(); // also where it cannot be
    });
    connect(&m_services.trials, &BlindTrials::changed, this, [this, transport] {
        if (m_services.trials.isRunning())
            transport->hearDifference(false);
    });
    connect(transport, &Transport::monitorChanged, this, &ListeningRow::refresh);
    refresh();
}

void ListeningRow::showMeters(bool on)
{
    m_meters->setChecked(on);
}

void ListeningRow::addActions()
{
    Transport* transport = &m_services.transport;
    const QString group = tr("Hearing");
    m_services.actions.add({QStringLiteral("listened.mono"),
                            tr("listen in mono, or stereo again"),
                            group,
                            Qt::Key_M,
                            [transport] {
                                change(*transport, [](Monitor& monitor) {
                                    monitor.listened =
                                        monitor.listened == Listened::Mono ? Listened::Stereo : Listened::Mono;
                                });
                            },
                            {},
                            [transport] { return transport->monitor().listened == Listened::Mono; }});
    m_services.actions.add(
        {QStringLiteral("listened.quieter"),
         tr("listen 20 dB quieter, or as before"),
         group,
         Qt::Key_Q,
         [transport] { change(*transport, [](Monitor& monitor) { monitor.quieter = !monitor.quieter; }); },
         {},
         [transport] { return transport->monitor().quieter; }});
    m_services.actions.add({QStringLiteral("listened.band"),
                            tr("hear one band alone, or all of it"),
                            group,
                            Qt::Key_N,
                            [this, transport] {
                                change(*transport, [this](Monitor& monitor) {
                                    monitor.band = monitor.band ? std::nullopt
                                                                : std::optional(m_services.line_up.rule().band);
                                });
                            },
                            {},
                            [transport] { return transport->monitor().band.has_value(); }});
    m_services.actions.add({QStringLiteral("listened.wet"), tr("hear the wet part alone, or all of it"), group,
                            Qt::SHIFT | Qt::Key_D, [this] { hearPart(LineUp::Part::Wet); },
                            [this] { return m_services.trials.disturbed(); },
                            [this] { return m_services.line_up.part() == LineUp::Part::Wet; }});
    m_services.actions.add({QStringLiteral("listened.key"), tr("hear the key signal, or the whole"), group,
                            Qt::Key_Y, [this] { hearPart(LineUp::Part::Key); },
                            [this] { return m_services.trials.disturbed(); },
                            [this] { return m_services.line_up.part() == LineUp::Part::Key; }});
    m_services.actions.add(
        {QStringLiteral("listened.polarity"),
         tr("invert the polarity, or as before"),
         group,
         Qt::Key_I,
         [transport] { change(*transport, [](Monitor& monitor) { monitor.inverted = !monitor.inverted; }); },
         {},
         [transport] { return transport->monitor().inverted; }});
    m_services.actions.add({QStringLiteral("listened.restart"),
                            tr("begin the section again at each switch, or go on"),
                            group,
                            Qt::SHIFT | Qt::Key_Home,
                            [transport] { transport->setRestarting(!transport->isRestarting()); },
                            {},
                            [transport] { return transport->isRestarting(); }});
    Alternation* alternation = &m_services.alternation;
    m_services.actions.add(
        {QStringLiteral("listened.in-time"), tr("switch in time with the bar, or at once"), group,
         Qt::SHIFT | Qt::Key_B, [alternation] { alternation->setInTime(!alternation->isInTime()); },
         [alternation] {
             return alternation->hasBars() || alternation->isInTime()
                        ? QString()
                        : tr("The source has no tempo: tap it with T, or type it with Shift+T.");
         },
         [alternation] { return alternation->isInTime(); }});
    m_services.actions.add({QStringLiteral("listened.difference"), tr("hear the difference from the reference"),
                            group, Qt::Key_D,
                            [transport] { transport->hearDifference(!transport->hearsDifference()); },
                            [this] { return m_services.trials.disturbed(); },
                            [transport] { return transport->hearsDifference(); }});
}

/// This, or the whole again where it is heard already.
void ListeningRow::hearPart(LineUp::Part part)
{
    LineUp& line_up = m_services.line_up;
    line_up.setPart(line_up.part() == part ? LineUp::Part::Whole : part);
}

void ListeningRow::openMore(QWidget* at)
{
    QMenu* menu = menuFor(at);
    for (const char* action :
         {"listened.wet", "listened.key", "listened.polarity", "listened.restart", "listened.in-time"})
        menu->addAction(m_services.actions.view(QLatin1String(action), menu));
    QMenu* mono = menu->addMenu(tr("Mono below"));
    Transport* transport = &m_services.transport;
    const auto add = [&](const QString& words, std::optional<double> below_hz) {
        QAction* one = mono->addAction(words, transport, [transport, below_hz] {
            change(*transport, [below_hz](Monitor& monitor) { monitor.mono_below_hz = below_hz; });
        });
        one->setCheckable(true);
        one->setChecked(transport->monitor().mono_below_hz == below_hz);
    };
    add(tr("nowhere"), std::nullopt);
    for (const double below_hz : mono_below_hz)
        add(tr("%1 Hz").arg(below_hz), below_hz);
    menu->popup(at->mapToGlobal(QPoint(0, at->height())));
}

/// Bars only where the source has any.
void ListeningRow::fillAlternation()
{
    m_alternation->clear();
    for (const auto& choice : ways_to_switch)
        if (choice.unit == Unit::Seconds || m_services.alternation.hasBars())
            m_alternation->addItem(words(choice));
    const auto current = std::ranges::find(ways_to_switch, m_services.alternation.every());
    m_alternation->setCurrentIndex(
        current == ways_to_switch.end() ? -1 : static_cast<int>(current - ways_to_switch.begin()));
}

void ListeningRow::refresh()
{
    m_listened->setCurrent(static_cast<int>(m_services.transport.monitor().listened));
    m_band->setChecked(m_services.transport.monitor().band.has_value());
    m_difference->setChecked(m_services.transport.hearsDifference());
    m_quieter->setChecked(m_services.transport.monitor().quieter);
}

} // namespace hr::app
