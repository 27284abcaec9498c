// SPDX-License-Identifier: GPL-3.0-or-later
//
// Writes manifest.ttl and specimens.ttl of the bundle into the folder named, from the specimens' own tables.
#include "all.h"

#include <cctype>
#include <fstream>
#include <iostream>
#include <sstream>
#include <string>

namespace {

using namespace specimens;

constexpr const char* prefixes = "@prefix doap: <http://usefulinc.com/ns/doap#> .\n"
                                 "@prefix foaf: <http://xmlns.com/foaf/0.1/> .\n"
                                 "@prefix is: <urn:honest-rack:specimens:> .\n"
                                 "@prefix lv2: <http://lv2plug.in/ns/lv2core#> .\n"
                                 "@prefix pg: <http://lv2plug.in/ns/ext/port-groups#> .\n"
                                 "@prefix pprop: <http://lv2plug.in/ns/ext/port-props#> .\n"
                                 "@prefix pset: <http://lv2plug.in/ns/ext/presets#> .\n"
                                 "@prefix rdf: <http://www.w3.org/1999/02/22-rdf-syntax-ns#> .\n"
                                 "@prefix rdfs: <http://www.w3.org/2000/01/rdf-schema#> .\n"
                                 "@prefix atom: <http://lv2plug.in/ns/ext/atom#> .\n"
                                 "@prefix time: <http://lv2plug.in/ns/ext/time#> .\n"
                                 "@prefix units: <http://lv2plug.in/ns/extensions/units#> .\n";

/// A decimal that Turtle reads as one.
std::string decimal(float value)
{
    std::ostringstream text;
    text << value;
    return text.str().find('.') == std::string::npos ? text.str() + ".0" : text.str();
}

std::string slugOf(std::string text)
{
    for (char& c : text)
        c = std::isalnum(static_cast<unsigned char>(c)) ? static_cast<char>(std::tolower(c)) : '-';
    return text;
}

std::string unitOf(const std::string& unit)
{
    if (unit.empty())
        return {};
    return unit[0] == ':' ? " ; units:unit [ a units:Unit ; units:symbol \"" + unit + "\" ]"
                          : " ; units:unit units:" + unit;
}

class Ports {
public:
    explicit Ports(const About& about) : m_about(about) {}

    void audio(const char* direction, const char* symbol, const char* name, const std::string& rest = {})
    {
        const int sides = direction == std::string("Output") ? m_about.outputs
                          : rest.empty()                     ? m_about.inputs
                                                             : m_about.keys;
        for (int side = 0; side < sides; ++side) {
            const std::string which = sides == 1 ? "" : side == 0 ? "_left" : "_right";
            add(std::string("a lv2:") + direction + "Port , lv2:AudioPort", std::string(symbol) + which,
                std::string(name) + (which.empty() ? "" : " " + which.substr(1)), rest);
        }
    }
    void control(const Control& c)
    {
        std::string rest = " ; lv2:minimum " + decimal(c.minimum) + " ; lv2:maximum " + decimal(c.maximum) +
                           " ; lv2:default " + decimal(c.default_value) + unitOf(c.unit);
        if (c.law == Law::Logarithmic)
            rest += " ; lv2:portProperty pprop:logarithmic";
        if (c.law == Law::Integer)
            rest += " ; lv2:portProperty lv2:integer";
        if (c.law == Law::Toggle)
            rest += " ; lv2:portProperty lv2:toggled";
        if (*c.group)
            rest += std::string(" ; pg:group is:") + m_about.slug + "-" + slugOf(c.group);
        std::istringstream choices(c.choices);
        for (std::string one; std::getline(choices, one, ',');)
            rest += " ; lv2:scalePoint [ rdfs:label \"" + one.substr(one.find('=') + 1) + "\" ; rdf:value " +
                    one.substr(0, one.find('=')) + ".0 ]";
        if (*c.choices)
            rest += " ; lv2:portProperty lv2:enumeration";
        add("a lv2:InputPort , lv2:ControlPort", c.symbol, c.name, rest);
    }
    void latency()
    {
        add("a lv2:OutputPort , lv2:ControlPort", "latency", "Latency",
            " ; lv2:minimum 0.0 ; lv2:maximum 8192.0 ; lv2:portProperty lv2:reportsLatency , lv2:integer ; "
            "units:unit units:frame");
    }
    void time()
    {
        add("a lv2:InputPort , atom:AtomPort", "time", "Time",
            " ; atom:bufferType atom:Sequence ; atom:supports time:Position ; lv2:designation lv2:control");
    }
    const std::string& text() const { return m_text; }

private:
    void add(const std::string& type, const std::string& symbol, const std::string& name,
             const std::string& rest)
    {
        m_text += (m_index == 0 ? "    lv2:port\n" : " ,\n") + std::string("    [ ") + type + " ; lv2:index " +
                  std::to_string(m_index) + " ; lv2:symbol \"" + symbol + "\" ; lv2:name \"" + name + "\"" +
                  rest + " ]";
        ++m_index;
    }

