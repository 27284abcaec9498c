// SPDX-License-Identifier: GPL-3.0-or-later
//
// What each stage of the chain on Build does at its present settings, as a small picture: measured in the
// background while it is wanted, by itself and not in the chain.
#pragma once

#include "jobs/jobs.h"
#include "jobs/soon.h"
#include "library/pictures.h"
#include "models/chain_draft.h"
#include "models/stage_facts.h"

#include <QHash>

namespace hr::app {

struct StagePicture {
    library::PictureOf what = library::PictureOf::Response;
    QByteArray heights; ///< as of library/pictures.h; empty: not known
    // Of a room:
    std::optional<double> rt60_s, predelay_ms;
};

class StagePictures : public QObject {
    Q_OBJECT
public:
    StagePictures(ChainDraft& draft, StageFacts& facts, Jobs& jobs, QObject* parent = nullptr);

    void keepCurrent(bool wanted);
    /// Of a stage as it stands.
    StagePicture of(const chain::Node& stage) const;

signals:
    void changed();

private:
    struct Request {
        QString key; ///< of the processor and all that it is set to
        library::PictureOf what;
        const StageFacts::Facts* facts;
        std::vector<double> values;
    };
    std::optional<Request> request(const chain::Node& stage) const;
    void measureNext();

    ChainDraft& m_draft;
    StageFacts& m_facts;
    Jobs& m_jobs;
    Soon m_soon;
    bool m_wanted = false;
    Jobs::Id m_job = 0;
    QHash<QString, StagePicture> m_known; // by key; empty heights: it shows nothing, or failed
};

} // namespace hr::app
