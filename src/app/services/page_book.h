// SPDX-License-Identifier: GPL-3.0-or-later
//
// The notebook's pages: which of them is open, what is done to it (each step can be taken back), and that it is
// on disk shortly after. Tables and plots on it follow the readings.
#pragma once

#include "actions/notices.h"
#include "exchange/report/filled_page.h"
#include "exchange/report/page.h"
#include "jobs/soon.h"
#include "models/bench_queue.h"
#include "models/line_up.h"

#include <QUndoStack>

namespace hr::app {

class PageBook : public QObject {
    Q_OBJECT
public:
    PageBook(library::Store& store, QUndoStack& undo, Notices& notices, QObject* parent = nullptr);
    ~PageBook() override; ///< what is not on disk yet is put there

    std::vector<library::NotebookPage> all(const QString& words) const;

    qint64 current() const { return m_row_id; } ///< 0: none is open
    const nlohmann::ordered_json& page() const { return m_page; }
    std::size_t blocks() const { return m_page.contains("blocks") ? m_page["blocks"].size() : 0; }
    /// A block filled in, as it is exported.
    nlohmann::ordered_json part(std::size_t block) const;
    nlohmann::ordered_json report() const { return exchange::resolve(m_store, m_page); }

    void open(qint64 row_id);
    /// A new one, opened.
    void begin(const nlohmann::ordered_json& page);
    struct Heard {
        QString on;                     ///< name of the source; empty: none
        nlohmann::ordered_json line_up; ///< as a document, to be opened again from the page
    };
    /// About who stands in the line-up: figures, plots, trials and settings are there already.
    void beginAbout(const LineUp& line_up, const BenchQueue& bench, const Heard& heard);
    void remove(qint64 row_id);

    // The page that is open; each a step.
    void setTitle(const QString& title);
    void setText(std::size_t block, const QString& markdown);
    void insert(std::size_t at, const nlohmann::ordered_json& block);
    void removeBlock(std::size_t block);
    void move(std::size_t block, std::size_t to);
    /// As it is now, whatever is measured from here on; or following the readings again.
    void freeze(std::size_t block, bool on);

    void save(); ///< now

signals:
    void listChanged();
    void pageChanged();     ///< another page, or other blocks
    void readingsChanged(); ///< of somebody on it
    void titleChanged();

private:
    void become(qint64 row_id, const nlohmann::ordered_json& page);
    /// Of the page that is open; `same` joins steps of one kind on one block.
    void change(const QString& what, nlohmann::ordered_json page, int same = -1);
    void put(qint64 row_id, const nlohmann::ordered_json& page, bool shown_already);

    library::Store& m_store;
    QUndoStack& m_undo;
    Notices& m_notices;
    qint64 m_row_id = 0;
    nlohmann::ordered_json m_page = nlohmann::ordered_json::object();
    bool m_unsaved = false;
    Soon m_soon;
};

} // namespace hr::app
