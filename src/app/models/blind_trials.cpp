// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/blind_trials.h"

namespace hr::app {

BlindTrials::BlindTrials(const BlindTrial::Around& around, QObject* parent)
    : QObject(parent), abx(around), preference(around), rating(around)
{
    for (BlindTrial* trial : all())
        connect(trial, &BlindTrial::changed, this, [this, trial] {
            if (trial->isRunning())
                for (BlindTrial* other : all())
                    if (other != trial)
                        other->putAway();
            emit changed();
        });
}

BlindTrial* BlindTrials::current()
{
    for (BlindTrial* trial : all())
        if (trial->stage() != BlindTrial::Stage::None)
            return trial;
    return nullptr;
}

bool BlindTrials::isRunning() const
{
    return abx.isRunning() || preference.isRunning() || rating.isRunning();
}

QString BlindTrials::disturbed() const
{
    return isRunning() ? tr("A blind trial is under way: finish it, or stop it on Listen, first.") : QString();
}

void BlindTrials::stop()
{
    for (BlindTrial* trial : all())
        trial->stop();
}

} // namespace hr::app
