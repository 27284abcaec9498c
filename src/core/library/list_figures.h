// SPDX-License-Identifier: GPL-3.0-or-later
//
// The few figures that a list of thousands is sorted by: those that their tests declare for it
// (bench/figure.h), of processors at their defaults, with the standard conditions.
#pragma once

#include "bench/suite.h"

#include <QString>

namespace hr::library {

struct ListFigure {
    QString test;
    const bench::FigureInfo* info = nullptr;

    /// "harmonics.thd_percent".
    QString key() const { return test + QLatin1Char('.') + QString::fromStdString(info->key); }
    /// Whether `a` belongs before `b` in a list, the better or smaller one first.
    bool before(double a, double b) const;
};

/// All of them, in the order of the suite.
const std::vector<ListFigure>& listFigures();
/// Position of the one of this key; -1: there is none.
int listFigure(const QString& key);

/// Of one processor.
struct Figures {
    std::vector<std::optional<double>> values; ///< by position among listFigures(); empty: nothing is measured
    QString behaves_like;                      ///< a kind (bench/behaviour.h); empty: not known

    std::optional<double> at(int figure) const
    {
        return static_cast<std::size_t>(figure) < values.size() ? values[static_cast<std::size_t>(figure)]
                                                                : std::nullopt;
    }
    friend bool operator==(const Figures&, const Figures&) = default;
};

} // namespace hr::library
