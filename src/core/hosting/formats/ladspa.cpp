// SPDX-License-Identifier: GPL-3.0-or-later
//
// LADSPA from outside: a bundle is one library; an id holds its name and the plug-in's label. It describes
// itself only by being loaded.
#include "hosting/formats/format.h"
#include "hosting/formats/ladspa_classes.h"
#include "hosting/path_text.h"
#include "signal/regular_file.h"

namespace hr::hosting {

namespace {

namespace fs = std::filesystem;

class LadspaFormat : public Format {
public:
    std::string key() const override { return "ladspa"; }
    std::string name() const override { return "LADSPA"; }
    std::string idForm() const override { return "ladspa:LIBRARY:LABEL"; }
    std::string pathVariable() const override { return "LADSPA_PATH"; }
    std::string folderName() const override { return "ladspa"; }

    bool isBundle(const fs::path& path) const override
    {
        return path.extension() == ".so" && signal::isRegularFile(path);
    }
    bool mayDescribe(const fs::path& bundle, const std::string& id) const override
    {
        return id.starts_with(unreadId(bundle));
    }
    Phase describing() const override { return Phase::Load; }
    std::string unreadId(const fs::path& bundle) const override
    {
        return "ladspa:" + pathText(bundle.stem()) + ":";
    }
    std::string unreadName(const fs::path& bundle, const std::string& id) const override
    {
        const std::string label = id.substr(id.rfind(':') + 1);
        return label.empty() ? pathText(bundle.stem()) : label; // without a label it is the library itself
    }
    void complete(processors::ProcessorInfo& info) const override
    {
        for (const std::string& name : LadspaClasses::installed().of(info.unique_id))
            info.classes.push_back(name);
    }
};

} // namespace

std::unique_ptr<Format> ladspaFormat()
{
    return std::make_unique<LadspaFormat>();
}

} // namespace hr::hosting
