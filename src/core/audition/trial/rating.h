// SPDX-License-Identifier: GPL-3.0-or-later
//
// A blind trial in which each of several is graded from 0 to 100 against an open reference, after ITU-R
// BS.1534-3 (2015). Among them, under labels that say nothing, are the reference itself and two anchors: the
// reference low-passed at 3.5 and at 7 kHz. They tell whether the listener heard what was to be heard, and
// where on the scale a known loss lies.
//
//     RatingSheet sheet(candidates, 3, std::random_device{}());
//     play(sheet.behind(label));                    // RatingSheet::reference, low_anchor, mid_anchor, or more
//     sheet.grade({100, 20, 55, 80, 90});           // of each label
#pragma once

#include "signal/result.h"

#include <array>
#include <cstdint>
#include <map>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <vector>

namespace hr::audition {

inline constexpr int best_grade = 100;
/// What the scale's five parts are called, from the lowest: each is 20 wide.
inline constexpr std::array<const char*, 5> grade_words{"bad", "poor", "fair", "good", "excellent"};

/// What one was given over all passes.
struct Grades {
    std::vector<int> given;
    double median = 0, lower_quartile = 0, upper_quartile = 0; ///< quartiles between neighbours, linearly
    double mean = 0;
    std::optional<double> mean_within; ///< 95 % confidence of the mean, plus or minus; one pass has none
};
/// Of at least one.
Grades gradesOf(std::vector<int> given);

/// BS.1534-3, 4.1.2: who grades the hidden reference below 90, or the 7 kHz anchor above 90, in more than 15 %
/// of the passes is not counted.
struct Screening {
    int reference_below = 0, anchor_above = 0, passes = 0;
    bool isCounted() const;
    std::string sentence() const; ///< why not; empty where it is
};

class RatingSheet {
public:
    // Whom behind() names before the candidates, which follow from first_candidate.
    static constexpr std::size_t reference = 0;
    static constexpr std::size_t low_anchor = 1;
    static constexpr std::size_t mid_anchor = 2;
    static constexpr std::size_t first_candidate = 3;
    static constexpr double low_anchor_hz = 3500, mid_anchor_hz = 7000;

    static constexpr int fewest_passes = 1;
    static constexpr int most_passes = 20;
    static constexpr std::size_t most_candidates = 8;

    /// `candidates` from 1 to most_candidates, `passes` from fewest_passes to most_passes.
    RatingSheet(std::size_t candidates, int passes, std::uint64_t seed);

    std::size_t hidden() const { return m_candidates + first_candidate; }
    int passes() const { return static_cast<int>(m_orders.size()); }
    int answered() const { return static_cast<int>(m_grades.size()); }
    bool isOver() const { return m_stopped || answered() == passes(); }
    bool wasStopped() const { return m_stopped; }

    /// Who stands behind a label in this pass: for who plays it. Not once it is over.
    std::size_t behind(std::size_t label) const { return m_orders[m_grades.size()][label]; }
    /// Of each label in this pass, 0 to best_grade; ignored where one is missing, and once it is over.
    void grade(const std::vector<int>& of_labels);
    /// Before the last answer; it stays on record that it was.
    void stop();

    /// Of each hidden one; empty until it is over, and where nothing was graded.
    std::vector<Grades> grades() const;
    Screening screening() const;
    /// What came out; `names` of each hidden one. Empty until it is over, and where nothing was graded.
    std::string sentence(const std::vector<std::string>& names) const;
    /// {"passes", "answered", "stopped_early", "counted", "sentence", "grades": {"A": {"median", …}},
    /// "answers": [{"A": 80}]}. Once it is over.
    nlohmann::ordered_json toJson(const std::vector<std::string>& names) const;

private:
    std::size_t m_candidates;
    std::vector<std::vector<std::size_t>> m_orders; // of each pass: who stands behind each label
    std::vector<std::vector<int>> m_grades;         // of each pass: of each hidden one
    bool m_stopped = false;
};

/// As `hrack trial --grades` prints them: {"grades", "counted", "sentence"}. Each text is one pass,
/// "reference=95,anchor_7k=50,anchor_3k5=20,A=80": the first three are screened by where they are there.
Result<nlohmann::ordered_json> ratingFigures(const std::vector<std::string>& passes);

} // namespace hr::audition
