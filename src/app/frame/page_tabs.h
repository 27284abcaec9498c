// SPDX-License-Identifier: GPL-3.0-or-later
//
// The margin of the notebook: one tab a page, the open one joined to its page.
#pragma once

#include "services/navigation.h"

#include <QAbstractButton>

namespace hr::app {

class PageTab;

class PageTabs : public QWidget {
    Q_OBJECT
public:
    explicit PageTabs(QWidget* parent = nullptr);
    void setCurrent(PageName page);
    void putBelow(QWidget* widget);

signals:
    void chosen(hr::app::PageName page);
    void dropped(hr::app::PageName page, const QStringList& ids); ///< processors, from a list

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::vector<PageTab*> m_tabs;
};

class PageTab : public QAbstractButton {
    Q_OBJECT
public:
    PageTab(const QString& text, int number, QWidget* parent);

signals:
    void dropped(const QStringList& ids);

protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

private:
    int m_number;
};

} // namespace hr::app
