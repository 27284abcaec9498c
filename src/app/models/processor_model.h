// SPDX-License-Identifier: GPL-3.0-or-later
//
// The catalogue as a table, narrowed by what is asked for. All of it is held in memory by a Finder.
#pragma once

#include "library/find/membership.h"

#include <QAbstractTableModel>

namespace hr::app {

class ProcessorModel : public QAbstractTableModel {
    Q_OBJECT
public:
    /// Last: the rating or, where it is sorted by a figure, that.
    enum Column { Name, Measured, State, columns };
    enum Role { EntryId = Qt::UserRole, About, Favourite, Rating, Quarantined };

    explicit ProcessorModel(library::Store& store, QObject* parent = nullptr);

    /// Reads the catalogue again.
    void reload();
    /// One entry again: it was measured, or written about.
    void refresh(const QString& id);

    void refreshCollections();              ///< by hand or by rule
    void refreshRules();                    ///< working sets, too
    void setRecent(const QStringList& ids); ///< used lately, the latest first
    const QStringList& recent() const { return m_facts.recent; }
    void ask(const library::Query& asked);
    void search(const QString& text);
    const library::Query& asked() const { return m_asked; }
    const library::Finder& finder() const { return m_finder; }
    const library::Finder::Found& found() const { return m_found; }

    const library::Entry* entry(const QModelIndex& index) const;
    const library::Pictures* pictures(const QModelIndex& index) const; ///< null: nothing is measured
    library::Figures figures(const QString& id) const { return m_facts.figures.value(id); }
    const library::Rules& rules() const { return m_rules; }
    bool isOffered(const QString& id) const { return !m_facts.not_offered.contains(id); }
    /// Those that stand under this one, which are other builds of it.
    QStringList builds(const QString& id) const { return m_facts.under.keys(id); }
    /// Those it looks like one with; empty where there are none, or the user has decided.
    library::BuildGroup proposedBuildsOf(const QString& id);
    QModelIndex indexOf(const QString& id) const;
    /// What is searched for: the words that were typed, and those they were taken for.
    QStringList searchedWords() const;
    int total() const { return m_finder.listable(); }

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    QStringList mimeTypes() const override;
    QMimeData* mimeData(const QModelIndexList& indexes) const override; ///< ids, one a line
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

    static constexpr auto ids_format = "application/x-honest-rack-processors";

signals:
    void rulesChanged();
    void notice(const QString& text);

private:
    void refreshAll(const QStringList& ids);

    library::Store& m_store;
    library::Finder m_finder;
    library::EntryFacts m_facts;
    QHash<QString, library::Pictures> m_pictures;
    library::Rules m_rules;
    std::optional<std::vector<library::BuildGroup>> m_proposed; ///< sought when first asked for
    library::Query m_asked;
    library::Finder::Found m_found;

    void findAgain(const QStringList& changed);
    QString about(const library::Entry& entry) const;
    QString foundIn(const library::Entry& entry, const QString& shown) const;
};

} // namespace hr::app
