// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/trial/pooled.h"

#include "audition/trial/abx.h"
#include "audition/trial/preference.h"
#include "audition/trial/rating.h"

#include <map>

namespace hr::audition {

using nlohmann::ordered_json;

namespace {

int whole(const ordered_json& from, const char* key)
{
    const auto found = from.find(key);
    return found != from.end() && found->is_number_integer() ? found->get<int>() : 0;
}

std::string word(const ordered_json& from, const char* key)
{
    const auto found = from.find(key);
    return found != from.end() && found->is_string() ? found->get<std::string>() : std::string();
}

struct Pool {
    int trials = 0, stopped = 0, answered = 0, not_counted = 0;

    void add(const ordered_json& result, int answers)
    {
        ++trials;
        answered += answers;
        stopped += result.value("stopped_early", ordered_json()) == true ? 1 : 0;
    }
    ordered_json document(const char* kind, const ordered_json& figures) const
    {
        if (trials < 2)
            return nullptr;
        std::string sentence = "Pooled over " + std::to_string(trials) + " trials";
        if (stopped > 0)
            sentence += ", " + std::to_string(stopped) + " of them stopped early";
        if (not_counted > 0)
            sentence += ", " + std::to_string(not_counted) + " more not counted";
        sentence += ": " + figures.at("sentence").get<std::string>() +
                    " Which trials are pooled was not fixed before the first answer: it shows less than one "
                    "trial of that length.";
        ordered_json pooled{
            {"kind", kind}, {"trials", trials}, {"stopped_early", stopped}, {"answered", answered}};
        pooled.update(figures);
        pooled["sentence"] = sentence;
        return pooled;
    }
};

ordered_json pooledAbx(const std::vector<const ordered_json*>& trials)
{
    Pool pool;
    int correct = 0;
    for (const ordered_json* trial : trials) {
        const ordered_json& result = trial->at("result");
        const int of = whole(result, "answered");
        const int right = whole(result, "correct");
        if (of < 1 || of > AbxSheet::most_rounds || right < 0 || right > of)
            continue;
        pool.add(result, of);
        correct += right;
    }
    auto figures = abxFigures(correct, std::max(1, pool.answered));
    if (!figures)
        return nullptr;
    (*figures)["correct"] = correct;
    return pool.document("abx", *figures);
}

// --- of several -----------------------------------------------------------------------------------------

/// By name, what says who it is: exactly the same for the same at the same settings. Empty where two are alike.
std::map<std::string, std::string> identities(const ordered_json& trial)
{
    std::map<std::string, std::string> by_name;
    std::map<std::string, int> seen;
    for (const ordered_json& one : trial.value("candidates", ordered_json::array())) {
        if (!one.is_object())
            return {};
        const auto part = [&one](const char* key) { return one.value(key, ordered_json()); };
        const std::string who =
            ordered_json{part("untreated"), part("chain"), part("processor"), part("settings")}.dump(
                -1, ' ', false, ordered_json::error_handler_t::replace);
        if (++seen[who] > 1 || !by_name.emplace(word(one, "name"), who).second)
            return {};
    }
    return by_name;
}

/// From the names of one trial to those of the first; empty where they are not of the same ones.
std::map<std::string, std::string> namesAsInFirst(const ordered_json& first, const ordered_json& trial)
{
    const auto theirs = identities(trial);
    std::map<std::string, std::string> names;
    for (const auto& [name, who] : identities(first))
        for (const auto& [other, same] : theirs)
            if (who == same)
                names.emplace(other, name);
    return names.size() == theirs.size() && theirs.size() == identities(first).size()
               ? names
               : std::map<std::string, std::string>();
}

ordered_json pooledPreference(const std::vector<const ordered_json*>& trials)
{
    Pool pool;
    std::vector<std::string> names; // of candidates by their index
    for (const auto& [name, who] : identities(*trials.front()))
        names.push_back(name);
    std::vector<Ranking> rankings;
    for (const ordered_json* trial : trials) {
        const auto as_in_first = namesAsInFirst(*trials.front(), *trial);
        std::vector<Ranking> theirs;
        for (const ordered_json& ranked : trial->at("result").value("rankings", ordered_json::array())) {
            Ranking ranking;
            for (const ordered_json& name : ranked) {
                const auto known = as_in_first.find(name.is_string() ? name.get<std::string>() : "");
                if (known == as_in_first.end())
                    break;
                const auto at = std::ranges::find(names, known->second) - names.begin();
                if (std::ranges::find(ranking, static_cast<std::size_t>(at)) == ranking.end())
                    ranking.push_back(static_cast<std::size_t>(at));
            }
            if (ranking.size() == names.size() && ranking.size() >= fewest_ranked)
                theirs.push_back(std::move(ranking));
        }
        if (theirs.empty())
            continue;
        pool.add(trial->at("result"), static_cast<int>(theirs.size()));
        rankings.insert(rankings.end(), theirs.begin(), theirs.end());
    }
    if (rankings.empty())
        return nullptr;
    const Agreement agreement = agreementOf(rankings);
    return pool.document("preference", {{"w", agreement.w},
                                        {"p_value", agreement.p_value},
                                        {"mean_ranks", agreement.mean_ranks},
                                        {"names", names},
                                        {"sentence", agreement.sentence(names)}});
}

ordered_json pooledRating(const std::vector<const ordered_json*>& trials)
{
    Pool pool;
    std::vector<std::string> passes;
    for (const ordered_json* trial : trials) {
        const ordered_json& result = trial->at("result");
        const auto as_in_first = namesAsInFirst(*trials.front(), *trial);
        if (as_in_first.empty())
            continue;
        if (result.value("counted", ordered_json()) != true) {
            ++pool.not_counted;
            continue;
        }
        std::vector<std::string> theirs;
        for (const ordered_json& answer : result.value("answers", ordered_json::array())) {
            std::string pass;
            for (const auto& [name, grade] : answer.items()) {
                const auto known = as_in_first.find(name);
                pass += (pass.empty() ? "" : ",") + (known == as_in_first.end() ? name : known->second) + '=' +
                        grade.dump();
            }
            theirs.push_back(std::move(pass));
        }
        if (theirs.empty() || !ratingFigures(theirs))
            continue;
        pool.add(result, static_cast<int>(theirs.size()));
        passes.insert(passes.end(), theirs.begin(), theirs.end());
    }
    const auto figures = passes.empty() ? Result<ordered_json>(ordered_json()) : ratingFigures(passes);
    return figures && figures->is_object() ? pool.document("rating", *figures) : ordered_json(nullptr);
}

} // namespace

ordered_json pooledTrials(std::span<const ordered_json> trials)
{
    std::vector<const ordered_json*> alike; // answered, of the kind of the first
    std::string kind;
    for (const ordered_json& trial : trials) {
        if (!trial.is_object() || !trial.contains("result") || !trial.at("result").is_object() ||
            whole(trial.at("result"), "answered") < 1)
            continue;
        if (alike.empty())
            kind = word(trial, "kind");
        if (word(trial, "kind") == kind)
            alike.push_back(&trial);
    }
    if (alike.size() < 2)
        return nullptr;
    return kind == "abx"          ? pooledAbx(alike)
           : kind == "preference" ? pooledPreference(alike)
           : kind == "rating"     ? pooledRating(alike)
                                  : ordered_json(nullptr);
}

} // namespace hr::audition
