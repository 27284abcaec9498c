// SPDX-License-Identifier: GPL-3.0-or-later
//
// The company on Build: parts in step, returns and their sum. One of them is worked on: its chain is the one
// that is drawn; of a part its sound is the source, of another what goes into it (PartsSource). Kept from one
// start to the next.
#pragma once

#include "audio/transport.h"
#include "chain/company.h"
#include "jobs/soon.h"
#include "models/chain_draft.h"
#include "models/source_list.h"

namespace hr::app {

class PartsDraft : public QObject {
    Q_OBJECT
public:
    /// Stands for the sum where an id of a part or a return does.
    static constexpr const char* the_sum = "sum";

    PartsDraft(library::Store& store, ChainDraft& chain, Transport& transport, SourceList& sources,
               QUndoStack& undo, Notices& notices, QObject* parent = nullptr);
    ~PartsDraft() override; ///< keeps what is not kept yet

    const chain::Company& company() const { return m_company; }
    bool isEmpty() const { return m_company.parts.empty(); }
    /// A part, a return or the_sum; empty: the chain on Build is of none of them.
    const std::string& worked() const { return m_worked; }
    QString nameOf(const std::string& id) const;

    /// From a file, with the sounds of its parts beside it, whether they are there or not.
    static Result<chain::Company> read(const std::filesystem::path& file);

    /// All of them, to be kept in a collection.
    library::CollectionItem item() const;

    // Each a step that can be taken back:
    void open(const chain::Company& company);
    /// From a file.
    void openFile(const std::filesystem::path& file);
    /// As it was kept, with nothing worked on and no step that could be taken back.
    void begin(const chain::Company& company) { set(company); }
    /// The sound that is the source at the moment, with the chain on Build where it is the first.
    void addSource(const QString& file);
    void addReturn(const chain::Node& effect);
    void remove(const std::string& id);
    void workOn(const std::string& id);
    /// Steps in a row that move one thing (Undoable) become one.
    void changeStanding(const std::string& id, const std::function<void(chain::Standing&)>& how,
                        const QString& moves = {});
    void setRepeats(const std::string& part, bool on);
    /// Empty: no send.
    void setSend(const std::string& part, const std::string& to, std::optional<double> level_db);

signals:
    void changed();

private:
    chain::Chain* chainOf(const std::string& id);
    chain::Standing* standingOf(chain::Company& company, const std::string& id) const;
    void edit(const QString& words, const chain::Company& after, const QString& moves = {});
    void set(const chain::Company& company);
    void turnTo(const std::string& id, const chain::Chain& chain);
    void takeChain();
    void keep();
    void changedAndKept();

    library::Store& m_store;
    ChainDraft& m_chain;
    Transport& m_transport;
    SourceList& m_sources;
    QUndoStack& m_undo;
    Notices& m_notices;
    chain::Company m_company;
    std::string m_worked;
    bool m_turning = false;
    Soon m_soon; // until what a hand moves is kept
};

} // namespace hr::app
