// SPDX-License-Identifier: GPL-3.0-or-later
//
// Write: pages on the left, the one that is open in the middle, what can be put on it and the journal on the
// right.
#pragma once

#include "actions/action_list.h"
#include "services/journal_keeper.h"
#include "services/navigation.h"
#include "services/page_book.h"
#include "services/saved_line_ups.h"

class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;
class QStackedLayout;
class QVBoxLayout;

namespace hr::app {

class EmptyState;
class PageBlock;

class WritePage : public QWidget {
    Q_OBJECT
public:
    struct Services {
        library::Store& store;
        PageBook& book;
        JournalKeeper& journal;
        LineUp& line_up;
        BenchQueue& bench;
        Transport& transport;
        SourceList& sources;
        SavedLineUps& saved;
        Navigation& navigation;
        ActionList& actions;
        Notices& notices;
    };

    explicit WritePage(const Services& services, QWidget* parent = nullptr);

protected:
    void changeEvent(QEvent* event) override;

private:
    QWidget* makeList();
    QWidget* makeMiddle();
    QWidget* makeSide();
    void addActions();
    void beginFromLineUp();
    void fillList();
    void fillPage();
    void fillParts();
    void fillJournal();
    PageBlock* makeBlock(std::size_t block);
    void insert(const nlohmann::ordered_json& block);
    void insertPlot();
    void insertTable();
    void insertTrial();
    void insertJournal();
    void exportPage();
    void exportTo(const QString& file);
    bool isFrozen(std::size_t block) const;

    const Services m_services;
    QLineEdit* m_search = nullptr;
    QListWidget* m_list = nullptr;
    EmptyState* m_empty = nullptr;
    QStackedLayout* m_middle = nullptr;
    QLineEdit* m_title = nullptr;
    QLabel* m_about = nullptr;
    QPushButton* m_its_line_up = nullptr;
    QVBoxLayout* m_column = nullptr;
    std::vector<PageBlock*> m_blocks;
    std::size_t m_insert_at = 0; // after the block that was written in last
    QWidget* m_insert = nullptr;
    QLabel* m_journal = nullptr;
};

} // namespace hr::app
