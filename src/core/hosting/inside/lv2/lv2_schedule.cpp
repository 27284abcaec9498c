// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/inside/lv2/lv2_schedule.h"

#include <utility>

namespace hr::hosting::inside {

void Lv2Schedule::finish(LilvInstance* instance)
{
    const auto* worker = static_cast<const LV2_Worker_Interface*>(
        lilv_instance_get_extension_data(instance, LV2_WORKER__interface));
    const std::vector<std::string> scheduled = std::exchange(m_scheduled, {});
    if (!worker || !worker->work)
        return;
    LV2_Handle handle = lilv_instance_get_handle(instance);
    for (const std::string& message : scheduled)
        worker->work(handle, respond, this, static_cast<std::uint32_t>(message.size()), message.data());
    for (const std::string& response : std::exchange(m_responses, {}))
        if (worker->work_response)
            worker->work_response(handle, static_cast<std::uint32_t>(response.size()), response.data());
    if (worker->end_run)
        worker->end_run(handle);
}

LV2_Worker_Status Lv2Schedule::schedule(LV2_Worker_Schedule_Handle self, std::uint32_t size, const void* data)
{
    static_cast<Lv2Schedule*>(self)->m_scheduled.emplace_back(static_cast<const char*>(data), size);
    return LV2_WORKER_SUCCESS;
}

LV2_Worker_Status Lv2Schedule::respond(LV2_Worker_Respond_Handle self, std::uint32_t size, const void* data)
{
    static_cast<Lv2Schedule*>(self)->m_responses.emplace_back(static_cast<const char*>(data), size);
    return LV2_WORKER_SUCCESS;
}

} // namespace hr::hosting::inside
