// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/inside/shared_object.h"

#include <algorithm>
#include <dlfcn.h>

namespace hr::hosting::inside {

FaultOr<void*> openSharedObject(const std::filesystem::path& path,
                                std::initializer_list<const char*> entry_points)
{
    std::error_code ignored;
    if (!std::filesystem::exists(path, ignored))
        return fault(Phase::Load, Cause::MissingFile, path.string());
    void* library = dlopen(path.c_str(), RTLD_NOW | RTLD_LOCAL);
    if (!library) {
        const char* why = dlerror();
        const std::string text = why ? why : "unknown reason";
        return fault(Phase::Load,
                     text.find("undefined symbol") != std::string::npos ? Cause::MissingSymbol
                                                                        : Cause::MissingFile,
                     text);
    }
    const bool entered = std::ranges::any_of(
        entry_points, [&](const char* symbol) { return dlsym(library, symbol) != nullptr; });
    if (!entered)
        return fault(Phase::Load, Cause::MissingSymbol,
                     "the entry point " + std::string(*entry_points.begin()) + " in " + path.string());
    return library;
}

} // namespace hr::hosting::inside
