// SPDX-License-Identifier: GPL-3.0-or-later
#include "chain/company.h"

#include "chain/chain_json.h"
#include "chain/fields.h"
#include "signal/levels.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <set>

namespace hr::chain {

using nlohmann::ordered_json;

SideGains gainsOf(const Standing& standing)
{
    if (!standing.heard)
        return {0, 0};
    const double gain = signal::dbToLinear(standing.level_db);
    const double far_side = std::cos(std::abs(standing.place_percent) / 100 * std::numbers::pi / 2);
    return {gain * (standing.place_percent > 0 ? far_side : 1),
            gain * (standing.place_percent < 0 ? far_side : 1)};
}

const Part* Company::part(const std::string& id) const
{
    const auto found = std::ranges::find(parts, id, &Part::id);
    return found == parts.end() ? nullptr : &*found;
}

const Return* Company::returnOf(const std::string& id) const
{
    const auto found = std::ranges::find(returns, id, &Return::id);
    return found == returns.end() ? nullptr : &*found;
}

std::string newId(Company& company, const std::string& prefix)
{
    const auto taken = [&](const std::string& id) {
        return company.part(id) || std::ranges::find(company.returns, id, &Return::id) != company.returns.end();
    };
    std::string id;
    do
        id = prefix + std::to_string(company.next_id++);
    while (taken(id));
    return id;
}

// --- as JSON -----------------------------------------------------------------------------------------

namespace {

void put(ordered_json& json, const Standing& standing)
{
    json["level_db"] = standing.level_db;
    json["place_percent"] = standing.place_percent;
    json["heard"] = standing.heard;
}

void put(ordered_json& json, const Chain& chain, const char* key = "chain")
{
    if (!chain.nodes.empty())
        json[key] = toJson(chain);
}

Result<void> readStanding(const ordered_json& json, Standing& standing)
{
    return all({readNumber(json, "level_db", -60, 24, standing.level_db),
                readNumber(json, "place_percent", -100, 100, standing.place_percent),
                readFlag(json, "heard", standing.heard)});
}

Result<void> readChain(const ordered_json& json, const char* key, Chain& chain)
{
    const auto found = json.find(key);
    if (found == json.end() || found->is_null())
        return {};
    auto read = fromJson(*found);
    if (!read) {
        std::string why = read.error().text;
        if (why.ends_with('.'))
            why.pop_back(); // the sentence goes on
        return wrongRequest(std::string("has a \"") + key + "\" that cannot be used: " + why);
    }
    chain = std::move(*read);
    return {};
}

Result<Part> partFrom(const ordered_json& json)
{
    Part part;
    if (!json.is_object() || !processors::isNodeId(part.id = textIn(json, "id")))
        return wrongRequest("has no \"id\" of letters and digits");
    part.name = textIn(json, "name");
    part.file = textIn(json, "file");
    if (part.file.empty())
        return wrongRequest("has no \"file\"");
    if (auto read = all({readStanding(json, part.standing), readFlag(json, "repeats", part.repeats),
                         readChain(json, "chain", part.chain)});
        !read)
        return tl::make_unexpected(read.error());
    const auto sends = json.find("sends");
    if (sends == json.end())
        return part;
    if (!sends->is_array() || sends->size() > most_returns)
        return wrongRequest("has \"sends\" that are not a short list");
    for (const ordered_json& one : *sends) {
        Part::SendTo send;
        if (!one.is_object() || (send.to = textIn(one, "to")).empty())
            return wrongRequest("has a send without its \"to\"");
        if (auto read = readNumber(one, "level_db", -60, 24, send.level_db); !read)
            return tl::make_unexpected(read.error());
        part.sends.push_back(std::move(send));
    }
    return part;
}

Result<Return> returnFrom(const ordered_json& json)
{
    Return back;
    if (!json.is_object() || !processors::isNodeId(back.id = textIn(json, "id")))
        return wrongRequest("has no \"id\" of letters and digits");
    back.name = textIn(json, "name");
    if (auto read = all({readStanding(json, back.standing), readChain(json, "chain", back.chain)}); !read)
        return tl::make_unexpected(read.error());
    return back;
}

/// A list of at most so many, each as `from` reads it.
template<class One, class From>
Result<std::vector<One>> readList(const ordered_json& document, const char* key, std::size_t most, From from)
{
    std::vector<One> all;
    const auto list = document.find(key);
    if (list == document.end())
        return all;
    if (!list->is_array() || list->size() > most)
        return wrongRequest(std::string("Its \"") + key + "\" are not a list of at most " +
                            std::to_string(most) + ".");
    for (const ordered_json& json : *list) {
        auto one = from(json);
        if (!one)
            return wrongRequest(std::string("Number ") + std::to_string(all.size() + 1) + " of its \"" + key +
                                "\" " + one.error().text + ".");
        all.push_back(std::move(*one));
    }
    return all;
}

Result<void> checkIds(const Company& company)
{
    std::set<std::string> ids;
    for (const Part& part : company.parts)
        if (!ids.insert(part.id).second)
            return wrongRequest("There are two \"" + part.id + "\" in it.");
    for (const Return& back : company.returns)
        if (!ids.insert(back.id).second)
            return wrongRequest("There are two \"" + back.id + "\" in it.");
    for (const Part& part : company.parts)
        for (const Part::SendTo& send : part.sends)
            if (!company.returnOf(send.to))
                return wrongRequest("\"" + part.id + "\" sends to \"" + send.to + "\", which is no return.");
    return {};
}

} // namespace

std::string toText(const Company& company)
{
    return toJson(company).dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
}

ordered_json toJson(const Company& company)
{
    ordered_json json{{"format", company_format}, {"version", company_version}, {"name", company.name}};
    json["parts"] = ordered_json::array();
    for (const Part& part : company.parts) {
        ordered_json one{{"id", part.id}, {"name", part.name}, {"file", part.file}};
        put(one, part.standing);
        one["repeats"] = part.repeats;
        for (const Part::SendTo& send : part.sends)
            one["sends"].push_back({{"to", send.to}, {"level_db", send.level_db}});
        put(one, part.chain);
        json["parts"].push_back(std::move(one));
    }
    for (const Return& back : company.returns) {
        ordered_json one{{"id", back.id}, {"name", back.name}};
        put(one, back.standing);
        put(one, back.chain);
        json["returns"].push_back(std::move(one));
    }
    put(json, company.sum, "sum");
    json["next_id"] = company.next_id;
    return json;
}

bool isCompany(const ordered_json& document)
{
    return document.is_object() && textIn(document, "format") == company_format;
}

Result<Company> companyFromJson(const ordered_json& document)
{
    if (!isCompany(document))
        return wrongRequest("It does not hold parts in step: its \"format\" is not \"honest-rack-company\".");
    if (document.value("version", ordered_json()) != company_version)
        return wrongRequest("It was written by another version of Honest Rack: this one reads version 1.");
    Company company;
    company.name = textIn(document, "name");
    auto parts = readList<Part>(document, "parts", most_parts, partFrom);
    if (!parts)
        return tl::make_unexpected(parts.error());
    if (parts->empty())
        return wrongRequest("It has no parts.");
    company.parts = std::move(*parts);
    auto returns = readList<Return>(document, "returns", most_returns, returnFrom);
    if (!returns)
        return tl::make_unexpected(returns.error());
    company.returns = std::move(*returns);
    if (auto sum = readChain(document, "sum", company.sum); !sum)
        return wrongRequest("It " + sum.error().text);
    if (auto ids = checkIds(company); !ids)
        return tl::make_unexpected(ids.error());
    const auto next = document.find("next_id");
    if (next != document.end() && next->is_number_unsigned() && *next < 1000000U)
        company.next_id = std::max<std::size_t>(1, next->get<std::size_t>());
    return company;
}

} // namespace hr::chain
