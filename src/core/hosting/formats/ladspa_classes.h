// SPDX-License-Identifier: GPL-3.0-or-later
//
// The classes that LADSPA plug-ins are described by in files of their own: RDF/XML in the folders of
// LADSPA_RDF_PATH, else /usr/local/share/ladspa/rdf and /usr/share/ladspa/rdf, by the plug-ins' unique numbers.
#pragma once

#include <filesystem>
#include <map>
#include <string>
#include <vector>

namespace hr::hosting {

class LadspaClasses {
public:
    /// What is in these folders; files that cannot be read are passed over.
    explicit LadspaClasses(const std::vector<std::filesystem::path>& folders);

    /// Of the standard folders, read once when first asked for. Any thread.
    static const LadspaClasses& installed();

    /// "CompressorPlugin" and its like; none where nothing is said of it.
    const std::vector<std::string>& of(unsigned long unique_id) const;

    /// Takes one document, whatever is in it.
    void read(const std::string& document);

private:
    std::map<unsigned long, std::vector<std::string>> m_classes;
};

} // namespace hr::hosting
