// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/measure/live_view.h"

#include "pages/live/live_overviews.h"
#include "pages/live/live_pictures.h"
#include "theme/theme.h"
#include "widgets/basics.h"

#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <array>

namespace hr::app {

namespace {

constexpr std::array averagings_s{0.1, 0.3, 1.0, 3.0};

QWidget* onSheet(QWidget* picture)
{
    auto* sheet = new Sheet;
    auto* inside = new QHBoxLayout(sheet);
    inside->setContentsMargins(10, 4, 8, 4);
    inside->addWidget(picture);
    return sheet;
}

} // namespace

LiveView::LiveView(LiveTap& tap, const LineUp& line_up, QWidget* parent)
    : LiveViewer(tap, parent), m_line_up(line_up)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(10);
    auto* top = new QHBoxLayout;
    m_whose = new ElidedLabel;
    setRole(m_whose, "strong");
    top->addWidget(m_whose, 1);
    m_pitch = label({}, "figure");
    m_pitch->setAccessibleName(tr("fundamental of what comes out"));
    m_pitch->setToolTip(tr("McLeod and Wyvill, 2005; equal temperament, A4 = 440 Hz"));
    top->addWidget(m_pitch);
    top->addSpacing(12);
    top->addWidget(label(tr("averaged over"), "faint"));
    m_averaging = new QComboBox;
    m_averaging->setAccessibleName(tr("averaging of spectra"));
    for (const double seconds : averagings_s)
        m_averaging->addItem(tr("%1 s").arg(number(seconds, 1)), seconds);
    m_averaging->setCurrentIndex(m_averaging->findData(tap.averagingS()));
    connect(m_averaging, &QComboBox::activated, this,
            [this] { this->tap().setAveraging(m_averaging->currentData().toDouble()); });
    top->addWidget(m_averaging);
    auto* forget = new Button(tr("Forget the peaks"));
    forget->setToolTip(tr("the thin line of the highest so far begins again"));
    connect(forget, &QPushButton::clicked, this, [this] { this->tap().forgetPeaks(); });
    top->addWidget(forget);
    column->addLayout(top);
    auto* grid = new QGridLayout;
    grid->setSpacing(10);
    m_spectrum = new SpectrumPicture;
    m_stereo = new StereoPicture;
    m_difference = new DifferencePicture;
    m_spectrogram = new SpectrogramPicture;
    m_wave = new WavePicture;
    m_levels = new LevelDotsPicture;
    m_loudness = new LoudnessPicture;
    grid->addWidget(onSheet(m_spectrum), 0, 0, 1, 4);
    grid->addWidget(onSheet(m_stereo), 0, 4, 1, 2);
    grid->addWidget(onSheet(m_difference), 1, 0, 1, 3);
    grid->addWidget(onSheet(m_spectrogram), 1, 3, 1, 3);
    grid->addWidget(onSheet(m_wave), 2, 0, 1, 2);
    grid->addWidget(onSheet(m_levels), 2, 2, 1, 2);
    grid->addWidget(onSheet(m_loudness), 2, 4, 1, 2);
    for (int i = 0; i < 6; ++i)
        grid->setColumnStretch(i, 1);
    for (int i = 0; i < 3; ++i)
        grid->setRowStretch(i, 1);
    column->addLayout(grid, 1);
}

QString LiveView::pitchText() const
{
    const auto pitch = tap().hasAny() ? tap().pitch() : std::nullopt;
    const auto note = pitch ? audition::noteOf(pitch->hz) : std::nullopt;
    return note ? tr("%1 Hz · %2 %3 cent")
                      .arg(number(pitch->hz, 1), QString::fromStdString(note->name),
                           signedNumber(note->cents, 0))
                : tr("no pitch");
}

void LiveView::refresh()
{
    const Contender* contender = m_line_up.find(tap().contender());
    const bool any = tap().hasAny() && contender;
    const int mark = any ? contender->mark : 0;
    m_whose->setWhole(any ? contender->calledHere() : tr("Nothing is audible: space plays, 1 to 8 choose."));
    m_pitch->setText(any ? pitchText() : QString());
    m_spectrum->show(any ? &tap().inSpectrum() : nullptr, any ? &tap().outSpectrum() : nullptr, mark);
    m_stereo->show(any ? &tap().levels() : nullptr, mark);
    m_difference->show(any ? &tap().inSpectrum() : nullptr, any ? &tap().outSpectrum() : nullptr, mark);
    m_spectrogram->show(any ? &tap().history() : nullptr);
    m_wave->show(any ? &tap().wave() : nullptr, mark);
    m_levels->show(any ? &tap().gain() : nullptr, mark);
    m_loudness->show(any ? &tap().history() : nullptr, mark);
}

} // namespace hr::app
