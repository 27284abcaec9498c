// SPDX-License-Identifier: GPL-3.0-or-later
//
// Trials among several hidden ones, in the place of the line-up: a row for each label, by which it is heard and
// judged. Until the end it knows no more than the listener does.
#pragma once

#include "pages/listen/listen_services.h"
#include "pages/listen/standing_picture.h"
#include "pages/listen/trial_frame.h"

namespace hr::app {

class Track;

class HiddenTrialView : public TrialFrame {
    Q_OBJECT
protected:
    using Label = HiddenTrial::Label;

    HiddenTrialView(HiddenTrial& trial, const ListenServices& services, QWidget* parent);
    /// Once, in the subclass's constructor.
    void build(const QString& key, const QString& title, const QString& explanation, const QString& done);

    /// What stands on the right of a label's row.
    virtual QWidget* makeJudgement(Label label) = 0;
    /// The rows from top to bottom.
    virtual std::vector<Label> order() const = 0;
    virtual QString subtitle() const = 0;
    virtual void startPass() = 0;                ///< every label as nobody has judged it yet
    virtual void judge(Label label, int by) = 0; ///< up (1) or down (-1)
    virtual void answer() = 0;
    virtual std::vector<Standing> standings() const = 0;
    virtual void showStandings(StandingPicture& picture) = 0;
    virtual QString legend() const = 0; ///< over the judgements

    void layOutRows();

    const ListenServices m_services;

private:
    struct Row {
        QWidget* widget;
        QPushButton* hear;
        QLabel* state;
    };
    QWidget* makeQuestion(const QString& title, const QString& explanation, const QString& done);
    QWidget* makeRow(Label label);
    void addActions(const QString& key);
    void makeRows();
    void refresh();
    void showRows();
    void beginAgain();

    HiddenTrial& m_trial;
    std::pair<BlindTrial::Stage, int> m_shown{BlindTrial::Stage::None, -1}; // stage and pass
    QLabel* m_pass = nullptr;
    QPushButton* m_reference = nullptr;
    QLabel* m_legend = nullptr;
    QVBoxLayout* m_column = nullptr;
    std::vector<Row> m_rows; // by label
    QLabel* m_why_not = nullptr;
    QPushButton* m_done = nullptr;
    StandingPicture* m_picture = nullptr;
};

/// Rows from the one liked best to the one liked least.
class PreferenceView : public HiddenTrialView {
    Q_OBJECT
public:
    explicit PreferenceView(const ListenServices& services, QWidget* parent = nullptr);

private:
    QWidget* makeJudgement(Label label) override;
    std::vector<Label> order() const override { return m_order; }
    QString subtitle() const override;
    void startPass() override;
    void judge(Label label, int by) override;
    void answer() override { m_services.trials.preference.rank(m_order); }
    std::vector<Standing> standings() const override;
    void showStandings(StandingPicture& picture) override;
    QString legend() const override { return tr("the best on top"); }

    std::vector<Label> m_order;
};

/// A track from 0 to 100 for each.
class RatingView : public HiddenTrialView {
    Q_OBJECT
public:
    explicit RatingView(const ListenServices& services, QWidget* parent = nullptr);

private:
    QWidget* makeJudgement(Label label) override;
    std::vector<Label> order() const override;
    QString subtitle() const override;
    void startPass() override;
    void judge(Label label, int by) override;
    void answer() override { m_services.trials.rating.grade(m_grades); }
    std::vector<Standing> standings() const override;
    void showStandings(StandingPicture& picture) override;
    QString legend() const override;

    std::vector<int> m_grades;
    std::vector<Track*> m_tracks; // by label
    std::vector<QLabel*> m_words; // by label: "82  excellent"
    void show(Label label);
};

} // namespace hr::app
