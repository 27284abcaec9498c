// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/formats/ladspa_classes.h"

#include <charconv>
#include <cstdlib>
#include <expat.h>
#include <fstream>
#include <memory>
#include <sstream>
#include <string_view>

namespace hr::hosting {

namespace fs = std::filesystem;

namespace {

constexpr std::uintmax_t longest_file_bytes = 4 << 20;
// Expat puts a namespace's address before a name, with this between.
constexpr char separator = ' ';
constexpr std::string_view rdf = "http://www.w3.org/1999/02/22-rdf-syntax-ns#";

/// What stands behind the last "#" of an address.
std::string_view fragment(std::string_view address)
{
    const auto hash = address.rfind('#');
    return hash == std::string_view::npos ? std::string_view() : address.substr(hash + 1);
}

struct Reading {
    std::map<unsigned long, std::vector<std::string>>& classes;
    unsigned long subject = 0; // the plug-in whose element is open

    void add(std::string_view name)
    {
        if (subject != 0 && name.ends_with("Plugin"))
            classes[subject].emplace_back(name);
    }
};

std::string_view attribute(const char** attributes, std::string_view name)
{
    const std::string whole = std::string(rdf) + separator + std::string(name);
    for (; *attributes; attributes += 2)
        if (whole == attributes[0])
            return attributes[1];
    return {};
}

/// <ladspa:CompressorPlugin rdf:about="…#1882">, or a description with <rdf:type rdf:resource="…#…Plugin">.
void begin(void* data, const char* element, const char** attributes)
{
    auto& reading = *static_cast<Reading*>(data);
    const std::string_view whole = element;
    const std::string_view name = whole.substr(whole.rfind(separator) + 1);
    if (const std::string_view about = fragment(attribute(attributes, "about")); !about.empty()) {
        unsigned long number = 0;
        const auto [end, failed] = std::from_chars(about.data(), about.data() + about.size(), number);
        // Ports are "1882.0".
        reading.subject = failed == std::errc() && end == about.data() + about.size() ? number : 0;
        reading.add(name);
    } else if (name == "type") {
        reading.add(fragment(attribute(attributes, "resource")));
    }
}

struct FreeParser {
    void operator()(XML_ParserStruct* parser) const { XML_ParserFree(parser); }
};

std::vector<fs::path> standardFolders()
{
    const char* named = std::getenv("LADSPA_RDF_PATH");
    std::istringstream list(named && *named ? named : "/usr/local/share/ladspa/rdf:/usr/share/ladspa/rdf");
    std::vector<fs::path> folders;
    for (std::string one; std::getline(list, one, ':');)
        if (!one.empty())
            folders.emplace_back(one);
    return folders;
}

} // namespace

LadspaClasses::LadspaClasses(const std::vector<fs::path>& folders)
{
    for (const fs::path& folder : folders) {
        std::error_code failed;
        fs::directory_iterator walk(folder, fs::directory_options::skip_permission_denied, failed);
        for (; !failed && walk != fs::directory_iterator(); walk.increment(failed)) {
            std::error_code ignored;
            const fs::path& file = walk->path();
            if (!file.extension().string().starts_with(".rdf") ||
                fs::file_size(file, ignored) > longest_file_bytes)
                continue;
            std::ifstream stream(file);
            std::stringstream text;
            text << stream.rdbuf();
            read(text.str());
        }
    }
}

const LadspaClasses& LadspaClasses::installed()
{
    static const LadspaClasses classes(standardFolders());
    return classes;
}

const std::vector<std::string>& LadspaClasses::of(unsigned long unique_id) const
{
    static const std::vector<std::string> none;
    const auto found = m_classes.find(unique_id);
    return found == m_classes.end() ? none : found->second;
}

void LadspaClasses::read(const std::string& document)
{
    const std::unique_ptr<XML_ParserStruct, FreeParser> parser(XML_ParserCreateNS(nullptr, separator));
    Reading reading{m_classes};
    XML_SetUserData(parser.get(), &reading);
    XML_SetStartElementHandler(parser.get(), begin);
    // What was understood before a mistake stays.
    (void)XML_Parse(parser.get(), document.data(), static_cast<int>(document.size()), XML_TRUE);
}

} // namespace hr::hosting
