// SPDX-License-Identifier: GPL-3.0-or-later
//
// Build: the chain as it is wired, with the levels behind each of its stages; below it the stage that is
// chosen, and what is asked of the whole: its orders, its delivery, times at the tempo.
#pragma once

#include "pages/build/build_services.h"
#include "pages/build/chain_cards.h"

#include <QWidget>

class QLineEdit;
class QScrollArea;
class QStackedLayout;

namespace hr::app {

class ChainActions;
class ChainFiles;
class ElidedLabel;
class LevelLadder;
class ParameterRow;
class StageDrawer;

class BuildPage : public QWidget {
    Q_OBJECT
public:
    explicit BuildPage(const BuildServices& services, QWidget* parent = nullptr);

private:
    QWidget* makeTop();
    QWidget* makeChain();
    QWidget* makeBelow();
    void keepName();
    void setValue(const QString& id, const QString& key, double value, const QString& moves);
    void fitSheet();
    void fitLadder();
    void askValue(const QString& id, const QString& key, const QPoint& at);
    void reload();
    void showLevels();
    void showHeard();
    void showGains();
    void showChosen();
    void scrollToChosen();
    void saySomethingArose(const std::string& node, double true_peak_dbtp);

    const BuildServices m_services;
    SilencedRemarks m_silenced;
    QLineEdit* m_name = nullptr;
    ElidedLabel* m_heard = nullptr;
    QWidget* m_sheet = nullptr; // of the stages and their levels
    QStackedLayout* m_stack = nullptr;
    QScrollArea* m_scroll = nullptr;
    ChainPicture* m_picture = nullptr;
    ChainActions* m_actions = nullptr;
    ChainFiles* m_files = nullptr;
    ParameterRow* m_amount = nullptr; // of the whole chain, once it is among the candidates
    LevelLadder* m_ladder = nullptr;
    StageDrawer* m_drawer = nullptr;
    QWidget* m_below = nullptr;
    bool m_scrolls_to_chosen = false; // as soon as there is room for it
    bool m_with_values = true;        // there is room for them on the stages

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
};

} // namespace hr::app
