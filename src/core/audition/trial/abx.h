// SPDX-License-Identifier: GPL-3.0-or-later
//
// A blind trial between two: in each round X is one of them, and the listener says which. How many rounds there
// are and what X is in each is settled before the first answer.
//
//     AbxSheet sheet(16, std::random_device{}());
//     play(sheet.xIsSecond() ? second : first);
//     sheet.answer(said_second);
#pragma once

#include "audition/trial/chance.h"
#include "signal/result.h"

#include <cstdint>
#include <nlohmann/json.hpp>
#include <vector>

namespace hr::audition {

class AbxSheet {
public:
    static constexpr int fewest_rounds = 5; ///< with fewer, all right is nothing that chance would not do
    static constexpr int most_rounds = 100;

    /// `rounds` from fewest_rounds to most_rounds.
    AbxSheet(int rounds, std::uint64_t seed);

    int rounds() const { return static_cast<int>(m_x_is_second.size()); }
    int answered() const { return static_cast<int>(m_said_second.size()); }
    bool isOver() const { return m_stopped || answered() == rounds(); }
    bool wasStopped() const { return m_stopped; }

    /// What X is in this round: for who plays it, not for who listens. Not once it is over.
    bool xIsSecond() const { return m_x_is_second[m_said_second.size()]; }

    /// Ignored once it is over: a round is answered once.
    void answer(bool said_second);
    /// Before the last answer; it stays on record that it was.
    void stop();

    /// Of those answered.
    int correct() const;
    /// Whether each was; empty until it is over.
    std::vector<bool> rightAnswers() const;
    /// verdict(), and what was stopped; empty until it is over.
    std::string sentence() const;

    /// {"rounds", "answered", "correct", "stopped_early", "p_value", "interval_low", "interval_high",
    /// "sentence", "answers": [{"x", "said"}]}: x and said are "first" or "second". Once it is over.
    nlohmann::ordered_json toJson() const;

private:
    std::vector<bool> m_x_is_second;
    std::vector<bool> m_said_second;
    bool m_stopped = false;
};

/// The figures alone, as `hrack trial` prints them. Refuses what no trial can have.
Result<nlohmann::ordered_json> abxFigures(int correct, int rounds);

} // namespace hr::audition
