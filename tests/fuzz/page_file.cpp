// SPDX-License-Identifier: GPL-3.0-or-later
//
// Whatever is opened as a page of the notebook, or merged as a measurement: a sentence, or something that can
// be shown and exported.
#include "exchange/measurement_file.h"
#include "exchange/report/filled_page.h"
#include "exchange/report/html.h"
#include "exchange/report/page.h"
#include "exchange/report/write_report.h"
#include "fuzz.h"
#include "processors/json_text.h"

#include <QCoreApplication>
#include <QTemporaryDir>

using namespace hr;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    static int argc = 1;
    static char name[] = "fuzz";
    static char* argv[] = {name, nullptr};
    static const QCoreApplication application(argc, argv);
    static const QTemporaryDir folder;
    static const auto store = library::Store::open(folder.path().toStdString());
    fuzz::must(store.has_value());
    const auto document = processors::orderedJsonFrom({reinterpret_cast<const char*>(data), size});
    if (const auto measurement = exchange::measurementIn(document); !measurement)
        fuzz::must(!measurement.error().text.empty());
    if (!exchange::checkPage(document))
        return 0;
    const auto report = exchange::resolve(**store, document);
    for (const auto& part : report["parts"])
        fuzz::must(exchange::isPart(part));
    fuzz::must(exchange::reportAsHtml(report).ends_with("</html>\n"));
    fuzz::must(!exchange::reportAsMarkdown(report, "x").empty());
    fuzz::must(!exchange::reportAsCsv(report).empty());
    return 0;
}
