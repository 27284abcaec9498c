// SPDX-License-Identifier: GPL-3.0-or-later
//
// A blind trial between two of the line-up: which of them is X? X has a lane of its own for each of the two.
#pragma once

#include "audition/trial/abx.h"
#include "models/blind_trial.h"

namespace hr::app {

class AbxTrial : public BlindTrial {
    Q_OBJECT
public:
    enum class Which { First, X, Second };

    using BlindTrial::BlindTrial;

    /// Why these two cannot be told apart now, as a sentence with what to do; empty where they can be tried.
    QString disabledReason(ContenderId first, ContenderId second) const;
    /// Where there is no disabledReason.
    void begin(ContenderId first, ContenderId second, int rounds);

    const audition::AbxSheet& sheet() const { return *m_sheet; } ///< not while the stage is None
    const Contender& first() const { return tried().front(); }   ///< as it was when it began
    const Contender& second() const { return tried().back(); }

    Which heard() const { return m_heard; } ///< what was asked for last
    void hear(Which which);
    /// Of this round. The next begins with the first, so that what is heard does not tell whether X has
    /// changed.
    void answer(bool x_is_second);

private:
    int answered() const override { return m_sheet->answered(); }
    void stopSheet() override { m_sheet->stop(); }
    nlohmann::ordered_json answers() const override;
    std::pair<QString, QString> keys() const override { return {keyOf(first()), keyOf(second())}; }

    std::optional<audition::AbxSheet> m_sheet;
    ContenderId m_x_as_first = audition::no_contender;
    ContenderId m_x_as_second = audition::no_contender;
    Which m_heard = Which::First;
};

} // namespace hr::app
