// SPDX-License-Identifier: GPL-3.0-or-later
//
// Whatever file is imported as a collection: a sentence and nothing kept, or a collection.
#include "exchange/collection_file.h"
#include "fuzz.h"

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
    const auto before = (*store)->collections.all();
    const fuzz::MemoryFile file(data, size);
    const auto imported = exchange::importCollection(**store, file.path());
    const auto after = (*store)->collections.all();
    fuzz::must(before && after && after->size() == before->size() + (imported ? 1 : 0));
    if (imported)
        fuzz::must((*store)->collections.remove(*imported).has_value());
    else
        fuzz::must(!imported.error().text.empty());
    return 0;
}
