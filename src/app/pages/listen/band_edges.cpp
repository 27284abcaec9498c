// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/band_edges.h"

#include "pages/live/live_pictures.h"
#include "widgets/parameter_row.h"

#include <QHBoxLayout>

namespace hr::app {

namespace {

constexpr int spectrum_height = 104;

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

BandEdges::BandEdges(const ListenServices& services, QWidget* parent)
    : LiveViewer(services.live, parent), m_services(services)
{
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 8, 0);
    row->setSpacing(16);
    m_typed = new QVBoxLayout;
    m_typed->setSpacing(4);
    m_low = new ParameterRow(edge(tr("band from"), audition::Band().low_hz));
    m_high = new ParameterRow(edge(tr("band to"), audition::Band().high_hz));
    connect(m_low, &ParameterRow::changed, this, [this](double hz) { setBand(&audition::Band::low_hz, hz); });
    connect(m_high, &ParameterRow::changed, this, [this](double hz) { setBand(&audition::Band::high_hz, hz); });
    for (ParameterRow* one : {m_low, m_high}) {
        one->setFixedWidth(190);
        m_typed->addWidget(one);
        connect(one, &ParameterRow::refused, &m_services.notices, &Notices::say);
    }
    row->addLayout(m_typed);
    m_spectrum = new SpectrumPicture;
    m_spectrum->setFixedHeight(spectrum_height);
    m_spectrum->setToolTip(tr("Drag the edges of the band."));
    row->addWidget(m_spectrum, 1);
    row->addStretch();
    connect(&m_services.line_up, &LineUp::ruleChanged, this, &BandEdges::showRule);
    connect(&m_services.transport, &Transport::monitorChanged, this, &BandEdges::showRule);
    alsoOn(*m_spectrum);
}

void BandEdges::alsoOn(SpectrumPicture& picture)
{
    m_spectra.push_back(&picture);
    connect(&picture, &SpectrumPicture::edgeDragged, this, [this](bool upper, double hz) {
        setBand(upper ? &audition::Band::high_hz : &audition::Band::low_hz, hz);
    });
    showRule();
}

void BandEdges::showSpectrum(bool on)
{
    m_spectrum->setVisible(on);
    m_typed->setDirection(on ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight);
}

void BandEdges::refresh()
{
    if (m_spectrum->isHidden())
        return;
    const Contender* contender = m_services.line_up.find(tap().contender());
    const bool any = tap().hasAny() && contender;
    m_spectrum->show(any ? &tap().inSpectrum() : nullptr, any ? &tap().outSpectrum() : nullptr,
                     any ? contender->mark : 0);
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
    const bool is_used = rule.basis == audition::Basis::Band || m_services.transport.monitor().band;
    for (SpectrumPicture* spectrum : m_spectra)
        spectrum->setBand(is_used ? std::optional(SpectrumPicture::Band{rule.band.low_hz, rule.band.high_hz})
                                  : std::nullopt);
    setVisible(is_used);
}

} // namespace hr::app
