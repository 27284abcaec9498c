// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/selfcheck.h"

#include "command.h"
#include "library/bench_check.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <iostream>

namespace hr::cli {

namespace {

Result<int> run(const Context& context, bool json)
{
    const auto checks = bench::selfcheck([&context](double done) {
        if (context.progress)
            std::fprintf(stderr, "%3.0f %%\n", 100 * done);
    });
    const auto passed = std::ranges::count_if(checks, &bench::Check::pass);
    const auto failed = static_cast<std::ptrdiff_t>(checks.size()) - passed;
    auto list = nlohmann::ordered_json::array();
    for (const bench::Check& c : checks) {
        const bool found = std::isfinite(c.measured);
        list.push_back({{"reference", c.reference},
                        {"figure", c.figure},
                        {"known", c.known},
                        {"measured", orNull(found ? std::optional(c.measured) : std::nullopt)},
                        {"error", orNull(found ? std::optional(c.error()) : std::nullopt)},
                        {"allowed", c.allowed},
                        {"pass", c.pass()}});
        if (!json)
            std::printf("%s  %-50s %-26s known %12.5f  measured %12.5f  allowed %.5f\n",
                        c.pass() ? "pass" : "FAIL", c.reference.c_str(), c.figure.c_str(), c.known, c.measured,
                        c.allowed);
    }
    if (json)
        print({{"checks", list}, {"passed", passed}, {"failed", failed}});
    else
        std::printf("%td of %zu figures within their limits.\n", passed, checks.size());
    // So that readings say whether the bench was right; where there is no place to keep it, it is said all the
    // same.
    auto store = context.openStore();
    const auto kept = store ? library::keepBenchCheck(**store, library::benchCheckOf(checks))
                            : tl::make_unexpected(store.error());
    if (!kept)
        std::cerr << "hrack: " << kept.error().text << '\n';
    return failed == 0 ? 0 : static_cast<int>(Blame::Processor);
}

} // namespace

void addSelfcheck(CLI::App& app, Context& context)
{
    auto* command =
        app.add_subcommand("selfcheck", "measure the bench's references against their known answers");
    const auto json = std::make_shared<bool>(false);
    command->add_flag("--json", *json, "one JSON document on standard output");
    command->callback([&context, json] { context.run = [&context, json] { return run(context, *json); }; });
}

} // namespace hr::cli
