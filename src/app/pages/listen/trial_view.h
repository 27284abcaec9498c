// SPDX-License-Identifier: GPL-3.0-or-later
//
// A trial between two: what can be heard, the question, and in the end what the answers say. Until then it
// knows no more than the listener does.
#pragma once

#include "pages/listen/listen_services.h"
#include "pages/listen/trial_frame.h"

class QGridLayout;

namespace hr::app {

class ChancePicture;
class TrialCard;

class TrialView : public TrialFrame {
    Q_OBJECT
    using Stage = AbxTrial::Stage;

public:
    explicit TrialView(const ListenServices& services, QWidget* parent = nullptr);

private:
    QWidget* makeQuestion();
    void beginAgain();
    void fillSide();
    void addActions();
    void refresh();
    void showQuestion();
    void showResult();
    void showAnswers();
    QString name(const Contender& contender) const; ///< "A", "the source"

    const ListenServices m_services;
    std::pair<Stage, int> m_shown{Stage::None, 0}; // stage and answers
    QLabel* m_round = nullptr;
    QLabel* m_question = nullptr;
    TrialCard* m_first = nullptr;
    TrialCard* m_x = nullptr;
    TrialCard* m_second = nullptr;
    QPushButton* m_is_first = nullptr;
    QPushButton* m_is_second = nullptr;
    ChancePicture* m_picture = nullptr;
    QGridLayout* m_answers = nullptr;
    QLabel* m_forecast = nullptr;
};

} // namespace hr::app
