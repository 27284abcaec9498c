// SPDX-License-Identifier: GPL-3.0-or-later
//
// Walks through the pages with the demo data, as a person would, and saves a picture of each: what
// docs/screenshots/ holds.
#pragma once

#include "frame/main_window.h"
#include "tour/steps.h"

namespace hr::app {

class Tour : public QObject {
    Q_OBJECT
public:
    /// `only`: names of pictures; empty: all of them.
    Tour(Desk& desk, MainWindow& window, QString folder, QStringList only = {});

    /// Takes some two minutes for all pictures; finished() follows.
    void start() { m_steps.start(); }

signals:
    /// `why_not` names what did not come about; empty: all did.
    void finished(const QString& why_not);

private:
    void prepare();
    void find();
    void listen();
    void blindTrials();
    void measure();
    void build();
    void keepAndWrite();
    /// What is to be seen, on which page, and `come` there: steps, where that takes several.
    void stop(const char* name, PageName page, const std::function<void()>& come);
    Result<void> picture(const QString& name) const;
    bool wants(const char* name) const { return m_only.isEmpty() || m_only.contains(QLatin1String(name)); }

    Desk& m_desk;
    MainWindow& m_window;
    QString m_folder;
    QStringList m_only;
    Steps m_steps;
    ContenderId m_first = audition::no_contender; // who is heard to begin with
};

} // namespace hr::app
