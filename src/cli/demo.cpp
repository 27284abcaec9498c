// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo_data.h"

#include "command.h"

namespace hr::cli {

void addDemo(CLI::App& app, Context& context)
{
    auto* command = app.add_subcommand("demo", "write the demo data into a folder");
    const auto directory = std::make_shared<std::string>();
    command->add_option("directory", *directory)->required();
    command->callback([&context, directory] {
        context.run = [directory]() -> Result<int> {
            if (auto written = demo::writeDemoData(*directory); !written)
                return tl::make_unexpected(written.error());
            return 0;
        };
    });
}

} // namespace hr::cli
