// SPDX-License-Identifier: GPL-3.0-or-later
//
// A report as one HTML file that needs no other: plots as SVG within it, no script, nothing fetched.
#pragma once

#include <functional>
#include <nlohmann/json.hpp>
#include <string>

namespace hr::exchange {

/// Text as HTML and XML have it.
std::string escaped(const std::string& text);
/// Markdown (CommonMark 0.30) as HTML; markup of its own is left out.
std::string markdownAsHtml(const std::string& markdown);

/// Whether it is a part that can be shown, as one that somebody wrote by hand may not be.
bool isPart(const nlohmann::ordered_json& part);
/// One part (page.h); `picture` makes what stands for a plot, by default its SVG.
std::string htmlOf(const nlohmann::ordered_json& part,
                   const std::function<std::string(const nlohmann::ordered_json& plot)>& picture = {});
/// The whole report.
std::string reportAsHtml(const nlohmann::ordered_json& report,
                         const std::function<std::string(const nlohmann::ordered_json& plot)>& picture = {});

} // namespace hr::exchange
