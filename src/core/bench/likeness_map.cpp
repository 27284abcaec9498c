// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/likeness_map.h"

#include <algorithm>
#include <cmath>
#include <gsl/gsl_eigen.h>
#include <gsl/gsl_statistics_double.h>

namespace hr::bench {

namespace {

constexpr int majorisation_steps = 60;
constexpr std::size_t compared_places = 120; // with one another
constexpr double margin = 0.04;              // of the sheet, on each side

using Row = std::array<double, fingerprint_size>;

/// A part counts as much as another, however long.
double weightOf(std::size_t column)
{
    const auto part = std::ranges::find_if(
        fingerprint_parts, [column](const PrintPart& one) { return column < one.first + one.count; });
    return 1 / std::sqrt(static_cast<double>(part->count));
}

/// Centred; what was not measured is as it is with the others on average.
std::vector<Row> centredRows(std::span<const Fingerprint> prints)
{
    std::vector<Row> rows(prints.size());
    for (std::size_t column = 0; column < fingerprint_size; ++column) {
        double mean = 0;
        double known = 0;
        for (const Fingerprint& print : prints)
            if (!std::isnan(print[column])) {
                mean += static_cast<double>(print[column]);
                ++known;
            }
        mean = known > 0 ? mean / known : 0;
        for (std::size_t i = 0; i < prints.size(); ++i)
            rows[i][column] = std::isnan(prints[i][column])
                                  ? 0
                                  : weightOf(column) * (static_cast<double>(prints[i][column]) - mean);
    }
    return rows;
}

/// The two directions of most variance, each with the sign of its largest part.
std::array<Row, 2> mainDirections(const std::vector<Row>& rows)
{
    gsl_matrix* covariance = gsl_matrix_calloc(fingerprint_size, fingerprint_size);
    for (const Row& row : rows)
        for (std::size_t a = 0; a < fingerprint_size; ++a)
            for (std::size_t b = 0; b <= a; ++b)
                *gsl_matrix_ptr(covariance, a, b) += row[a] * row[b];
    gsl_vector* variances = gsl_vector_alloc(fingerprint_size);
    gsl_matrix* directions = gsl_matrix_alloc(fingerprint_size, fingerprint_size);
    gsl_eigen_symmv_workspace* room = gsl_eigen_symmv_alloc(fingerprint_size);
    gsl_eigen_symmv(covariance, variances, directions, room);
    gsl_eigen_symmv_sort(variances, directions, GSL_EIGEN_SORT_VAL_DESC);
    std::array<Row, 2> found{};
    for (std::size_t k = 0; k < found.size(); ++k) {
        std::size_t largest = 0;
        for (std::size_t a = 0; a < fingerprint_size; ++a) {
            found[k][a] = gsl_matrix_get(directions, a, k);
            if (std::abs(found[k][a]) > std::abs(found[k][largest]))
                largest = a;
        }
        if (found[k][largest] < 0)
            for (double& part : found[k])
                part = -part;
    }
    gsl_eigen_symmv_free(room);
    gsl_matrix_free(directions);
    gsl_vector_free(variances);
    gsl_matrix_free(covariance);
    return found;
}

double along(const Row& row, const Row& direction)
{
    double sum = 0;
    for (std::size_t a = 0; a < fingerprint_size; ++a)
        sum += row[a] * direction[a];
    return sum;
}

double apartOnSheet(const MapPlace& a, const MapPlace& b)
{
    return std::hypot(a.x - b.x, a.y - b.y);
}

/// Of each with each, row by row.
std::vector<float> allDistances(std::span<const Fingerprint> prints)
{
    std::vector<float> distances(prints.size() * prints.size(), 0.0F);
    for (std::size_t i = 0; i < prints.size(); ++i)
        for (std::size_t j = i + 1; j < prints.size(); ++j)
            distances[i * prints.size() + j] = distances[j * prints.size() + i] =
                distance(prints[i], prints[j]);
    return distances;
}

/// One step: each to the mean of where all the others would have it.
std::vector<MapPlace> majorised(const std::vector<MapPlace>& places, const std::vector<float>& distances)
{
    std::vector<MapPlace> moved(places.size());
    for (std::size_t i = 0; i < places.size(); ++i) {
        double x = 0;
        double y = 0;
        double count = 0;
        for (std::size_t j = 0; j < places.size(); ++j) {
            const auto wanted = static_cast<double>(distances[i * places.size() + j]);
            if (i == j || !std::isfinite(wanted))
                continue;
            const double now = apartOnSheet(places[i], places[j]);
            const double pull = now > 1e-9 ? wanted / now : 0;
            x += places[j].x + pull * (places[i].x - places[j].x);
            y += places[j].y + pull * (places[i].y - places[j].y);
            ++count;
        }
        moved[i] = count > 0 ? MapPlace{x / count, y / count} : places[i];
    }
    return moved;
}

double faithfulnessOf(const std::vector<MapPlace>& places, std::span<const Fingerprint> prints)
{
    std::vector<double> on_sheet;
    std::vector<double> wanted;
    const std::size_t count = places.size();
    const std::size_t stride = std::max<std::size_t>(1, count / compared_places);
    for (std::size_t i = 0; i < count; i += stride)
        for (std::size_t j = i + stride; j < count; j += stride)
            if (const float apart = distance(prints[i], prints[j]); std::isfinite(apart)) {
                on_sheet.push_back(apartOnSheet(places[i], places[j]));
                wanted.push_back(static_cast<double>(apart));
            }
    if (wanted.size() < 3)
        return 0;
    std::vector<double> room(2 * wanted.size());
    const double rank_correlation =
        gsl_stats_spearman(on_sheet.data(), 1, wanted.data(), 1, wanted.size(), room.data());
    return std::isfinite(rank_correlation) ? rank_correlation : 0;
}

/// Far away nearer together, and all of it onto the sheet.
void ontoSheet(std::vector<MapPlace>& places)
{
    for (double MapPlace::*axis : {&MapPlace::x, &MapPlace::y}) {
        std::vector<double> values;
        for (const MapPlace& place : places)
            values.push_back(place.*axis);
        std::ranges::sort(values);
        const double middle = values[values.size() / 2];
        double usual = 0;
        for (const double value : values)
            usual += std::abs(value - middle) / static_cast<double>(values.size());
        double least = 0;
        double most = 0;
        for (MapPlace& place : places) {
            place.*axis = usual > 0 ? std::asinh((place.*axis - middle) / usual) : 0;
            least = std::min(least, place.*axis);
            most = std::max(most, place.*axis);
        }
        for (MapPlace& place : places)
            place.*axis =
                most > least ? margin + (1 - 2 * margin) * (place.*axis - least) / (most - least) : 0.5;
    }
}

} // namespace

LikenessMap mapOf(std::span<const Fingerprint> prints, const std::stop_token& cancel)
{
    LikenessMap map;
    if (prints.empty())
        return map;
    const auto rows = centredRows(prints);
    const auto directions = mainDirections(rows);
    for (const Row& row : rows)
        map.places.push_back({along(row, directions[0]), along(row, directions[1])});
    if (prints.size() <= most_arranged) {
        const auto distances = allDistances(prints);
        for (int step = 0; step < majorisation_steps && !cancel.stop_requested(); ++step)
            map.places = majorised(map.places, distances);
    }
    map.faithfulness = faithfulnessOf(map.places, prints);
    ontoSheet(map.places);
    return map;
}

} // namespace hr::bench
