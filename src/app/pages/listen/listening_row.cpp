// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/listening_row.h"

#include "widgets/basics.h"
#include "widgets/segments.h"

#include <QHBoxLayout>

namespace hr::app {

using audition::Listened;
using audition::Monitor;

ListeningRow::ListeningRow(const ListenServices& services, QWidget* parent)
    : QWidget(parent), m_services(services)
{
    addActions();
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(label(tr("listen to"), "faint"));
    m_listened = new Segments(tr("which channels are listened to"), // in the order of Listened
                              {tr("Stereo"), tr("Mono"), tr("Left"), tr("Right"), tr("Side")});
    row->addWidget(m_listened);
    m_quieter = toggle(tr("20 dB quieter"), m_services.actions.tip(QStringLiteral("listened.quieter")));
    row->addWidget(m_quieter);
    row->addStretch();
    Transport* transport = &m_services.transport;
    connect(m_listened, &Segments::chosen, transport, [transport](int choice) {
        transport->setMonitor({static_cast<Listened>(choice), transport->monitor().quieter});
    });
    connect(m_quieter, &QPushButton::clicked, transport, [transport](bool on) {
        transport->setMonitor({transport->monitor().listened, on});
    });
    connect(transport, &Transport::monitorChanged, this, &ListeningRow::refresh);
    refresh();
}

void ListeningRow::addActions()
{
    Transport* transport = &m_services.transport;
    const QString group = tr("Hearing");
    m_services.actions.add(
        {QStringLiteral("listened.mono"),
         tr("listen in mono, or stereo again"),
         group,
         Qt::Key_M,
         [transport] {
             const bool mono = transport->monitor().listened == Listened::Mono;
             transport->setMonitor({mono ? Listened::Stereo : Listened::Mono, transport->monitor().quieter});
         },
         {},
         [transport] { return transport->monitor().listened == Listened::Mono; }});
    m_services.actions.add(
        {QStringLiteral("listened.quieter"),
         tr("listen 20 dB quieter, or as before"),
         group,
         Qt::Key_Q,
         [transport] {
             transport->setMonitor({transport->monitor().listened, !transport->monitor().quieter});
         },
         {},
         [transport] { return transport->monitor().quieter; }});
}

void ListeningRow::refresh()
{
    m_listened->setCurrent(static_cast<int>(m_services.transport.monitor().listened));
    m_quieter->setChecked(m_services.transport.monitor().quieter);
}

} // namespace hr::app
