// SPDX-License-Identifier: GPL-3.0-or-later
//
// Calls from other threads to an object of the interface's thread that may have gone meanwhile.
#pragma once

#include <QObject>
#include <functional>
#include <memory>
#include <mutex>

namespace hr::app {

/// A member of the object that is called, declared last: once it has gone, nothing arrives any more.
class LateCalls {
public:
    explicit LateCalls(QObject* to) : m_to(std::make_shared<To>()) { m_to->object = to; }
    ~LateCalls()
    {
        const std::lock_guard lock(m_to->mutex);
        m_to->object = nullptr;
    }
    LateCalls(const LateCalls&) = delete;
    LateCalls& operator=(const LateCalls&) = delete;

    /// What this returns may be called, and destroyed, on any thread at any time; `work` then runs in the
    /// interface's.
    std::function<void()> to(std::function<void()> work) const
    {
        return [to = m_to, work = std::move(work)] {
            const std::lock_guard lock(to->mutex);
            if (to->object)
                QMetaObject::invokeMethod(to->object, work, Qt::QueuedConnection);
        };
    }

private:
    struct To {
        std::mutex mutex;
        QObject* object = nullptr; // guarded by mutex
    };
    std::shared_ptr<To> m_to;
};

} // namespace hr::app
