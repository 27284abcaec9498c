// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/trial/preference.h"

#include "audition/trial/chance.h"
#include "audition/trial/orders.h"
#include "signal/number_text.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <cstdio>
#include <gsl/gsl_cdf.h>
#include <map>
#include <numeric>

namespace hr::audition {

namespace {

constexpr double most_counted = 300'000; // a fifth of a second

Ranking natural(std::size_t candidates)
{
    Ranking ranking(candidates);
    std::iota(ranking.begin(), ranking.end(), std::size_t{0});
    return ranking;
}

/// Ranks of each candidate together, 0 being the best.
std::vector<int> rankSums(const std::vector<Ranking>& rankings)
{
    std::vector<int> sums(rankings.front().size());
    for (const Ranking& ranking : rankings)
        for (std::size_t place = 0; place < ranking.size(); ++place)
            sums[ranking[place]] += static_cast<int>(place);
    return sums;
}

/// How far rank sums are apart: n times the sum of their squared deviations, which is whole.
long spreadOf(const std::vector<int>& sums)
{
    long total = 0;
    long squares = 0;
    for (const int sum : sums) {
        total += sum;
        squares += static_cast<long>(sum) * sum;
    }
    return static_cast<long>(sums.size()) * squares - total * total;
}

/// The share of all sets of so many rankings that are as far apart. Whom the sums belong to does not matter, so
/// that they are kept sorted; the first ranking may be any. Empty: there are too many to count.
std::optional<double> exactChance(std::size_t candidates, std::size_t passes, long at_least)
{
    std::vector<int> first(candidates);
    std::iota(first.begin(), first.end(), 0);
    const double orders = std::tgamma(static_cast<double>(candidates) + 1);
    std::map<std::vector<int>, double> chances{{first, 1.0}}; // of sums
    double counted = 0;
    for (std::size_t pass = 1; pass < passes; ++pass) {
        counted += orders * static_cast<double>(chances.size());
        if (counted > most_counted)
            return std::nullopt;
        std::map<std::vector<int>, double> next;
        for (const auto& [sums, chance] : chances) {
            std::vector<int> ranks = first;
            do {
                std::vector<int> more = sums;
                for (std::size_t i = 0; i < candidates; ++i)
                    more[i] += ranks[i];
                std::ranges::sort(more);
                next[more] += chance / orders;
            } while (std::ranges::next_permutation(ranks).found);
        }
        chances = std::move(next);
    }
    double chance = 0;
    for (const auto& [sums, part] : chances)
        if (spreadOf(sums) >= at_least)
            chance += part;
    return std::min(1.0, chance);
}

bool isRanking(const std::vector<std::size_t>& labels, std::size_t candidates)
{
    auto sorted = labels;
    std::ranges::sort(sorted);
    return sorted == natural(candidates);
}

std::string joined(const Ranking& ranking, const std::vector<std::string>& names)
{
    std::string text;
    for (const std::size_t candidate : ranking)
        text += (text.empty() ? "" : " before ") + names[candidate];
    return text;
}

} // namespace

bool Agreement::showsPreference() const
{
    return p_value < heard_below;
}

std::string Agreement::sentence(const std::vector<std::string>& names) const
{
    const std::string chance = "agreement W = " + signal::fixedText(w, 2) + "; chance alone agrees this well " +
                               frequencyInWords(p_value);
    return showsPreference() ? joined(together, names) + ": " + chance + "."
                             : "No preference shown: " + chance + ".";
}

Agreement agreementOf(const std::vector<Ranking>& rankings)
{
    assert(!rankings.empty());
    const auto sums = rankSums(rankings);
    const auto candidates = static_cast<double>(sums.size());
    const auto passes = static_cast<double>(rankings.size());
    const long spread = spreadOf(sums);
    Agreement agreement;
    // 12 S / (m^2 (n^3 - n)), with S = spread / n.
    agreement.w = 12 * (static_cast<double>(spread) / candidates) /
                  (passes * passes * (candidates * candidates * candidates - candidates));
    const auto exact = exactChance(sums.size(), rankings.size(), spread);
    agreement.p_value =
        exact ? *exact : gsl_cdf_chisq_Q(passes * (candidates - 1) * agreement.w, candidates - 1);
    for (const int sum : sums)
        agreement.mean_ranks.push_back(1 + sum / passes);
    agreement.together = natural(sums.size());
    std::ranges::stable_sort(agreement.together, {}, [&](std::size_t candidate) { return sums[candidate]; });
    return agreement;
}

PreferenceSheet::PreferenceSheet(std::size_t candidates, int passes, std::uint64_t seed)
    : m_candidates(std::clamp(candidates, fewest_ranked, most_ranked)),
      m_orders(balancedOrders(m_candidates, std::clamp(passes, fewest_passes, most_passes), seed))
{
}

void PreferenceSheet::rank(const std::vector<std::size_t>& labels)
{
    if (isOver() || !isRanking(labels, m_candidates))
        return;
    Ranking ranking;
    for (const std::size_t label : labels)
        ranking.push_back(behind(label));
    m_rankings.push_back(std::move(ranking));
}

void PreferenceSheet::stop()
{
    if (!isOver())
        m_stopped = true;
}

std::optional<Agreement> PreferenceSheet::agreement() const
{
    return isOver() && !m_rankings.empty() ? std::optional(agreementOf(m_rankings)) : std::nullopt;
}

nlohmann::ordered_json PreferenceSheet::toJson(const std::vector<std::string>& names) const
{
    nlohmann::ordered_json document{
        {"passes", passes()}, {"answered", answered()}, {"stopped_early", m_stopped}};
    if (const auto found = agreement()) {
        document["w"] = found->w;
        document["p_value"] = found->p_value;
        document["mean_ranks"] = found->mean_ranks;
        document["sentence"] = found->sentence(names);
    }
    document["rankings"] = nlohmann::ordered_json::array();
    for (const Ranking& ranking : m_rankings) {
        auto one = nlohmann::ordered_json::array();
        for (const std::size_t candidate : ranking)
            one.push_back(names[candidate]);
        document["rankings"].push_back(std::move(one));
    }
    return document;
}

Result<nlohmann::ordered_json> preferenceFigures(const std::vector<std::string>& rankings)
{
    if (rankings.empty() || rankings.size() > static_cast<std::size_t>(most_passes))
        return wrongRequest("A preference trial has 1 to " + std::to_string(most_passes) + " rankings.");
    const std::size_t candidates = rankings.front().size();
    std::vector<Ranking> found;
    for (const std::string& text : rankings) {
        Ranking ranking;
        for (const char letter : text)
            ranking.push_back(static_cast<std::size_t>(letter - 'A'));
        if (candidates < fewest_ranked || candidates > most_ranked || !isRanking(ranking, candidates))
            return wrongRequest(
                "\"" + text + "\" is not a ranking of " + std::to_string(candidates) +
                " candidates: give each of the letters from A on once, the best first, such as BAC.");
        found.push_back(std::move(ranking));
    }
    const Agreement agreement = agreementOf(found);
    std::vector<std::string> names;
    for (std::size_t i = 0; i < candidates; ++i)
        names.emplace_back(1, static_cast<char>('A' + i));
    nlohmann::ordered_json figures{{"w", agreement.w}, {"p_value", agreement.p_value}};
    for (std::size_t i = 0; i < candidates; ++i)
        figures["mean_ranks"][names[i]] = agreement.mean_ranks[i];
    for (const std::size_t candidate : agreement.together)
        figures["ranking"].push_back(names[candidate]);
    figures["sentence"] = agreement.sentence(names);
    return figures;
}

} // namespace hr::audition
