// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/set_up.h"

#include "bench/suite.h"
#include "processors/settings.h"
#include "signal/hash.h"

#include <algorithm>

namespace hr::library {

namespace {

QString hashed(const std::string& text)
{
    return QString::fromStdString(signal::hashText(signal::hashOf(text)));
}

} // namespace

QString SetUp::key() const
{
    nlohmann::json by_key; // in the order of the keys, whatever that of the parameters
    for (const auto& [name, value] : settings.items())
        by_key[name] = value;
    return hashed(processor.toStdString() + '\n' + build.toStdString() + '\n' + preset.toStdString() + '\n' +
                  (state.empty() ? "" : state + '\n') +
                  by_key.dump(-1, ' ', false, nlohmann::json::error_handler_t::replace));
}

SetUp setUpOf(const Catalogue& catalogue, const hosting::Location& location,
              const processors::ProcessorInfo& info, std::span<const double> values)
{
    SetUp set_up;
    set_up.processor = QString::fromStdString(location.id);
    set_up.preset = QString::fromStdString(location.preset);
    set_up.state = hosting::stateOf(location);
    set_up.settings = nlohmann::ordered_json::object();
    for (std::size_t i = 0; i < values.size(); ++i)
        set_up.settings[info.parameters[i].key] = values[i];
    set_up.at_defaults = location.preset.empty() && location.state.empty() && !location.isChain() &&
                         std::ranges::equal(values, processors::defaultValues(info));
    if (!location.isChain()) {
        set_up.build = catalogue.buildOf(location.id, location.bundle);
        return set_up;
    }
    std::string builds;
    for (const hosting::StagePlace& stage : location.stages)
        builds += catalogue.buildOf(stage.id, stage.bundle).toStdString() + '\n';
    set_up.build = hashed(builds);
    return set_up;
}

} // namespace hr::library
