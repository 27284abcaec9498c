// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/trial/pooled.h"

#include "audition/trial/abx.h"

namespace hr::audition {

namespace {

int whole(const nlohmann::ordered_json& from, const char* key)
{
    const auto found = from.find(key);
    return found != from.end() && found->is_number_integer() ? found->get<int>() : 0;
}

} // namespace

nlohmann::ordered_json pooledAbx(std::span<const nlohmann::ordered_json> trials)
{
    int count = 0;
    int stopped = 0;
    int answered = 0;
    int correct = 0;
    for (const nlohmann::ordered_json& trial : trials) {
        if (!trial.is_object() || trial.value("kind", nlohmann::ordered_json()) != "abx" ||
            !trial.contains("result") || !trial.at("result").is_object())
            continue;
        const nlohmann::ordered_json& result = trial.at("result");
        const int of = whole(result, "answered");
        const int right = whole(result, "correct");
        if (of < 1 || of > AbxSheet::most_rounds || right < 0 || right > of)
            continue;
        ++count;
        stopped += result.value("stopped_early", nlohmann::ordered_json()) == true ? 1 : 0;
        answered += of;
        correct += right;
    }
    const auto figures = count < 2 ? Result<nlohmann::ordered_json>() : abxFigures(correct, answered);
    if (count < 2 || !figures)
        return nullptr;
    std::string sentence = "Pooled over " + std::to_string(count) + " trials";
    if (stopped > 0)
        sentence += ", " + std::to_string(stopped) + " of them stopped early";
    sentence += ": " + figures->at("sentence").get<std::string>() +
                " Which trials are pooled was not fixed before the first answer: it shows less than one trial "
                "of that length.";
    nlohmann::ordered_json pooled{
        {"trials", count}, {"stopped_early", stopped}, {"answered", answered}, {"correct", correct}};
    pooled.update(*figures);
    pooled["sentence"] = sentence;
    return pooled;
}

} // namespace hr::audition
