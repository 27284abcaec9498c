// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/list_figures.h"

#include <algorithm>
#include <cmath>

namespace hr::library {

bool ListFigure::before(double a, double b) const
{
    switch (info->better) {
    case bench::Better::Higher:
        return a > b;
    case bench::Better::NearZero:
        return std::abs(a) < std::abs(b);
    default:
        return a < b;
    }
}

const std::vector<ListFigure>& listFigures()
{
    static const std::vector<ListFigure> all = [] {
        std::vector<ListFigure> found;
        for (const bench::TestInfo& test : bench::allTests())
            for (const bench::FigureInfo& figure : test.figures())
                if (figure.in_lists)
                    found.push_back({QString::fromStdString(test.key), &figure});
        return found;
    }();
    return all;
}

int listFigure(const QString& key)
{
    const auto& all = listFigures();
    const auto found = std::ranges::find(all, key, &ListFigure::key);
    return found == all.end() ? -1 : static_cast<int>(found - all.begin());
}

} // namespace hr::library
