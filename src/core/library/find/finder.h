// SPDX-License-Identifier: GPL-3.0-or-later
//
// Everything the catalogue lists, held in memory and asked at every key: text, facets, order.
//
//     Finder finder;
//     finder.fill(entries, beside);
//     auto found = finder.find({"warm tarn", {{Facet::Kind, "compressor"}}});
#pragma once

#include "library/find/query.h"
#include "library/find/text_index.h"
#include "library/store.h"

#include <QSet>

namespace hr::library {

/// What is known about entries beside what they are themselves, by id.
struct EntryFacts {
    QSet<QString> measured;
    QHash<QString, QStringList> collections; ///< names of those it is in
    QHash<QString, QString> help;            ///< description texts
    QHash<QString, Figures> figures;
    QHash<QString, QString> under; ///< joined builds, and which stands for them; only that one is listed
    QStringList recent;            ///< ids used lately
    // What rules decide (membership.h):
    QHash<QString, QStringList> by_rule;      ///< names of the collections by rule it is in
    QHash<QString, QStringList> working_sets; ///< names of those it is in
    QSet<QString> not_offered; ///< by the working set in use: found only when hidden ones are asked for
};

/// Reads what find() needs from the catalogue.
Result<EntryFacts> readEntryFacts(Store& store);

class Finder {
public:
    void fill(std::vector<Entry> entries, const EntryFacts& facts);
    /// One of them once more; its id must be known.
    void replace(const Entry& entry, const EntryFacts& facts);
    /// The same where only what is beside it has changed.
    void refacet(const QString& id, const EntryFacts& facts);

    const std::vector<Entry>& entries() const { return m_entries; }
    /// Position among entries(), or -1.
    int indexOf(const QString& id) const { return m_by_id.value(id, -1); }

    struct Found {
        std::vector<int> rows; ///< positions among entries(), in the order asked for
        std::array<std::vector<FacetCount>, facet_count> counts; ///< most first, then by name
        QStringList understood_as; ///< where a slip was forgiven: the words it was taken for
        // Where nothing was found:
        QString nearest;         ///< what would have been found with one slip more; empty: nothing
        int without_choices = 0; ///< how many the text alone finds
    };
    /// Hidden ones only where they are asked for. So are the bench's own references: by their format, by the
    /// word "reference", or by where the user has put them.
    Found find(const Query& asked) const;
    /// How many could be listed at all.
    int listable() const;
    /// By position: what a rule finds, hidden or not, builds that stand under another, too.
    enum class References { WhenAskedFor, Always };
    std::vector<char> matching(const Query& asked, References references = References::WhenAskedFor) const;

private:
    Texts textsOf(const Entry& entry, const EntryFacts& facts) const;
    void setFacets(int at, const Entry& entry, const EntryFacts& facts);
    QStringList kindsOf(const Entry& entry) const;
    /// Positions, and what else passes.
    std::pair<Facets::Narrowed, std::vector<float>> among(const Query& asked) const;
    void rank();
    void sort(std::vector<int>& rows, const Order& order, const std::vector<float>& weight) const;
    void sortByFigure(std::vector<int>& rows, int figure) const;

    std::vector<Entry> m_entries;
    QHash<QString, int> m_by_id;
    TextIndex m_text;
    Facets m_facets;
    std::vector<int> m_rank;        // by position: where it stands by title
    std::vector<char> m_stands;     // by position: it stands for itself
    std::vector<Figures> m_figures; // by position
};

} // namespace hr::library
