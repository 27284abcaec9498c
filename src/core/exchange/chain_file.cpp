// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/chain_file.h"

#include "chain/chain_json.h"
#include "exchange/document.h"

namespace hr::exchange {

Result<chain::Chain> readChain(const std::filesystem::path& file)
{
    auto document = readDocument(file);
    if (!document)
        return tl::make_unexpected(document.error());
    auto chain = chain::fromJson(*document);
    if (!chain)
        return wrongRequest(file.string() + " cannot be used. " + chain.error().text);
    return chain;
}

Result<void> writeChain(const std::filesystem::path& file, const chain::Chain& chain)
{
    return writeDocument(file, chain::toJson(chain));
}

} // namespace hr::exchange
