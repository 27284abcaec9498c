// SPDX-License-Identifier: GPL-3.0-or-later
//
// Onsets and tempo of what plays, found in the background where somebody asks.
#pragma once

#include "audio/transport.h"
#include "audition/rhythm.h"

namespace hr::app {

class SourceRhythm : public QObject {
    Q_OBJECT
public:
    SourceRhythm(Transport& transport, Jobs& jobs, QObject* parent = nullptr);

    /// `then` is called with what was found in this section, unless the source is another by then, or
    /// something else has been asked for.
    void find(audition::Section section, std::function<void(const audition::Rhythm&)> then);

private:
    Transport& m_transport;
    Jobs& m_jobs;
};

} // namespace hr::app
