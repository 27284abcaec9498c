// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/fit.h"

#include "processors/value_text.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <gsl/gsl_multimin.h>
#include <gsl/gsl_qrng.h>

namespace hr::bench {

namespace {

constexpr double close_enough = 0.02; // of what can be noticed: it ends there
constexpr double good_enough = 0.2;   // no other place is looked for
constexpr std::size_t scattered_a_parameter = 20;
constexpr std::size_t tries_a_parameter = 100; // all in all
constexpr std::size_t most_descents = 3;
constexpr double least_gain = 0.01; // of what can be noticed
constexpr double first_step = 0.12; // of a control's way
constexpr double last_step = 1e-3;
constexpr double hopeless = 1000;

using Readings = std::vector<std::pair<std::string, Reading>>;

const Reading* readingOf(const Readings& readings, const std::string& test)
{
    const auto found = std::ranges::find(readings, test, &std::pair<std::string, Reading>::first);
    return found == readings.end() ? nullptr : &found->second;
}

class Search {
public:
    Search(const Fitted& set, const FitOrder& order, const std::vector<TestInfo>& tests,
           const Conditions& conditions, const MeasureControl& control,
           const std::function<void(const Fit&)>& best, const FitMeasure& measured, Readings like)
        : m_set(set), m_order(order), m_tests(tests), m_conditions(conditions), m_control(control),
          m_told(best), m_measured(measured), m_like(std::move(like))
    {
        m_fit.values = set.values;
    }

    hosting::FaultOr<void> begin()
    {
        const auto measured = measureAt(m_set.values);
        if (measured.failure)
            return tl::make_unexpected(measured.failure->fault);
        m_fit.cancelled = measured.cancelled;
        m_fit.before = m_fit.after = apartFrom(measured.readings);
        return {};
    }

    /// All over: what is far away is not found by going downhill. Where to go down from, the best first.
    std::vector<std::vector<double>> scatter()
    {
        const std::size_t count = m_order.parameters.size();
        std::vector<std::pair<double, std::vector<double>>> tried{{togetherApart(m_fit.before), m_set.values}};
        gsl_qrng* points = gsl_qrng_alloc(gsl_qrng_halton, static_cast<unsigned>(count));
        for (std::size_t i = 0; i < scattered_a_parameter * count && !isOver(); ++i) {
            std::array<double, most_fitted_parameters> position{};
            gsl_qrng_get(points, position.data());
            auto values = m_set.values;
            for (std::size_t k = 0; k < count; ++k)
                values[m_order.parameters[k]] =
                    processors::valueAt(m_set.info.parameters[m_order.parameters[k]], position[k]);
            tried.emplace_back(costOf(values), values);
        }
        gsl_qrng_free(points);
        std::ranges::stable_sort(tried, {}, &std::pair<double, std::vector<double>>::first);
        std::vector<std::vector<double>> best;
        const bool flat = tried.back().first - tried.front().first < least_gain; // it makes no difference
        for (std::size_t i = 0; i < std::min(flat ? 1 : most_descents, tried.size()); ++i)
            best.push_back(std::move(tried[i].second));
        return best;
    }

    void descend(const std::vector<double>& from)
    {
        const std::size_t count = m_order.parameters.size();
        gsl_vector* at = gsl_vector_alloc(count);
        gsl_vector* step = gsl_vector_alloc(count);
        for (std::size_t i = 0; i < count; ++i) {
            const std::size_t parameter = m_order.parameters[i];
            gsl_vector_set(at, i, processors::trackPosition(m_set.info.parameters[parameter], from[parameter]));
            gsl_vector_set(step, i, first_step);
        }
        gsl_multimin_function cost{
            [](const gsl_vector* position, void* self) { return static_cast<Search*>(self)->costAt(position); },
            count, this};
        gsl_multimin_fminimizer* simplex =
            gsl_multimin_fminimizer_alloc(gsl_multimin_fminimizer_nmsimplex2, count);
        gsl_multimin_fminimizer_set(simplex, &cost, at, step);
        while (!isOver() && gsl_multimin_fminimizer_iterate(simplex) == GSL_SUCCESS &&
               gsl_multimin_fminimizer_size(simplex) > last_step) {
        }
        gsl_multimin_fminimizer_free(simplex);
        gsl_vector_free(step);
        gsl_vector_free(at);
    }

