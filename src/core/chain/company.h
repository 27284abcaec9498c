// SPDX-License-Identifier: GPL-3.0-or-later
//
// Several sources in step, as they are written down: parts, each with its chain, level and place between left
// and right; returns, which parts send to; and a chain on the sum of all. How they sound together is
// audition/company.h.
#pragma once

#include "chain/chain.h"

#include <nlohmann/json.hpp>

namespace hr::chain {

inline constexpr const char* company_format = "honest-rack-company";
inline constexpr int company_version = 1;
inline constexpr std::size_t most_parts = 12;
inline constexpr std::size_t most_returns = 8;

/// Where something stands in the sum.
struct Standing {
    double level_db = 0;      ///< -60 to 24
    double place_percent = 0; ///< -100: left, 100: right
    bool heard = true;
};
/// Linear gains of left and right: at a place beside the middle the far side is turned down along a quarter of
/// a cosine, and the near one stays. Zeros where it is not heard.
struct SideGains {
    double left = 1, right = 1;
};
SideGains gainsOf(const Standing& standing);

struct Part {
    std::string id; ///< within its company, for life
    std::string name;
    std::string file; ///< of its sound; relative: beside the company's own file
    Standing standing;
    bool repeats = true; ///< where it is shorter than what plays; else it falls silent
    Chain chain;         ///< empty: none
    struct SendTo {
        std::string to; ///< id of a return
        double level_db = 0;
    };
    std::vector<SendTo> sends = {}; ///< from behind its chain and level
};

/// What parts send to comes back through its chain, fully wet.
struct Return {
    std::string id;
    std::string name;
    Standing standing;
    Chain chain;
};

struct Company {
    std::string name;
    std::vector<Part> parts;
    std::vector<Return> returns = {};
    Chain sum = {}; ///< what all of it goes through at the end
    std::size_t next_id = 1;

    // Null: it is not there.
    const Part* part(const std::string& id) const;
    const Return* returnOf(const std::string& id) const;
};

/// An id that none of them has had.
std::string newId(Company& company, const std::string& prefix);

nlohmann::ordered_json toJson(const Company& company);
/// In one line; what is not UTF-8 in it is replaced.
std::string toText(const Company& company);
/// Refuses what is not a company, a newer version, chains that cannot run, values out of range, sends to what
/// is not there, and more than there may be, naming the part.
Result<Company> companyFromJson(const nlohmann::ordered_json& document);
/// Whether a document says that it is one.
bool isCompany(const nlohmann::ordered_json& document);

} // namespace hr::chain
