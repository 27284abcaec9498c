// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/meter_panel.h"

#include "pages/live/live_pictures.h"
#include "theme/theme.h"
#include "widgets/basics.h"

#include <QGridLayout>
#include <QHBoxLayout>

namespace hr::app {

namespace {

constexpr int panel_height = 178;

QString text(const std::optional<double>& value, const char* unit)
{
    return value ? QObject::tr("%1 %2").arg(number(*value, 1), QString::fromLatin1(unit)) : QObject::tr("–");
}

} // namespace

MeterPanel::MeterPanel(LiveTap& tap, const LineUp& line_up, QWidget* parent)
    : LiveViewer(tap, parent), m_line_up(line_up)
{
    setFixedHeight(panel_height);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    auto* sheet = new Sheet;
    column->addWidget(sheet);
    auto* row = new QHBoxLayout(sheet);
    row->setContentsMargins(12, 6, 8, 4);
    row->setSpacing(12);
    auto* left = new QWidget;
    left->setFixedWidth(216);
    auto* grid = new QGridLayout(left);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setVerticalSpacing(1);
    m_whose = new ElidedLabel;
    setRole(m_whose, "strong");
    grid->addWidget(m_whose, 0, 0, 1, 2);
    const std::array<std::pair<QString, QString>, 8> names{
        {{tr("momentary"), tr("loudness of the last 400 ms, EBU Tech 3341")},
         {tr("short-term"), tr("loudness of the last 3 s, EBU Tech 3341")},
         {tr("integrated"), tr("gated loudness since it became audible, ITU-R BS.1770")},
         {tr("range"), tr("loudness range since it became audible, EBU Tech 3342")},
         {tr("true peak"), tr("the highest since it became audible, ITU-R BS.1770, annex 2")},
         {tr("peak"), tr("of the last 0.3 s")},
         {tr("RMS"), tr("of the last 0.3 s, AES17: a full-scale sine reads 0")},
         {tr("crest"), tr("peak over RMS of the last 0.3 s: 3.0 for a sine")}}};
    for (std::size_t i = 0; i < names.size(); ++i) {
        const int line = static_cast<int>(i) + 1;
        QLabel* name = label(names[i].first, "faint");
        name->setToolTip(names[i].second);
        grid->addWidget(name, line, 0);
        m_figures[i] = label({}, "small-figure");
        m_figures[i]->setAlignment(Qt::AlignRight);
        m_figures[i]->setAccessibleName(names[i].first);
        m_figures[i]->setToolTip(names[i].second);
        grid->addWidget(m_figures[i], line, 1);
    }
    row->addWidget(left);
    m_stereo = new StereoPicture;
    row->addWidget(m_stereo);
    m_spectrum = new SpectrumPicture;
    row->addWidget(m_spectrum, 1);
    m_gain = new GainPicture;
    row->addWidget(m_gain, 1);
}

void MeterPanel::refresh()
{
    const Contender* contender = m_line_up.find(tap().contender());
    const bool any = tap().hasAny() && contender;
    const int mark = any ? contender->mark : 0;
    m_whose->setWhole(any ? contender->calledHere() : tr("Nothing is audible"));
    const auto f = any ? tap().levels().read() : audition::LiveLevels::Figures{};
    const std::array<QString, 8> texts{text(f.momentary_lufs, "LUFS"),  text(f.short_term_lufs, "LUFS"),
                                       text(f.integrated_lufs, "LUFS"), text(f.range_lu, "LU"),
                                       text(f.true_peak_dbtp, "dBTP"),  text(f.peak_dbfs, "dBFS"),
                                       text(f.rms_dbfs, "dBFS"),        text(f.crest_db, "dB")};
    for (std::size_t i = 0; i < texts.size(); ++i)
        m_figures[i]->setText(texts[i]);
    m_stereo->show(any ? &tap().levels() : nullptr, mark);
    m_spectrum->show(any ? &tap().inSpectrum() : nullptr, any ? &tap().outSpectrum() : nullptr, mark);
    m_gain->show(any ? &tap().gain() : nullptr, mark);
}

} // namespace hr::app
