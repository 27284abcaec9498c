// SPDX-License-Identifier: GPL-3.0-or-later
//
// LV2 from outside: a bundle is a folder with a manifest in Turtle; an id holds the plug-in's URI.
#include "hosting/formats/format.h"
#include "hosting/path_text.h"
#include "signal/regular_file.h"

namespace hr::hosting {

namespace {

namespace fs = std::filesystem;

constexpr const char* manifest = "manifest.ttl";
constexpr std::uintmax_t longest_manifest_bytes = std::uintmax_t{16} << 20;

class Lv2Format : public Format {
public:
    std::string key() const override { return "lv2"; }
    std::string name() const override { return "LV2"; }
    std::string idForm() const override { return "lv2:URI"; }
    std::string pathVariable() const override { return "LV2_PATH"; }
    std::string folderName() const override { return "lv2"; }

    bool isBundle(const fs::path& path) const override
    {
        std::error_code ignored;
        return fs::exists(path / manifest, ignored);
    }
    std::string whyUnreadable(const fs::path& path) const override
    {
        std::error_code failed;
        if (!signal::isRegularFile(path / manifest))
            return "its manifest.ttl is not a regular file";
        return fs::file_size(path / manifest, failed) > longest_manifest_bytes
                   ? "its manifest.ttl is larger than 16 MiB"
                   : "";
    }
    /// By its manifest: prefixes may hide all but the last part of a URI.
    bool mayDescribe(const fs::path& bundle, const std::string& id) const override
    {
        const auto text = signal::readRegularFile(bundle / manifest, longest_manifest_bytes);
        const std::string uri = id.substr(id.find(':') + 1);
        const auto end = uri.find_last_of("/#:");
        return text && text->find(end == std::string::npos ? uri : uri.substr(end + 1)) != std::string::npos;
    }
    std::string unreadId(const fs::path& bundle) const override { return "lv2:file://" + pathText(bundle); }
    std::string unreadName(const fs::path& bundle, const std::string&) const override
    {
        return pathText(bundle.filename());
    }
};

} // namespace

std::unique_ptr<Format> lv2Format()
{
    return std::make_unique<Lv2Format>();
}

} // namespace hr::hosting
