// SPDX-License-Identifier: GPL-3.0-or-later
//
// Everything the catalogue lists, held in memory and asked at every key: text, facets, order.
//
//     Finder finder;
//     finder.fill(entries, beside);
//     auto found = finder.find({"warm tarn", {{Facet::Kind, "compressor"}}});
#pragma once

#include "library/find/facets.h"
#include "library/find/text_index.h"
#include "library/store.h"

#include <QSet>

namespace hr::library {

/// What is known about entries beside what they are themselves, by id.
struct Beside {
    QSet<QString> measured;
    QHash<QString, QStringList> collections; ///< names of those it is in
    QHash<QString, QString> help;            ///< description texts
    QStringList recent;                      ///< ids used lately
};

enum class Order { Best, Name, Maker, Kind, Rating };

/// What is asked for; as text it is the rule of a collection.
struct Asked {
    QString text;
    std::vector<FacetChoice> choices;
    Order order = Order::Best;

    bool isEverything() const { return text.trimmed().isEmpty() && choices.empty(); }
    friend bool operator==(const Asked&, const Asked&) = default;
};

/// Reads what find() needs from the catalogue.
Result<Beside> readBeside(Store& store);

class Finder {
public:
    void fill(std::vector<Entry> entries, const Beside& beside);
    /// One of them anew; its id must be known.
    void replace(const Entry& entry, const Beside& beside);

    const std::vector<Entry>& entries() const { return m_entries; }
    /// Position among entries(), or -1.
    int indexOf(const QString& id) const { return m_by_id.value(id, -1); }

    struct Found {
        std::vector<int> rows; ///< positions among entries(), in the order asked for
        std::array<std::vector<FacetCount>, facet_count> counts; ///< most first, then by name
        QStringList understood_as; ///< where a slip was forgiven: the words it was taken for
    };
    Found find(const Asked& asked) const;

private:
    Texts textsOf(const Entry& entry, const Beside& beside) const;
    void setFacets(int at, const Entry& entry, const Beside& beside);
    void rank();

    std::vector<Entry> m_entries;
    QHash<QString, int> m_by_id;
    TextIndex m_text;
    Facets m_facets;
    std::vector<int> m_rank; // by position: where it stands by title
};

} // namespace hr::library
