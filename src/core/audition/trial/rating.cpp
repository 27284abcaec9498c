// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/trial/rating.h"

#include "audition/trial/orders.h"
#include "signal/number_text.h"

#include <algorithm>
#include <cassert>
#include <charconv>
#include <cmath>
#include <cstdio>
#include <gsl/gsl_cdf.h>
#include <gsl/gsl_statistics_double.h>
#include <sstream>

namespace hr::audition {

namespace {

using nlohmann::ordered_json;

constexpr int heard_reference = 90; // graded lower, it was not recognised
constexpr double most_missed = 0.15;

constexpr const char* reference_name = "reference";
constexpr const char* mid_anchor_name = "anchor_7k";

ordered_json asJson(const Grades& grades)
{
    ordered_json document{{"median", grades.median},
                          {"lower_quartile", grades.lower_quartile},
                          {"upper_quartile", grades.upper_quartile},
                          {"mean", grades.mean}};
    document["mean_within"] = grades.mean_within ? ordered_json(*grades.mean_within) : ordered_json();
    return document;
}

std::string graded(const std::vector<std::pair<std::string, Grades>>& all)
{
    auto sorted = all;
    std::ranges::stable_sort(sorted, std::greater(), [](const auto& one) { return one.second.median; });
    std::string text = "Median grades: ";
    for (const auto& [name, grades] : sorted)
        text += (name == sorted.front().first ? "" : ", ") + name + ' ' + signal::shortText(grades.median, 3);
    return text + '.';
}

ordered_json figures(const std::vector<std::pair<std::string, Grades>>& all, const Screening& screening)
{
    ordered_json document{{"counted", screening.isCounted()}};
    const std::string why_not = screening.sentence();
    document["sentence"] = why_not.empty() ? graded(all) : graded(all) + ' ' + why_not;
    for (const auto& [name, grades] : all)
        document["grades"][name] = asJson(grades);
    return document;
}

/// "A=80,B=70"; empty where it is not.
std::optional<std::map<std::string, int>> passIn(const std::string& text)
{
    std::map<std::string, int> grades;
    std::istringstream parts(text);
    for (std::string part; std::getline(parts, part, ',');) {
        const auto equals = part.rfind('=');
        if (equals == std::string::npos || equals == 0)
            return std::nullopt;
        int grade = -1;
        const char* end = part.data() + part.size();
        const auto [stopped, wrong] = std::from_chars(part.data() + equals + 1, end, grade);
        const bool fits = wrong == std::errc() && stopped == end && grade >= 0 && grade <= best_grade;
        if (!fits || !grades.emplace(part.substr(0, equals), grade).second)
            return std::nullopt;
    }
    return grades.empty() ? std::nullopt : std::optional(grades);
}

} // namespace

Grades gradesOf(std::vector<int> given)
{
    assert(!given.empty());
    std::vector<double> sorted(given.begin(), given.end());
    std::ranges::sort(sorted);
    Grades grades;
    const std::size_t count = sorted.size();
    grades.median = gsl_stats_median_from_sorted_data(sorted.data(), 1, count);
    grades.lower_quartile = gsl_stats_quantile_from_sorted_data(sorted.data(), 1, count, 0.25);
    grades.upper_quartile = gsl_stats_quantile_from_sorted_data(sorted.data(), 1, count, 0.75);
    grades.mean = gsl_stats_mean(sorted.data(), 1, count);
    if (count > 1) {
        const auto n = static_cast<double>(count);
        grades.mean_within =
            gsl_cdf_tdist_Pinv(0.975, n - 1) * gsl_stats_sd(sorted.data(), 1, count) / std::sqrt(n);
    }
    grades.given = std::move(given);
    return grades;
}

bool Screening::isCounted() const
{
    return std::max(reference_below, anchor_above) <= most_missed * passes;
}

std::string Screening::sentence() const
{
    if (isCounted())
        return {};
    const bool missed = reference_below >= anchor_above;
    return "Not counted: the " +
           std::string(missed ? "hidden reference was graded below 90 in "
                              : "anchor at 7 kHz was graded above 90 in ") +
           std::to_string(std::max(reference_below, anchor_above)) + " of " + std::to_string(passes) +
           (passes == 1 ? " pass" : " passes") + ", and by BS.1534 a listener may miss 15 in 100.";
}

RatingSheet::RatingSheet(std::size_t candidates, int passes, std::uint64_t seed)
    : m_candidates(std::clamp(candidates, std::size_t{1}, most_candidates)),
      m_orders(balancedOrders(hidden(), std::clamp(passes, fewest_passes, most_passes), seed))
{
}

void RatingSheet::grade(const std::vector<int>& of_labels)
{
    const auto isGrade = [](int grade) { return grade >= 0 && grade <= best_grade; };
    if (isOver() || of_labels.size() != hidden() || !std::ranges::all_of(of_labels, isGrade))
        return;
    std::vector<int> of_hidden(hidden());
    for (std::size_t label = 0; label < hidden(); ++label)
        of_hidden[behind(label)] = of_labels[label];
    m_grades.push_back(std::move(of_hidden));
}

void RatingSheet::stop()
{
    if (!isOver())
        m_stopped = true;
}

std::vector<Grades> RatingSheet::grades() const
{
    std::vector<Grades> all;
    if (!isOver() || m_grades.empty())
        return all;
    for (std::size_t who = 0; who < hidden(); ++who) {
        std::vector<int> given;
        for (const auto& pass : m_grades)
            given.push_back(pass[who]);
        all.push_back(gradesOf(std::move(given)));
    }
    return all;
}

Screening RatingSheet::screening() const
{
    Screening screening;
    screening.passes = answered();
    for (const auto& pass : m_grades) {
        screening.reference_below += pass[reference] < heard_reference;
        screening.anchor_above += pass[mid_anchor] > heard_reference;
    }
    return screening;
}

std::string RatingSheet::sentence(const std::vector<std::string>& names) const
{
    const auto document = toJson(names);
    return document.value("sentence", std::string());
}

ordered_json RatingSheet::toJson(const std::vector<std::string>& names) const
{
    ordered_json document{{"passes", passes()}, {"answered", answered()}, {"stopped_early", m_stopped}};
    std::vector<std::pair<std::string, Grades>> named;
    for (const Grades& grades : grades())
        named.emplace_back(names[named.size()], grades);
    if (!named.empty())
        document.update(figures(named, screening()));
    document["answers"] = ordered_json::array();
    for (const auto& pass : m_grades) {
        ordered_json one;
        for (std::size_t who = 0; who < pass.size(); ++who)
            one[names[who]] = pass[who];
        document["answers"].push_back(std::move(one));
    }
    return document;
}

Result<ordered_json> ratingFigures(const std::vector<std::string>& passes)
{
    std::map<std::string, std::vector<int>> given;
    Screening screening;
    for (const std::string& text : passes) {
        const auto pass = passIn(text);
        if (!pass)
            return wrongRequest("\"" + text +
                                "\" is not a pass of grades: write NAME=GRADE,NAME=GRADE with "
                                "each name once and grades from 0 to 100.");
        if (!given.empty() && !std::ranges::equal(*pass, given, {}, &std::pair<const std::string, int>::first,
                                                  &std::pair<const std::string, std::vector<int>>::first))
            return wrongRequest("\"" + text + "\" grades others than the pass before it.");
        for (const auto& [name, grade] : *pass)
            given[name].push_back(grade);
        ++screening.passes;
        const auto reference = pass->find(reference_name);
        screening.reference_below += reference != pass->end() && reference->second < heard_reference;
        const auto anchor = pass->find(mid_anchor_name);
        screening.anchor_above += anchor != pass->end() && anchor->second > heard_reference;
    }
    if (given.empty())
        return wrongRequest("A rating trial has at least one pass of grades.");
    std::vector<std::pair<std::string, Grades>> named;
    for (auto& [name, grades] : given)
        named.emplace_back(name, gradesOf(std::move(grades)));
    return figures(named, screening);
}

} // namespace hr::audition
