// SPDX-License-Identifier: GPL-3.0-or-later
#include "chain/halves.h"

#include <algorithm>

namespace hr::chain {

Halves::Halves(std::vector<std::string> stages) : m_steps{{std::move(stages)}} {}

std::vector<std::string> Halves::toBypass() const
{
    const auto& left = suspects();
    if (answers() == 0)
        return left;
    if (left.size() < 2)
        return {};
    return {left.begin(), left.begin() + static_cast<std::ptrdiff_t>(left.size() / 2)};
}

void Halves::answer(bool still_heard)
{
    const auto bypassed = toBypass();
    if (bypassed.empty())
        return;
    std::vector<std::string> left;
    for (const std::string& stage : suspects())
        if ((std::ranges::find(bypassed, stage) == bypassed.end()) == still_heard)
            left.push_back(stage);
    m_steps.push_back({std::move(left)});
}

void Halves::takeBack()
{
    if (m_steps.size() > 1)
        m_steps.pop_back();
}

std::optional<std::string> Halves::found() const
{
    return answers() > 0 && suspects().size() == 1 ? std::optional(suspects().front()) : std::nullopt;
}

} // namespace hr::chain
