// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/report/delivery_text.h"

#include "exchange/report/page.h"
#include "signal/number_text.h"

namespace hr::exchange {

namespace {

std::string told(const audition::DeliveryCheck& check)
{
    const std::string value = check.value ? signal::fixedText(*check.value, 1) : "none";
    std::string text = check.limit.figure + " " + value;
    if (check.pass)
        return text;
    text += " does not pass";
    if (check.change_db)
        text += ", " + std::string(*check.change_db > 0 ? "+" : "") + signal::fixedText(*check.change_db, 1) +
                " dB would mend it";
    return text;
}

} // namespace

std::string deliveryAsMarkdown(const std::string& target, const std::vector<DeliveryTold>& files)
{
    std::string text = "Held against **" + asMarkdown(target) + "**:\n\n";
    for (const DeliveryTold& file : files) {
        text += "- **" + asMarkdown(file.file) + "**: ";
        if (!file.why_none.empty())
            text += asMarkdown(file.why_none);
        for (std::size_t i = 0; i < file.checks.size(); ++i)
            text += (i > 0 ? "; " : "") + asMarkdown(told(file.checks[i]));
        text += "\n";
    }
    return text;
}

} // namespace hr::exchange
