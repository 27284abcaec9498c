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

Result<chain::Company> readCompany(const std::filesystem::path& file)
{
    auto document = readDocument(file);
    if (!document)
        return tl::make_unexpected(document.error());
    auto company = chain::companyFromJson(*document);
    if (!company)
        return wrongRequest(file.string() + " cannot be used. " + company.error().text);
    return company;
}

Result<void> writeCompany(const std::filesystem::path& file, const chain::Company& company)
{
    return writeDocument(file, chain::toJson(company));
}

bool isCompanyFile(const std::filesystem::path& file)
{
    const auto document = readDocument(file);
    return document && chain::isCompany(*document);
}

Result<std::filesystem::path> partFile(const std::filesystem::path& company_file, const std::string& file)
{
    const std::filesystem::path given(file);
    const std::filesystem::path there = given.is_absolute() ? given : company_file.parent_path() / given;
    std::error_code failed;
    if (!std::filesystem::exists(there, failed))
        return wrongRequest("The sound \"" + file + "\" of " + company_file.string() + " is not there.");
    return there;
}

} // namespace hr::exchange
