// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is chosen on Build: its purpose, all of its parameters and what the chain adds to it. Steps from stage
// to stage.
#pragma once

#include "pages/build/build_services.h"

#include <QPointer>
#include <QWidget>

class QGridLayout;
class QLabel;
class QLineEdit;
class QStackedLayout;

namespace hr::app {

class Button;
class ElidedLabel;
class ParameterRow;

class StageDrawer : public QWidget {
    Q_OBJECT
public:
    explicit StageDrawer(const BuildServices& services, QWidget* parent = nullptr);

    /// Empty: nothing is chosen.
    void show(const QString& node);
    void takeFocus(); ///< to its first parameter
    /// As the value of the parameter that was in hand last, where that is a time or a rate.
    void setTime(const QString& note);

signals:
    void stepRequested(int columns);

private:
    using Set = std::function<void(chain::Node&, double)>;
    QWidget* makeTop();
    QWidget* makeActions();
    void rebuild(const chain::Node& node);
    void openChanceMenu(const processors::ParameterInfo& parameter, const QPoint& at);
    void refresh(const chain::Node& node);
    void addProcessorRows(const chain::Node& node);
    void addStageRows();
    void addPartRows(const chain::Node& node);
    ParameterRow* addRow(const processors::ParameterInfo& parameter, const Set& set);
    void arrange();
    void showHead(const chain::Node& node);
    /// All that rows show, in their order.
    std::vector<double> shownValues(const chain::Node& node) const;
    void keepPurpose();
    bool eventFilter(QObject* watched, QEvent* event) override;

    const BuildServices m_services;
    std::string m_node;
    std::string m_built_for; // what the rows are of
    QStackedLayout* m_stack;
    QLineEdit* m_purpose;
    ElidedLabel* m_about;
    QLabel* m_path;
    Button *m_on, *m_moves;
    QWidget* m_rows_holder;
    QGridLayout* m_grid;
    struct Row {
        ParameterRow* row;
        processors::ParameterInfo parameter;
        Set set;
    };
    std::vector<Row> m_rows;
    std::size_t m_own_rows = 0; // of the processor; what the chain adds comes after them
    QPointer<ParameterRow> m_in_hand;
};

} // namespace hr::app
