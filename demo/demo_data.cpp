// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo_data.h"

#include "signal/audio_file.h"
#include "sources.h"

#include <algorithm>
#include <atomic>
#include <cerrno>
#include <cstring>
#include <fstream>
#include <mutex>
#include <nlohmann/json.hpp>
#include <thread>

namespace demo {

namespace fs = std::filesystem;
using nlohmann::ordered_json;

namespace {

hr::Result<void> writeText(const fs::path& file, const ordered_json& json)
{
    std::ofstream out(file);
    out << json.dump(2) << '\n';
    out.close();
    if (!out)
        return hr::machineFailed("Writing " + file.string() + " failed (" + std::strerror(errno) +
                                 "): make room there or choose another folder.");
    return {};
}

ordered_json brassBus()
{
    const auto item = [](const char* name, const ordered_json& settings) {
        return ordered_json{{"kind", "processor"},
                            {"id", std::string("lv2:urn:honest-rack:specimens:") + name},
                            {"settings", settings}};
    };
    return {{"format", "honest-rack-collection"},
            {"version", 1},
            {"name", "Brass bus"},
            {"items",
             {item("cordage-leveller", {{"threshold_db", -28.0}, {"ratio", 2.0}, {"attack_ms", 60.0}}),
              item("tidepool-equaliser", ordered_json::object()),
              item("lantern-saturator", {{"drive_db", 6.0}, {"colour_percent", 60.0}})}}};
}

/// A stage of one of the specimens, for what it is there for.
ordered_json stage(const char* id, const char* purpose, const char* processor, const ordered_json& settings)
{
    return {{"id", id},
            {"purpose", purpose},
            {"processor", std::string("lv2:urn:honest-rack:specimens:") + processor},
            {"settings", settings}};
}

ordered_json chainOf(const char* name, const std::vector<ordered_json>& stages)
{
    return {{"format", "honest-rack-chain"}, {"version", 2}, {"name", name}, {"nodes", stages}};
}

/// Band, choir and guide, in step on the evening deck.
ordered_json eveningDeck()
{
    const auto part = [](const char* id, const char* name, const char* file, double level_db, double place) {
        return ordered_json{{"id", id},
                            {"name", name},
                            {"file", std::string("../sources/") + file},
                            {"level_db", level_db},
                            {"place_percent", place}};
    };
    ordered_json drum = part("p1", "tuba and drum", "tuba-and-drum.wav", -3, -15);
    drum["chain"] =
        chainOf("tuba and drum",
                {stage("s1", "hold the stick", "cordage-leveller", {{"threshold_db", -24.0}, {"ratio", 3.0}})});
    ordered_json bass = part("p2", "upright bass", "upright-bass.wav", -4.5, 10);
    bass["chain"] =
        chainOf("upright bass",
                {stage("s1", "even out notes", "cordage-leveller", {{"threshold_db", -28.0}, {"ratio", 2.0}}),
                 stage("s2", "warm", "lantern-saturator", {{"drive_db", 4.0}})});
    ordered_json choir = part("p3", "choir", "harbour-choir.wav", 0, 0);
    choir["chain"] = chainOf(
        "choir", {stage("s1", "less of the quay", "tidepool-equaliser", {{"low_db", -4.0}}),
                  stage("s2", "hold together", "cordage-leveller", {{"threshold_db", -30.0}, {"ratio", 2.0}})});
    choir["sends"] = {{{"to", "r1"}, {"level_db", -9.0}}};
    ordered_json guide = part("p4", "guide", "spoken-guide.wav", -6, 0);
    ordered_json hall{{"id", "r1"}, {"name", "hall"}, {"level_db", -3.0}};
    hall["chain"] =
        chainOf("hall", {stage("s1", "the hall behind them", "boathouse", {{"blend_percent", 100.0}})});
    return {{"format", "honest-rack-company"},
            {"version", 1},
            {"name", "Evening deck"},
            {"parts", {drum, bass, choir, guide}},
            {"returns", {hall}},
            {"sum", chainOf("the sum", {stage("s1", "bind", "cordage-leveller",
                                              {{"threshold_db", -20.0}, {"ratio", 1.5}})})},
            {"next_id", 6}};
}

/// To begin with; what they are set to is a start.
ordered_json voiceTemplate()
{
    return chainOf(
        "Voice, to begin with",
        {stage("s1", "less of the room below", "tidepool-equaliser", {{"low_db", -4.0}}),
         stage("s2", "even out words", "cordage-leveller", {{"threshold_db", -26.0}, {"ratio", 2.5}}),
         stage("s3", "warm", "lantern-saturator", {{"drive_db", 3.0}}),
         stage("s4", "a room around it", "boathouse", ordered_json::object())});
}

/// Those that are missing, on all cores: synthesis takes seconds.
hr::Result<void> writeSources(const fs::path& folder, const std::function<void(double)>& progress,
                              const std::stop_token& cancel)
{
    std::atomic<std::size_t> next{0};
    std::atomic<std::size_t> done{0};
    std::mutex one_at_a_time;
    hr::Result<void> all; // guarded by one_at_a_time
    const auto work = [&] {
        for (std::size_t i = next++; i < demoSources().size() && !cancel.stop_requested(); i = next++) {
            const DemoSource& source = demoSources()[i];
            std::error_code ignored;
            auto written = fs::exists(folder / source.file, ignored)
                               ? hr::Result<void>()
                               : hr::signal::writeAudioFile(folder / source.file, source.make());
            const std::lock_guard lock(one_at_a_time);
            if (!written)
                all = written;
            if (progress)
                progress(static_cast<double>(++done) / static_cast<double>(demoSources().size()));
        }
    };
    std::vector<std::jthread> pool;
    for (unsigned i = 0; i < std::max(1U, std::thread::hardware_concurrency()); ++i)
        pool.emplace_back(work);
    pool.clear();
    return all;
}

} // namespace

hr::Result<void> writeDemoData(const fs::path& directory, const std::function<void(double)>& progress,
                               const std::stop_token& cancel)
{
    std::error_code failed;
    fs::create_directories(directory / "sources", failed);
    fs::create_directories(directory / "collections", failed);
    fs::create_directories(directory / "parts", failed);
    fs::create_directories(directory / "templates", failed);
    if (failed)
        return hr::machineFailed("The folder " + directory.string() + " cannot be made (" + failed.message() +
                                 "): choose another.");
    ordered_json list = ordered_json::array();
    for (const DemoSource& source : demoSources()) {
        list.push_back({{"file", source.file},
                        {"name", source.name},
                        {"role", source.role},
                        {"tempo_bpm", source.tempo_bpm}});
    }
    if (auto written = writeText(directory / "sources" / "sources.json", list); !written)
        return written;
    if (auto written = writeText(directory / "collections" / "brass-bus.json", brassBus()); !written)
        return written;
    if (auto written = writeText(directory / "parts" / "evening-deck.json", eveningDeck()); !written)
        return written;
    if (auto written = writeText(directory / "templates" / "Voice, to begin with.json", voiceTemplate());
        !written)
        return written;
    return writeSources(directory / "sources", progress, cancel);
}

const std::vector<DemoSource>& demoSources()
{
    static const std::vector<DemoSource> sources{
        {"evening-crossing.wav", "Evening crossing", "brass band, full mix", 96, brassBand},
        {"spoken-guide.wav", "Spoken guide", "voice", 0, spokenGuide},
        {"deck-drums.wav", "Deck drums", "snare and frame drum", 104, deckDrums},
        {"upright-bass.wav", "Below the waterline", "upright bass", 96, uprightBass},
        {"harbour-choir.wav", "Harbour choir", "choir with sibilants", 72, harbourChoir},
        {"hand-bells.wav", "Landing bells", "hand bells", 80, handBells},
        {"accordion.wav", "Third-class waltz", "accordion", 120, accordion},
        {"tuba-and-drum.wav", "Engine room", "tuba and bass drum", 96, tubaAndDrum},
    };
    return sources;
}

} // namespace demo
