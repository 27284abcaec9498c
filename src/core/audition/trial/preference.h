// SPDX-License-Identifier: GPL-3.0-or-later
//
// A blind trial among several: in each pass the listener puts all of them in order of preference, under labels
// that say nothing. Which label stands for whom, and in which order they are offered, is settled before the
// first answer, and balanced: over as many passes as there are candidates each is offered at each place once.
//
//     PreferenceSheet sheet(4, 4, std::random_device{}());
//     play(sheet.behind(label));
//     sheet.rank({2, 0, 3, 1});                     // the labels, the best first
//
// Agreement: Kendall's W (M. G. Kendall, B. Babington Smith 1939); chance: exact where the orders can be
// counted, else by the chi-square distribution of m (n - 1) W (M. Friedman 1937).
#pragma once

#include "signal/result.h"

#include <cstdint>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <vector>

namespace hr::audition {

/// Candidates from 0, the best first; each once.
using Ranking = std::vector<std::size_t>;

inline constexpr std::size_t fewest_ranked = 2;
inline constexpr std::size_t most_ranked = 8;
inline constexpr int fewest_passes = 2;
inline constexpr int most_passes = 40;

/// How well rankings of the same candidates agree.
struct Agreement {
    double w = 0;                   ///< 0: not at all; 1: they are the same
    double p_value = 1;             ///< how often chance alone agrees as well, or better
    std::vector<double> mean_ranks; ///< of each candidate, from 1: the best
    Ranking together;               ///< by mean rank; of equal ones the first

    bool showsPreference() const;
    /// "A before C before B: …", or "no preference shown: …"; `names` of each candidate.
    std::string sentence(const std::vector<std::string>& names) const;
};

/// Of at least one ranking; all of as many candidates.
Agreement agreementOf(const std::vector<Ranking>& rankings);

class PreferenceSheet {
public:
    /// `candidates` from fewest_ranked to most_ranked, `passes` from fewest_passes to most_passes.
    PreferenceSheet(std::size_t candidates, int passes, std::uint64_t seed);

    std::size_t candidates() const { return m_candidates; }
    int passes() const { return static_cast<int>(m_orders.size()); }
    int answered() const { return static_cast<int>(m_rankings.size()); }
    bool isOver() const { return m_stopped || answered() == passes(); }
    bool wasStopped() const { return m_stopped; }

    /// Which candidate a label stands for in this pass: for who plays it, not for who listens. Not once it is
    /// over.
    std::size_t behind(std::size_t label) const { return m_orders[m_rankings.size()][label]; }
    /// The labels of this pass, the best first; ignored where one is missing or doubled, and once it is over.
    void rank(const std::vector<std::size_t>& labels);
    /// Before the last answer; it stays on record that it was.
    void stop();

    /// Of what was answered; empty until it is over, and where nothing was.
    std::optional<Agreement> agreement() const;
    /// What was answered, pass by pass, candidates by their index: not for who listens.
    const std::vector<Ranking>& rankings() const { return m_rankings; }
    /// {"passes", "answered", "stopped_early", "w", "p_value", "mean_ranks", "sentence", "rankings": [["A",
    /// "B"]]}, candidates by `names`. Once it is over.
    nlohmann::ordered_json toJson(const std::vector<std::string>& names) const;

private:
    std::size_t m_candidates;
    std::vector<std::vector<std::size_t>> m_orders; // of each pass: who stands behind each label
    std::vector<Ranking> m_rankings;
    bool m_stopped = false;
};

/// As `hrack trial --ranking` prints them: {"w", "p_value", "mean_ranks": {"A": 1.5}, "ranking": ["A", "B"],
/// "sentence"}. Each text is a ranking by letters, the best first: "BAC". Refuses what is none.
Result<nlohmann::ordered_json> preferenceFigures(const std::vector<std::string>& rankings);

} // namespace hr::audition
