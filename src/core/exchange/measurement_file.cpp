// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/measurement_file.h"

#include "processors/states.h"

namespace hr::exchange {

using nlohmann::ordered_json;

namespace {

std::optional<double> numberAt(const ordered_json& from, const char* key)
{
    const auto found = from.find(key);
    return found != from.end() && found->is_number() ? std::optional(found->get<double>()) : std::nullopt;
}

bench::Conditions conditionsIn(const ordered_json& from)
{
    bench::Conditions conditions;
    conditions.sample_rate_hz = from.at("sample_rate").get<double>();
    conditions.block_frames = from.at("block").get<std::size_t>();
    conditions.level_dbfs = numberAt(from, "level_dbfs");
    conditions.frequency_hz = numberAt(from, "frequency_hz");
    conditions.tempo_bpm = numberAt(from, "tempo_bpm");
    conditions.key = from.value("key_input", std::string()) == "silence" ? bench::KeyFeed::Silence
                                                                         : bench::KeyFeed::OwnInput;
    if (const auto programme = from.find("programme"); programme != from.end() && programme->is_object())
        conditions.programme = std::make_shared<bench::Passage>(bench::Passage{
            programme->value("title", std::string()), programme->value("identity", std::string())});
    return conditions;
}

std::optional<bench::Measurement::Failure> failureIn(const ordered_json& from)
{
    if (from.is_null())
        return std::nullopt;
    bench::Measurement::Failure failure;
    failure.test = from.value("test", std::string());
    failure.fault.detail = from.value("detail", std::string());
    (void)hosting::parseWord(from.value("stage", std::string()), failure.fault.phase);
    (void)hosting::parseWord(from.value("cause", std::string()), failure.fault.cause);
    return failure;
}

/// The readings with their flags, which stand apart in the document.
std::vector<std::pair<std::string, bench::Reading>> readingsIn(const ordered_json& document)
{
    std::vector<std::pair<std::string, bench::Reading>> readings;
    for (const auto& [test, figures] : document.at("readings").items()) {
        auto reading = bench::readingFromJson(figures);
        if (!reading)
            continue;
        for (const auto& flag : document.at("flags"))
            if (flag.value("test", std::string()) == test)
                reading->flags.push_back(bench::flagFromJson(flag));
        readings.emplace_back(test, std::move(*reading));
    }
    return readings;
}

} // namespace

ordered_json measurementDocument(const library::SetUp& set_up, const bench::Measurement& measurement,
                                 const std::vector<std::string>& tests)
{
    ordered_json document = bench::toJson(measurement);
    document["set_up"] = {{"build", set_up.build.toStdString()},
                          {"preset", set_up.preset.toStdString()},
                          {"at_defaults", set_up.at_defaults}};
    if (!set_up.state.empty())
        document["set_up"]["state"] = processors::base64(set_up.state);
    document["tests"] = tests;
    return document;
}

Result<MeasurementFile> measurementIn(const ordered_json& document)
{
    const auto refused = [] {
        return wrongRequest(
            "It is not a measurement of a batch: such a file has processor, settings, conditions, "
            "readings and set_up.");
    };
    try { // nlohmann-json reports by exceptions; they end here
        MeasurementFile file;
        const auto& processor = document.at("processor");
        const auto& set_up = document.at("set_up");
        const auto& conditions = document.at("conditions");
        file.set_up.processor = QString::fromStdString(processor.at("id").get<std::string>());
        file.set_up.build = QString::fromStdString(set_up.at("build").get<std::string>());
        file.set_up.preset = QString::fromStdString(set_up.at("preset").get<std::string>());
        file.set_up.state = processors::fromBase64(set_up.value("state", std::string())).value_or("");
        file.set_up.at_defaults = set_up.at("at_defaults").get<bool>();
        file.set_up.settings = document.at("settings");
        bench::Measurement& m = file.measurement;
        m.processor.id = processor.at("id").get<std::string>();
        m.processor.name = processor.at("name").get<std::string>();
        m.processor.maker = processor.at("maker").get<std::string>();
        m.processor.format = processor.at("format").get<std::string>();
        m.processor.version = processor.at("version").get<std::string>();
        m.processor.audio_in = conditions.at("channels").get<decltype(m.processor.audio_in)>();
        m.processor.key_in = conditions.contains("key_input") ? 1 : 0;
        m.conditions = conditionsIn(conditions);
        m.started = conditions.at("started").get<std::string>();
        m.readings = readingsIn(document);
        m.failure = failureIn(document.at("failure"));
        file.bench_version = conditions.at("bench_version").get<std::string>();
        file.tests = document.at("tests").get<std::vector<std::string>>();
        m.asked = file.tests.size();
        return document.at("settings").is_object() && document.at("readings").is_object()
                   ? Result<MeasurementFile>(std::move(file))
                   : refused();
    } catch (const ordered_json::exception&) {
        return refused();
    }
}

} // namespace hr::exchange
