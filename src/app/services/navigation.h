// SPDX-License-Identifier: GPL-3.0-or-later
//
// The six pages, and the wish to be on one of them.
#pragma once

#include <QCoreApplication>
#include <QObject>
#include <array>

namespace hr::app {

enum class PageName { Find, Listen, Measure, Build, Keep, Write };

inline constexpr std::array all_pages{PageName::Find,  PageName::Listen, PageName::Measure,
                                      PageName::Build, PageName::Keep,   PageName::Write};

inline QString word(PageName page)
{
    switch (page) {
    case PageName::Find:
        return QCoreApplication::translate("pages", "Find");
    case PageName::Listen:
        return QCoreApplication::translate("pages", "Listen");
    case PageName::Measure:
        return QCoreApplication::translate("pages", "Measure");
    case PageName::Build:
        return QCoreApplication::translate("pages", "Build");
    case PageName::Keep:
        return QCoreApplication::translate("pages", "Keep");
    case PageName::Write:
        break;
    }
    return QCoreApplication::translate("pages", "Write");
}

class Navigation : public QObject {
    Q_OBJECT
public:
    void goTo(PageName page) { emit wanted(page); }

signals:
    void wanted(hr::app::PageName page);
};

} // namespace hr::app
