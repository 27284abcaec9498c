// SPDX-License-Identifier: GPL-3.0-or-later
//
// Find: get from everything installed to a handful. One search field, the list, and particulars of
// what is selected with the ways on.
#pragma once

#include "jobs/soon.h"
#include "pages/find/find_services.h"

#include <QWidget>

class QLabel;
class QLineEdit;
class QPushButton;
class QStackedLayout;

namespace hr::app {

class FacetList;
class FoundList;
class FoldersSheet;
class MapSheet;
class FaultSearchSheet;
class DetailsPanel;

class FindPage : public QWidget {
    Q_OBJECT
public:
    explicit FindPage(const FindServices& services, QWidget* parent = nullptr);

    void focusSearch();
    QString searchText() const;
    void setSearchText(const QString& text);
    QString selectedId() const; ///< the one whose particulars are shown
    QStringList selectedIds() const;
    void select(const QString& id);
    void keepSelected();   ///< asks into which collection
    void measureInSight(); ///< what is listed in sight and not measured yet, in the background
    void toggleFavourites();
    void toggleRecent();
    // What can stand in the place of the list:
    void showFolders();
    void showFaultSearch();
    void showMap();
    /// 0 about, 1 parameters, 2 presets, 3 similar ones: of what is selected.
    void showPart(int part);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    QWidget* makeTop();
    QWidget* makeList();
    QWidget* makeFacets();
    void ask(const QString& text, const std::vector<library::FacetChoice>& choices);
    void openMenu(const QPoint& at);
    void openOrderMenu();
    void showList();
    void showFound();
    void addActions();
    void listChanged();
    void showParticulars();
    void showUnderWay();

    const FindServices m_services;
    library::Query m_asked; // what the list was last shown for
    QLineEdit* m_search = nullptr;
    QLabel* m_count = nullptr;
    QLabel* m_scanning = nullptr;
    QPushButton* m_scan = nullptr;
    FoundList* m_list = nullptr;
    FacetList* m_facets = nullptr;
    QPushButton* m_favourites = nullptr;
    QPushButton* m_recent = nullptr;
    QLabel* m_understood = nullptr;
    QPushButton* m_order = nullptr;
    QPushButton* m_keep_search = nullptr;
    FoldersSheet* m_folders = nullptr;
    FaultSearchSheet* m_fault_search = nullptr;
    MapSheet* m_map = nullptr;
    QStackedLayout* m_stack = nullptr;
    DetailsPanel* m_details = nullptr;
    Soon m_soon;                // particulars follow when the typing rests, so that no key waits for them
    QString m_awaited;          // to be selected once it is listed
    bool m_others_known = true; // something else may be known of those that were shown
};

} // namespace hr::app