    const About& m_about;
    int m_index = 0;
    std::string m_text;
};

template<class T>
void describe(std::ostream& out)
{
    const About& about = T::about;
    Ports ports(about);
    ports.audio("Input", "in", "In");
    ports.audio("Output", "out", "Out");
    ports.audio("Input", "key", "Key", " ; lv2:portProperty lv2:isSideChain");
    std::string groups;
    for (const Control& c : T::controls) {
        ports.control(c);
        const std::string group = std::string("is:") + about.slug + "-" + slugOf(c.group);
        if (*c.group && groups.find(group + " a") == std::string::npos)
            groups += group + " a pg:Group ; lv2:symbol \"" + slugOf(c.group) + "\" ; lv2:name \"" + c.group +
                      "\" .\n";
    }
    if (about.tells_latency)
        ports.latency();
    if (about.takes_tempo)
        ports.time();
    out << "\nis:" << about.slug << " a lv2:Plugin , lv2:" << about.lv2_class << " ;\n    doap:name \""
        << about.name
        << "\" ;\n    doap:license <http://www.gnu.org/licenses/gpl-3.0> ;\n    doap:maintainer [ foaf:name \""
        << about.maker << "\" ] ;\n    lv2:minorVersion 1 ; lv2:microVersion 2 ;\n    lv2:documentation \""
        << about.text << "\" ;\n"
        << ports.text() << " .\n"
        << groups;
}

template<class T>
void describePresets(std::ostream& manifest, std::ostream& out)
{
    if constexpr (requires { T::presets.size(); }) {
        for (const Preset& preset : T::presets) {
            const std::string uri = std::string("is:") + T::about.slug + "-preset-" + slugOf(preset.name);
            manifest << uri << " a pset:Preset ; lv2:appliesTo is:" << T::about.slug
                     << " ; rdfs:seeAlso <specimens.ttl> .\n";
            out << uri << " a pset:Preset ; lv2:appliesTo is:" << T::about.slug << " ; rdfs:label \""
                << preset.name << "\" ;\n    lv2:port ";
            const char* between = "";
            for (const auto& [symbol, value] : preset.values) {
                if (!symbol)
                    break;
                out << between << "[ lv2:symbol \"" << symbol << "\" ; pset:value " << decimal(value) << " ]";
                between = " , ";
            }
            out << " .\n";
        }
    }
}

template<class... T>
void describeAll(std::ostream& manifest, std::ostream& out, List<T...>)
{
    manifest << prefixes;
    out << prefixes;
    ((manifest << "is:" << T::about.slug
               << " a lv2:Plugin ; lv2:binary <specimens.so> ; rdfs:seeAlso <specimens.ttl> .\n"),
     ...);
    (describe<T>(out), ...);
    (describePresets<T>(manifest, out), ...);
}

} // namespace

int main(int argc, char** argv)
{
    if (argc != 2) {
        std::cerr << "usage: describe FOLDER\n";
        return 1;
    }
    const std::string folder = argv[1];
    std::ofstream manifest(folder + "/manifest.ttl");
    std::ofstream out(folder + "/specimens.ttl");
    describeAll(manifest, out, All{});
    manifest.close();
    out.close();
    return manifest && out ? 0 : 1;
}
