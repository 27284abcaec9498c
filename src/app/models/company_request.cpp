// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/company_request.h"

namespace hr::app {

audition::CompanyOrder CompanyRequest::order(const std::stop_token& cancel) const
{
    audition::CompanyOrder order;
    order.find = [](const std::string& file) -> Result<std::filesystem::path> {
        std::error_code failed;
        if (!std::filesystem::exists(file, failed))
            return wrongRequest("The sound " + file +
                                " of a part is not there any more: remove the part, or put it back.");
        return std::filesystem::path(file);
    };
    order.rate_hz = rate_hz;
    order.first_s = order.silence_s = first_s;
    order.length_s = length_s;
    order.cancel = cancel;
    return order;
}

std::string CompanyRequest::textOf(const chain::Company& company)
{
    return chain::toJson(company).dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
}

std::vector<chain::Chain> CompanyRequest::chainsOf(const chain::Company& company)
{
    std::vector<chain::Chain> chains{company.sum};
    for (const chain::Part& part : company.parts)
        chains.push_back(part.chain);
    for (const chain::Return& back : company.returns)
        chains.push_back(back.chain);
    return chains;
}

} // namespace hr::app
