// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/line_up_document.h"

#include "chain/chain_json.h"
#include "library/settings_json.h"
#include "models/source_list.h"
#include "processors/note_value.h"
#include "processors/settings.h"
#include "processors/states.h"

#include <QFile>
#include <array>
#include <cmath>

namespace hr::app {

using audition::Basis;
using nlohmann::ordered_json;

namespace {

constexpr int longest_name = 200;

constexpr std::array<std::pair<Basis, const char*>, 5> bases{{{Basis::Loudness, "loudness"},
                                                              {Basis::Band, "band"},
                                                              {Basis::Rms, "rms"},
                                                              {Basis::Peak, "peak"},
                                                              {Basis::None, "none"}}};

/// "A" to "H"; "source" for the source itself.
std::string letter(int mark)
{
    return mark == 0 ? "source" : std::string(1, static_cast<char>('A' + mark - 1));
}

/// 0: it is none.
int markOf(const std::string& letter)
{
    return letter.size() == 1 && letter[0] >= 'A' && letter[0] < 'A' + LineUp::most_candidates
               ? letter[0] - 'A' + 1
               : 0;
}

std::string text(const ordered_json& from, const char* key)
{
    const auto found = from.find(key);
    return found != from.end() && found->is_string() ? found->get<std::string>() : std::string();
}

std::optional<double> real(const ordered_json& from, const char* key)
{
    const auto found = from.find(key);
    return found != from.end() && found->is_number() && std::isfinite(found->get<double>())
               ? std::optional(found->get<double>())
               : std::nullopt;
}

ordered_json candidate(const Contender& contender)
{
    ordered_json one{{"letter", letter(contender.mark)}, {"title", contender.title.toStdString()}};
    if (contender.rendered) {
        one["rendered"] = {{"file", contender.rendered->file.toStdString()},
                           {"of", contender.rendered->of.toStdString()}};
    } else if (contender.chain) {
        one["chain"] = chain::toJson(contender.chainNow());
    } else {
        one["processor"] = contender.processor.toStdString();
        one["settings"] = library::settingsToJson(contender.settings());
        if (!contender.location.state.empty())
            one["state"] = processors::base64(contender.location.state);
    }
    if (!contender.name.isEmpty())
        one["name"] = contender.name.toStdString();
    if (!contender.on)
        one["on"] = false;
    if (contender.by_hand_db)
        one["gain_db"] = *contender.by_hand_db;
    if (contender.amount_percent != 100)
        one["amount_percent"] = contender.amount_percent;
    if (contender.return_db != 0)
        one["return_db"] = contender.return_db;
    if (!contender.isOpen() && contender.kept_extras.is_object()) {
        for (const auto& [key, value] : contender.kept_extras.items())
            one[key] = value;
        return one;
    }
    for (const std::size_t held : contender.held)
        one["held"].push_back(contender.info.parameters[held].key);
    for (const std::size_t pinned : contender.pinned)
        one["pinned"].push_back(contender.info.parameters[pinned].key);
    for (const auto& [parameter, limits] : contender.limits)
        one["limits"][contender.info.parameters[parameter].key] = {limits.first, limits.second};
    for (const auto& [parameter, note] : contender.notes)
        one["notes"][contender.info.parameters[parameter].key] = note.toStdString();
    if (contender.follows_tempo)
        one["follows_tempo"] = true;
    if (const auto& preset = contender.preset)
        one["preset"] = {{"id", preset->id.toStdString()},
                         {"name", preset->name.toStdString()},
                         {"changed", preset->changed}};
    for (std::size_t i = 0; i < contender.snapshots.size(); ++i)
        if (const auto& snapshot = contender.snapshots[i])
            one["snapshots"][std::to_string(i + 1)] = library::settingsToJson(contender.settings(*snapshot));
    return one;
}

audition::MatchRule ruleOf(const ordered_json& match)
{
    audition::MatchRule rule;
    for (const auto& [basis, word] : bases)
        if (text(match, "by") == word)
            rule.basis = basis;
    const auto low_hz = real(match, "low_hz");
    const auto high_hz = real(match, "high_hz");
    if (low_hz && high_hz && *low_hz >= 1 && *low_hz <= *high_hz)
        rule.band = {*low_hz, *high_hz};
    return rule;
}

/// An empty object where there is none.
ordered_json part(const ordered_json& document, const char* key)
{
    const auto found = document.find(key);
    return found != document.end() ? *found : ordered_json::object();
}

/// Members of a candidate that need its parameters.
constexpr std::array extra_keys{"held", "pinned", "limits", "notes", "follows_tempo", "preset", "snapshots"};

ordered_json extrasOf(const ordered_json& one)
{
    auto found = ordered_json::object();
    for (const char* key : extra_keys)
        if (one.contains(key))
            found[key] = one[key];
    return found;
}

void addCandidate(const ordered_json& one, LineUp& line_up)
{
    if (!one.is_object())
        return;
    const int mark = markOf(text(one, "letter"));
    ContenderId id = audition::no_contender;
    if (const ordered_json rendered = part(one, "rendered"); !text(rendered, "file").empty())
        id = line_up.addRendered(QString::fromStdString(text(rendered, "file")),
                                 QString::fromStdString(text(rendered, "of")), mark);
    else if (const auto chain = chain::fromJson(one.value("chain", ordered_json())))
        id = line_up.addChain(*chain, 0, mark);
    else if (const std::string processor = text(one, "processor"); !processor.empty())
        id = line_up.addKept(QString::fromStdString(processor), QString::fromStdString(text(one, "title")),
                             library::settingsFromJson(one.value("settings", ordered_json())), mark,
                             processors::fromBase64(text(one, "state")).value_or(""));
    if (id == audition::no_contender)
        return;
    line_up.setByHand(id, real(one, "gain_db"));
    line_up.setName(id, QString::fromStdString(text(one, "name")).left(longest_name));
    line_up.setOn(id, one.value("on", ordered_json()) != false);
    line_up.setAmount(id, real(one, "amount_percent").value_or(100));
    line_up.setReturn(id, real(one, "return_db").value_or(0));
    if (const Contender* contender = line_up.find(id); contender->isOpen())
        restoreExtras(one, *contender, line_up);
    else
        line_up.keepExtras(id, extrasOf(one));
}

} // namespace

void restoreExtras(const ordered_json& one, const Contender& contender, LineUp& line_up)
{
    if (!one.is_object())
        return;
    const ContenderId id = contender.id;
    const auto indexOf = [&contender](const ordered_json& key) {
        return key.is_string() ? contender.info.parameterIndex(key.get<std::string>()) : std::nullopt;
    };
    for (const ordered_json& held : part(one, "held"))
        if (const auto index = indexOf(held))
            line_up.hold(id, *index, true);
    for (const ordered_json& pinned : part(one, "pinned"))
        if (const auto index = indexOf(pinned))
            line_up.pin(id, *index, true);
    const ordered_json limits = part(one, "limits");
    if (limits.is_object())
        for (const auto& [key, ends] : limits.items())
            if (const auto index = indexOf(key);
                index && ends.is_array() && ends.size() == 2 && ends[0].is_number() && ends[1].is_number())
                line_up.setLimits(id, *index, std::pair(ends[0].get<double>(), ends[1].get<double>()));
    const ordered_json notes = part(one, "notes");
    if (notes.is_object())
        for (const auto& [key, note] : notes.items())
            if (const auto index = contender.info.parameterIndex(key);
                index && note.is_string() && processors::isNoteValue(note.get<std::string>()))
                line_up.setNote(id, *index, QString::fromStdString(note.get<std::string>()));
    line_up.setFollowsTempo(id, one.value("follows_tempo", ordered_json()) == true);
    if (const ordered_json preset = part(one, "preset"); !text(preset, "name").empty())
        line_up.setPreset(id, {QString::fromStdString(text(preset, "id")),
                               QString::fromStdString(text(preset, "name")),
                               preset.value("changed", ordered_json()) == true});
    const ordered_json snapshots = part(one, "snapshots");
    for (std::size_t i = 0; i < contender.snapshots.size(); ++i)
        if (const auto found = snapshots.find(std::to_string(i + 1)); found != snapshots.end())
            line_up.setSnapshot(id, i,
                                processors::nearestValues(contender.info, library::settingsFromJson(*found)));
}

DocumentSource sourceOf(const ordered_json& document)
{
    const ordered_json source = part(document, "source");
    const auto first_s = real(source, "first_s");
    const auto length_s = real(source, "length_s");
    DocumentSource found{QString::fromStdString(text(source, "file")), std::nullopt};
    if (first_s && length_s && *first_s >= 0 && *length_s > 0)
        found.passage = Passage{*first_s, *length_s, real(source, "level_db").value_or(0)};
    return found;
}

bool isSame(const ordered_json& one, const ordered_json& other)
{
    constexpr double same_s = 0.001; // at another rate a section is the same to a frame
    const DocumentSource here = sourceOf(one);
    const DocumentSource there = sourceOf(other);
    const Passage passage = here.passage.value_or(Passage());
    const Passage other_passage = there.passage.value_or(Passage());
    if (here.file != there.file || std::abs(passage.first_s - other_passage.first_s) > same_s ||
        std::abs(passage.length_s - other_passage.length_s) > same_s ||
        passage.level_db != other_passage.level_db)
        return false;
    ordered_json rest = one;
    ordered_json other_rest = other;
    rest.erase("source");
    other_rest.erase("source");
    return rest == other_rest;
}

ordered_json toDocument(const LineUp& line_up, const Transport& transport)
{
    const audition::MatchRule& rule = line_up.rule();
    ordered_json document{{"format", line_up_format}, {"version", line_up_version}};
    if (const auto passage = transport.passage())
        document["source"] = {{"file", transport.sourceFile().toStdString()},
                              {"first_s", passage->first_s},
                              {"length_s", passage->length_s},
                              {"level_db", passage->level_db}};
    for (const auto& [basis, word] : bases)
        if (basis == rule.basis)
            document["match"] = {{"by", word}, {"low_hz", rule.band.low_hz}, {"high_hz", rule.band.high_hz}};
    if (line_up.use() == LineUp::Use::Send)
        document["use"] = "send";
    document["reference"] = letter(line_up.find(line_up.reference())->mark);
    if (const auto& gain_db = line_up.find(LineUp::untreated)->by_hand_db)
        document["source_gain_db"] = *gain_db;
    document["candidates"] = ordered_json::array();
    for (const Contender& contender : line_up.candidates())
        document["candidates"].push_back(candidate(contender));
    return document;
}

void fromDocument(const ordered_json& document, LineUp& line_up, Transport& transport)
{
    if (!document.is_object() || !line_up.clear())
        return;
    line_up.setRule(ruleOf(part(document, "match")));
    line_up.setUse(text(document, "use") == "send" ? LineUp::Use::Send : LineUp::Use::Insert);
    line_up.setByHand(LineUp::untreated, real(document, "source_gain_db"));
    for (const ordered_json& one : part(document, "candidates"))
        addCandidate(one, line_up);
    if (const Contender* reference = line_up.byMark(markOf(text(document, "reference"))))
        line_up.setReference(reference->id);
    if (const DocumentSource source = sourceOf(document); !source.file.isEmpty() && isSourceThere(source.file))
        transport.load(source.file, source.passage);
}

} // namespace hr::app
