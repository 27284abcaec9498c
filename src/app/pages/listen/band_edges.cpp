// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/band_edges.h"

#include "widgets/basics.h"
#include "widgets/parameter_row.h"

#include <QHBoxLayout>

namespace hr::app {

namespace {

processors::ParameterInfo edge(const QString& name, double default_hz)
{
    processors::ParameterInfo info;
    info.key = "edge_hz";
    info.name = name.toStdString();
    info.unit = "Hz";
    info.minimum = 20;
    info.maximum = 20000;
    info.default_value = default_hz;
    info.scale = processors::Scale::Logarithmic;
    return info;
}

} // namespace

BandEdges::BandEdges(const ListenServices& services, QWidget* parent) : QWidget(parent), m_services(services)
{
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(label(tr("the band"), "faint"));
    m_low = new ParameterRow(edge(tr("from"), audition::Band().low_hz));
    m_high = new ParameterRow(edge(tr("to"), audition::Band().high_hz));
    connect(m_low, &ParameterRow::changed, this, [this](double hz) { setBand(&audition::Band::low_hz, hz); });
    connect(m_high, &ParameterRow::changed, this, [this](double hz) { setBand(&audition::Band::high_hz, hz); });
    for (ParameterRow* one : {m_low, m_high}) {
        one->setFixedWidth(240);
        row->addWidget(one);
        connect(one, &ParameterRow::refused, &m_services.notices, &Notices::say);
    }
    row->addStretch();
    connect(&m_services.line_up, &LineUp::ruleChanged, this, &BandEdges::showRule);
    connect(&m_services.transport, &Transport::monitorChanged, this, &BandEdges::showRule);
    showRule();
}

/// The edges stay in their order: what is moved past the other takes it along.
void BandEdges::setBand(double audition::Band::*moved, double hz)
{
    audition::MatchRule rule = m_services.line_up.rule();
    rule.band.*moved = hz;
    if (rule.band.low_hz > rule.band.high_hz)
        rule.band.low_hz = rule.band.high_hz = hz;
    m_services.edits.setRule(rule);
    showRule();
}

void BandEdges::showRule()
{
    const audition::MatchRule& rule = m_services.line_up.rule();
    m_low->setValue(rule.band.low_hz);
    m_high->setValue(rule.band.high_hz);
    setVisible(rule.basis == audition::Basis::Band || m_services.transport.monitor().band);
}

} // namespace hr::app
