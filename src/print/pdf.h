// SPDX-License-Identifier: GPL-3.0-or-later
//
// A report as PDF, laid out and drawn by Qt Gui: beside the interface the only place that draws.
#pragma once

#include "signal/result.h"

#include <QGuiApplication>
#include <filesystem>
#include <memory>
#include <nlohmann/json.hpp>

namespace hr::print {

/// What fonts and pictures need where there is no display; to be made before any other application object.
std::unique_ptr<QGuiApplication> headlessApplication(int& argc, char** argv);

/// A report (exchange/report/filled_page.h) on A4. A failure leaves the file that was there.
Result<void> writePdf(const nlohmann::ordered_json& report, const std::filesystem::path& file);

} // namespace hr::print
