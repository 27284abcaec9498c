// SPDX-License-Identifier: GPL-3.0-or-later
//
// Narrowing by what a processor is, with how many there would be: each facet has values, which are wanted, not
// wanted, or neither. Within a facet any wanted value will do, and none that is not wanted; facets must all
// agree.
#pragma once

#include <QHash>
#include <QStringList>
#include <array>
#include <vector>

namespace hr::library {

enum class Facet { Kind, Maker, Format, Channels, Key, Measured, Rating, State, WorkingSet, Collection, Tag };
inline constexpr std::size_t facet_count = 11;
/// "kind", "key input": as in rules and on the screen.
QString word(Facet facet);

struct FacetChoice {
    Facet facet = Facet::Kind;
    QString value;
    bool negated = false;

    friend bool operator==(const FacetChoice&, const FacetChoice&) = default;
};

struct FacetCount {
    QString value;
    int count = 0; ///< of those that all other facets, and the text, leave
};

class Facets {
public:
    void clear(std::size_t documents);
    void set(int document, Facet facet, const QStringList& values);

    struct Narrowed {
        std::vector<char> passes; ///< by document
        std::array<std::vector<FacetCount>, facet_count>
            counts; ///< by Facet, every value there is, in no order
    };
    /// `among` by document: what the text leaves.
    Narrowed narrow(const std::vector<char>& among, const std::vector<FacetChoice>& choices) const;

private:
    struct Column {
        QStringList names; // by index of a value
        QHash<QString, int> indices;
        std::vector<int> value;               // by document: its index, none, or several
        QHash<int, std::vector<int>> several; // by document
    };
    static constexpr int none = -1;
    static constexpr int more = -2;
    template<class Use>
    static void forEach(const Column& column, std::size_t document, Use use)
    {
        const int value = column.value[document];
        if (value >= 0)
            use(value);
        else if (value == more)
            for (const int one : column.several[static_cast<int>(document)])
                use(one);
    }
    enum Wish : char { Neither, Wanted, Unwanted };
    struct Wishes {
        std::size_t facet = 0;
        bool any_wanted = false;
        std::vector<char> of; // by index of a value
    };
    bool agrees(const Wishes& wishes, std::size_t document) const;
    std::array<Column, facet_count> m_columns;
};

} // namespace hr::library
