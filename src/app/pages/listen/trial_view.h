// SPDX-License-Identifier: GPL-3.0-or-later
//
// A blind trial, in the place of the line-up while it is held: what can be heard, the question, and in the end
// what the answers say. Until then it knows no more than the listener does.
#pragma once

#include "models/abx_trial.h"
#include "pages/listen/listen_services.h"

class QGridLayout;
class QLabel;
class QPushButton;
class QStackedLayout;
class QVBoxLayout;

namespace hr::app {

class ChancePicture;
class TrialCard;

class TrialView : public QWidget {
    Q_OBJECT
    using Stage = AbxTrial::Stage;

public:
    explicit TrialView(const ListenServices& services, QWidget* parent = nullptr);

private:
    QWidget* makeQuestion();
    QWidget* makeResult();
    QWidget* makeSide();
    void addActions();
    void refresh();
    void save();
    void showQuestion();
    void showResult();
    void showAnswers();
    void showEarlier();
    QString name(const Contender& contender) const; ///< "A", "the source"

    const ListenServices m_services;
    std::pair<Stage, int> m_shown{Stage::None, 0}; // stage and answers
    QLabel* m_subtitle = nullptr;
    QPushButton* m_stop = nullptr;
    QStackedLayout* m_middle = nullptr;
    QLabel* m_round = nullptr;
    QLabel* m_question = nullptr;
    TrialCard* m_first = nullptr;
    TrialCard* m_x = nullptr;
    TrialCard* m_second = nullptr;
    QPushButton* m_is_first = nullptr;
    QPushButton* m_is_second = nullptr;
    QLabel* m_verdict = nullptr;
    QLabel* m_share = nullptr;
    ChancePicture* m_picture = nullptr;
    QPushButton* m_save = nullptr;
    QLabel* m_apart = nullptr;
    QLabel* m_loudness = nullptr;
    QGridLayout* m_answers = nullptr;
    QLabel* m_forecast = nullptr;
    QVBoxLayout* m_earlier = nullptr;
};

} // namespace hr::app