    const Fit& result() const { return m_fit; }
    bool isOver() const
    {
        return m_fit.cancelled || togetherApart(m_fit.after) <= close_enough ||
               m_fit.tried >= m_order.parameters.size() * tries_a_parameter;
    }

private:
    Measurement measureAt(const std::vector<double>& values)
    {
        ++m_fit.tried;
        return m_measured({m_set.location, m_set.info, values}, m_tests, m_conditions, m_control.cancel);
    }

    std::vector<Apart> apartFrom(const Readings& readings) const
    {
        std::vector<Apart> all;
        for (const std::string& test : m_order.tests) {
            const Reading* like = readingOf(m_like, test);
            const Reading* here = readingOf(readings, test);
            if (const auto one = like && here ? apart(test, *like, *here) : std::nullopt)
                all.push_back(*one);
        }
        return all;
    }

    double costAt(const gsl_vector* position)
    {
        auto values = m_set.values;
        double beyond = 0; // a control ends where it ends
        for (std::size_t i = 0; i < m_order.parameters.size(); ++i) {
            const double asked = gsl_vector_get(position, i);
            const double inside = std::clamp(asked, 0.0, 1.0);
            beyond += std::abs(asked - inside);
            const std::size_t parameter = m_order.parameters[i];
            values[parameter] = processors::valueAt(m_set.info.parameters[parameter], inside);
        }
        return costOf(values) + hopeless * beyond;
    }

    double costOf(const std::vector<double>& values)
    {
        if (isOver())
            return hopeless;
        const auto measured = measureAt(values);
        m_fit.cancelled = measured.cancelled || m_control.cancel.stop_requested();
        if (measured.failure || measured.cancelled)
            return hopeless; // at this setting it fails: not a place to stay
        auto now = apartFrom(measured.readings);
        const double cost = togetherApart(now);
        if (now.size() >= m_fit.after.size() && cost < togetherApart(m_fit.after)) {
            m_fit.after = std::move(now);
            m_fit.values = values;
            if (m_told)
                m_told(m_fit);
        }
        if (m_control.progress)
            m_control.progress({}, static_cast<double>(m_fit.tried) /
                                       static_cast<double>(m_order.parameters.size() * tries_a_parameter));
        return cost;
    }

    const Fitted& m_set;
    const FitOrder& m_order;
    const std::vector<TestInfo>& m_tests;
    const Conditions& m_conditions;
    const MeasureControl& m_control;
    const std::function<void(const Fit&)>& m_told;
    const FitMeasure& m_measured;
    const Readings m_like;
    Fit m_fit;
};

} // namespace

hosting::FaultOr<Fit> fit(const Fitted& like, const Fitted& set, const FitOrder& order,
                          const Conditions& conditions, const MeasureControl& control,
                          const std::function<void(const Fit&)>& best, FitMeasure measured)
{
    if (!measured)
        measured = [](const Fitted& one, const std::vector<TestInfo>& tests, const Conditions& under,
                      const std::stop_token& cancel) {
            return measure(one.location, one.info, one.values, tests, under, {cancel, {}});
        };
    const auto tests = testsNamed(order.tests);
    if (!tests || order.tests.empty() || order.parameters.empty() ||
        order.parameters.size() > most_fitted_parameters)
        return hosting::fault(hosting::Phase::Start, hosting::Cause::InvalidDescription,
                              "there is nothing to fit: 1 to 8 parameters and at least one test");
    const Measurement target = measured(like, *tests, conditions, control.cancel);
    if (target.failure)
        return tl::make_unexpected(target.failure->fault);
    Search search(set, order, *tests, conditions, control, best, measured, target.readings);
    if (auto begun = search.begin(); !begun)
        return tl::make_unexpected(begun.error());
    for (const auto& from : search.scatter())
        if (!search.isOver() && togetherApart(search.result().after) > good_enough)
            search.descend(from);
    return search.result();
}

} // namespace hr::bench
