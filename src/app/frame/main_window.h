// SPDX-License-Identifier: GPL-3.0-or-later
//
// The frame: six pages in the order of the work, the strip below them, notices above it.
#pragma once

#include "frame/desk.h"

#include <QMainWindow>

class QLabel;
class QStackedLayout;

namespace hr::app {

class FindPage;
class KeepPage;
class MeasurePage;
class PageTabs;

class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    explicit MainWindow(Desk& desk, QWidget* parent = nullptr);

    void showPage(PageName page);
    /// The size it is made for, or less, so that it fits with its title bar.
    void fitToScreen();
    PageName page() const;
    FindPage* findPage() const { return m_find; }
    KeepPage* keepPage() const { return m_keep; }
    MeasurePage* measurePage() const { return m_measure; }

    /// Shown for a while above the strip; an empty text takes it away.
    void showNotice(const QString& text);
    void toggleTheme();

signals:
    void pageShown(hr::app::PageName page);
    void closing();

protected:
    void closeEvent(QCloseEvent* event) override;

private:
    void makePages();
    QWidget* makeNotice();
    void addActions();
    void hear(int mark);
    void hearInTrial(int mark);
    QString whyNotHear(int mark) const;
    void addKey(const QString& action);
    void takeDropped(PageName page, const QStringList& ids);

    Desk& m_desk;
    QStackedLayout* m_pages = nullptr;
    PageTabs* m_tabs = nullptr;
    FindPage* m_find = nullptr;
    MeasurePage* m_measure = nullptr;
    KeepPage* m_keep = nullptr;
    QWidget* m_notice = nullptr;
    QLabel* m_notice_text = nullptr;
    QTimer m_notice_timer;
};

} // namespace hr::app
