// SPDX-License-Identifier: GPL-3.0-or-later
//
// Blind trials among several that are hidden behind labels, "1" to "11", another behind each in every pass: put
// in order of preference, or graded against the open source.
#pragma once

#include "audition/trial/preference.h"
#include "audition/trial/rating.h"
#include "models/blind_trial.h"

namespace hr::app {

class HiddenTrial : public BlindTrial {
    Q_OBJECT
public:
    using BlindTrial::BlindTrial;
    using Label = std::size_t; ///< from 0; shown from 1

    /// Why these cannot be tried now, as a sentence with what to do; empty where they can be.
    virtual QString disabledReason(const std::vector<ContenderId>& candidates) const = 0;
    /// Where there is no disabledReason.
    void begin(const std::vector<ContenderId>& candidates, int passes);

    // Not while the stage is None:
    virtual std::size_t labels() const = 0;
    virtual int passes() const = 0;
    int pass() const { return answered(); } ///< from 0: the one that is asked now
    virtual bool hasOpenReference() const { return false; }
    /// What the hidden ones are called once it is over.
    virtual std::vector<std::string> names() const = 0;
    virtual std::string sentence() const = 0;

    /// What was asked for last; empty: the open reference.
    std::optional<Label> heard() const { return m_heard; }
    void hear(std::optional<Label> label);
    /// Whether this one has been heard in this pass: who has not heard all cannot answer.
    bool wasHeard(Label label) const { return m_was_heard[label]; }
    QString whyNotAnswer() const;

protected:
    virtual void prepare(std::size_t candidates, int passes) = 0; ///< the sheet
    virtual std::size_t behind(Label label) const = 0;
    std::pair<QString, QString> keys() const override;
    nlohmann::ordered_json candidatesSaid() const;
    void addLane(ContenderId of, std::optional<double> anchor_hz = {});
    virtual void addLanes(const std::vector<ContenderId>& candidates) = 0; ///< in the order of behind()
    /// The next pass, or the end.
    void next(bool over);

private:
    virtual QString kind() const = 0;

    std::vector<ContenderId> m_lanes;
    std::vector<bool> m_was_heard;
    std::optional<Label> m_heard;
};

class PreferenceTrial : public HiddenTrial {
    Q_OBJECT
public:
    using HiddenTrial::HiddenTrial;

    QString disabledReason(const std::vector<ContenderId>& candidates) const override;
    std::size_t labels() const override { return m_sheet->candidates(); }
    int passes() const override { return m_sheet->passes(); }
    std::vector<std::string> names() const override;
    std::string sentence() const override;

    const audition::PreferenceSheet& sheet() const { return *m_sheet; }
    /// All labels, the best first.
    void rank(const std::vector<Label>& best_first);

private:
    QString kind() const override { return QStringLiteral("preference"); }
    void prepare(std::size_t candidates, int passes) override;
    void addLanes(const std::vector<ContenderId>& candidates) override;
    std::size_t behind(Label label) const override { return m_sheet->behind(label); }
    int answered() const override { return m_sheet->answered(); }
    void stopSheet() override { m_sheet->stop(); }
    nlohmann::ordered_json answers() const override;

    std::optional<audition::PreferenceSheet> m_sheet;
};

class RatingTrial : public HiddenTrial {
    Q_OBJECT
public:
    using HiddenTrial::HiddenTrial;

    QString disabledReason(const std::vector<ContenderId>& candidates) const override;
    std::size_t labels() const override { return m_sheet->hidden(); }
    int passes() const override { return m_sheet->passes(); }
    bool hasOpenReference() const override { return true; }
    std::vector<std::string> names() const override;
    std::string sentence() const override { return m_sheet->sentence(names()); }

    const audition::RatingSheet& sheet() const { return *m_sheet; }
    /// Of all labels, 0 to 100.
    void grade(const std::vector<int>& of_labels);

private:
    QString kind() const override { return QStringLiteral("rating"); }
    void prepare(std::size_t candidates, int passes) override;
    void addLanes(const std::vector<ContenderId>& candidates) override;
    std::size_t behind(Label label) const override { return m_sheet->behind(label); }
    int answered() const override { return m_sheet->answered(); }
    void stopSheet() override { m_sheet->stop(); }
    nlohmann::ordered_json answers() const override;

    std::optional<audition::RatingSheet> m_sheet;
};

} // namespace hr::app
