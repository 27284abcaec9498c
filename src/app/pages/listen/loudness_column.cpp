// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/loudness_column.h"

#include "theme/theme.h"
#include "widgets/basics.h"
#include "widgets/parameter_row.h"

#include <QVBoxLayout>
#include <cmath>

namespace hr::app {

namespace {

processors::ParameterInfo gainParameter()
{
    processors::ParameterInfo gain;
    gain.key = "gain_db";
    gain.name = QObject::tr("matched by").toStdString();
    gain.unit = "dB";
    gain.minimum = -30;
    gain.maximum = 12;
    gain.comment =
        QObject::tr("Type or drag a gain of your own; a double click matches it again.").toStdString();
    return gain;
}

QString basisText(audition::Basis basis)
{
    switch (basis) {
    case audition::Basis::Loudness:
        break;
    case audition::Basis::Band:
        return QObject::tr("matched in one band");
    case audition::Basis::Rms:
        return QObject::tr("matched by RMS");
    case audition::Basis::Peak:
        return QObject::tr("matched by peak");
    case audition::Basis::None:
        return QObject::tr("not matched");
    }
    return {};
}

QString switchedInText(double lu)
{
    if (std::abs(lu) < 0.05)
        return QObject::tr("switched in, as loud");
    return lu > 0 ? QObject::tr("switched in, it gains %1 LU").arg(number(lu, 1))
                  : QObject::tr("switched in, it loses %1 LU").arg(number(-lu, 1));
}

} // namespace

LoudnessColumn::LoudnessColumn(const ListenServices& services, const Contender& contender, QWidget* parent)
    : QWidget(parent), m_services(services), m_id(contender.id)
{
    setFixedWidth(190);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(3);
    m_before = label({}, "figure");
    m_switched_in = label({}, "faint");
    m_switched_in->setToolTip(
        tr("How much louder or softer than the reference it is before anything is matched: "
           "what flatters it where nothing is."));
    m_gain = new ParameterRow(gainParameter());
    m_state = label({}, "faint");
    m_state->setWordWrap(true);
    m_difference = label({}, "faint");
    m_difference->setToolTip(tr("Level of what is left when the reference is taken away, both as loud as they "
                                "are heard and lined up in time."));
    for (QWidget* one : std::initializer_list<QWidget*>{m_before, m_switched_in, m_gain, m_state, m_difference})
        column->addWidget(one);
    for (QLabel* text : {m_before, m_switched_in, m_state, m_difference})
        text->setAlignment(Qt::AlignRight | Qt::AlignTop);
    column->addStretch();
    connect(m_gain, &ParameterRow::changed, this, &LoudnessColumn::setByHand);
    connect(m_gain, &ParameterRow::refused, &m_services.notices, &Notices::say);
}

void LoudnessColumn::setByHand(double gain_db)
{
    m_services.edits.setByHand(m_id, gain_db);
    if (const Contender* contender = m_services.line_up.find(m_id))
        show(*contender); // also where it was not to be changed
}

QString LoudnessColumn::matchText(const Contender& contender) const
{
    switch (contender.match) {
    case MatchState::Waiting:
        if (const auto loading_s = m_services.line_up.loadingS(contender.id))
            return tr("loading, %1 s").arg(*loading_s);
        return contender.opening               ? tr("opening …")
               : m_services.transport.source() ? tr("matching …")
                                               : tr("no source");
    case MatchState::Silent:
        return tr("silence: nothing to match");
    case MatchState::Failed:
        return tr("it %1").arg(contender.fault);
    case MatchState::Matched:
        break;
    }
    QStringList words;
    if (!contender.on)
        words << tr("switched off");
    if (const QString key = m_services.line_up.keyText(contender); !key.isEmpty())
        words << key;
    const QString basis = contender.by_hand_db ? tr("by hand") : basisText(m_services.line_up.rule().basis);
    if (!basis.isEmpty())
        words << basis;
    if (contender.apart_lu && std::abs(*contender.apart_lu) > audition::fair_within_lu)
        words << tr("%1 LU from the reference").arg(signedNumber(*contender.apart_lu, 1));
    else if (contender.loop.spread_lu > audition::fair_within_lu)
        words << tr("varies by %1 LU from pass to pass").arg(number(contender.loop.spread_lu, 2));
    else
        words << tr("fair within %1 LU").arg(number(contender.unfairLu(), 2));
    if (const auto passage = m_services.transport.passage();
        passage && passage->length_s < audition::gated_from_s)
        words << tr("momentary loudness: the section is short");
    return words.join(QStringLiteral(" · "));
}

QString LoudnessColumn::differenceText(const Contender& contender) const
{
    const LineUp& line_up = m_services.line_up;
    if (contender.id == line_up.reference())
        return tr("the reference");
    if (contender.match != MatchState::Matched || !contender.difference || line_up.isLive())
        return {}; // live, nothing is in step
    const auto level = line_up.differenceDb(contender);
    return level ? tr("difference %1 dB").arg(signedNumber(*level, 1)) : tr("no difference");
}

void LoudnessColumn::show(const Contender& contender)
{
    const LineUp& line_up = m_services.line_up;
    const Contender* reference = line_up.find(line_up.reference());
    const auto& loudness = contender.loudnessLufs();
    m_before->setText(loudness ? tr("before %1 LUFS").arg(number(*loudness, 1)) : QString());
    const auto& at_reference = reference->loudnessLufs();
    m_switched_in->setText(loudness && at_reference && reference != &contender
                               ? switchedInText(*loudness - *at_reference)
                               : QString());
    m_switched_in->setVisible(!m_switched_in->text().isEmpty());
    m_gain->setName(contender.by_hand_db ? tr("by hand") : tr("matched by"));
    m_gain->setDefault(contender.matched_db);
    m_gain->setValue(contender.gain_db);
    m_gain->setVisible(loudness.has_value());
    const bool audible = line_up.audible() == m_id;
    const bool wanted = line_up.wanted() == m_id;
    const bool waits = contender.match == MatchState::Matched && m_services.alternation.isInTime();
    m_state->setText((audible           ? tr("● audible now\n")
                      : waits && wanted ? tr("○ audible with the next bar\n")
                      : wanted          ? tr("○ audible once matched\n")
                                        : QString()) +
                     matchText(contender));
    const bool fair =
        contender.match == MatchState::Matched && contender.unfairLu() <= audition::fair_within_lu;
    setRole(m_state, contender.match == MatchState::Failed ? "fault" : fair ? "pass" : "caution");
    m_difference->setText(differenceText(contender));
    m_difference->setVisible(!contender.isUntreated() ||
                             line_up.reference() != m_id); // the top says so already
}

QString LoudnessColumn::stateText() const
{
    return m_state->text();
}

} // namespace hr::app
