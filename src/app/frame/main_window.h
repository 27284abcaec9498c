// SPDX-License-Identifier: GPL-3.0-or-later
//
// The frame: six pages in the order of the work, the strip below them, notices above it, and the one
// list of shortcuts.
#pragma once

#include "frame/desk.h"
#include "playbar/source_list.h"

#include <QMainWindow>

class QLabel;
class QStackedLayout;

namespace hr::app {

class FindPage;
class KeepPage;
class MeasurePage;
class PageTabs;
class Playbar;

class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    MainWindow(Desk& desk, SourceList& sources, QWidget* parent = nullptr);

    void showPage(PageName page);
    PageName page() const;
    FindPage* findPage() const { return m_find; }
    KeepPage* keepPage() const { return m_keep; }
    MeasurePage* measurePage() const { return m_measure; }
    Playbar* playbar() const { return m_playbar; }

    /// Shown for a while above the strip; an empty text takes it away.
    void showNotice(const QString& text);
    void toggleTheme();

signals:
    void pageShown(hr::app::PageName page);
    void closing();

protected:
    void closeEvent(QCloseEvent* event) override;

private:
    void addShortcut(const QString& name, const QKeySequence& key, const std::function<void()>& work);
    void addShortcuts();
    void takeDropped(PageName page, const QStringList& ids);
    void listShortcuts();

    Desk& m_desk;
    QStackedLayout* m_pages = nullptr;
    PageTabs* m_tabs = nullptr;
    FindPage* m_find = nullptr;
    MeasurePage* m_measure = nullptr;
    KeepPage* m_keep = nullptr;
    Playbar* m_playbar = nullptr;
    QWidget* m_notice = nullptr;
    QLabel* m_notice_text = nullptr;
    QTimer m_notice_timer;
};

} // namespace hr::app
