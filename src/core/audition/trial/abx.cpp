// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/trial/abx.h"

#include <algorithm>
#include <random>

namespace hr::audition {

AbxSheet::AbxSheet(int rounds, std::uint64_t seed)
{
    std::mt19937_64 generator(seed);
    std::bernoulli_distribution coin;
    m_x_is_second.resize(static_cast<std::size_t>(std::clamp(rounds, fewest_rounds, most_rounds)));
    for (auto&& is_second : m_x_is_second)
        is_second = coin(generator);
}

void AbxSheet::answer(bool said_second)
{
    if (!isOver())
        m_said_second.push_back(said_second);
}

void AbxSheet::stop()
{
    m_stopped = !isOver() || m_stopped;
}

int AbxSheet::correct() const
{
    int count = 0;
    for (std::size_t i = 0; i < m_said_second.size(); ++i)
        count += m_said_second[i] == m_x_is_second[i];
    return count;
}

std::vector<bool> AbxSheet::rightAnswers() const
{
    std::vector<bool> right;
    for (std::size_t i = 0; isOver() && i < m_said_second.size(); ++i)
        right.push_back(m_said_second[i] == m_x_is_second[i]);
    return right;
}

std::string AbxSheet::sentence() const
{
    if (!isOver())
        return {};
    if (answered() == 0)
        return "Stopped before the first answer: nothing to say.";
    return verdict(correct(), answered()) +
           (m_stopped
                ? " It was stopped after " + std::to_string(answered()) + " of " + std::to_string(rounds()) +
                      " rounds: a trial that ends when it suits shows less than its figures."
                : "");
}

nlohmann::ordered_json AbxSheet::toJson() const
{
    const auto which = [](bool second) { return second ? "second" : "first"; };
    nlohmann::ordered_json json{
        {"rounds", rounds()},         {"answered", answered()}, {"correct", correct()},
        {"stopped_early", m_stopped}, {"p_value", nullptr},     {"interval_low", nullptr},
        {"interval_high", nullptr},   {"sentence", sentence()}, {"answers", nlohmann::ordered_json::array()}};
    if (answered() > 0) {
        const auto figures = abxFigures(correct(), answered());
        for (const char* key : {"p_value", "interval_low", "interval_high"})
            json[key] = figures->at(key);
    }
    for (std::size_t i = 0; i < m_said_second.size(); ++i)
        json["answers"].push_back({{"x", which(m_x_is_second[i])}, {"said", which(m_said_second[i])}});
    return json;
}

Result<nlohmann::ordered_json> abxFigures(int correct, int rounds)
{
    constexpr int most = 1'000'000;
    if (rounds < 1 || rounds > most)
        return wrongRequest("a trial has 1 to 1000000 rounds, not " + std::to_string(rounds));
    if (correct < 0 || correct > rounds)
        return wrongRequest(std::to_string(correct) + " of " + std::to_string(rounds) +
                            " cannot be right: at least 0 and at most all");
    const Interval interval = shareRight(correct, rounds);
    return nlohmann::ordered_json{{"p_value", chanceOfAtLeast(correct, rounds)},
                                  {"interval_low", interval.low},
                                  {"interval_high", interval.high},
                                  {"sentence", verdict(correct, rounds)}};
}

} // namespace hr::audition
