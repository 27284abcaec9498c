// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/scan.h"

#include "hosting/path_text.h"
#include "hosting/protection.h"

#include <QElapsedTimer>
#include <algorithm>
#include <condition_variable>
#include <deque>
#include <mutex>
#include <thread>

namespace hr::library {

namespace {

struct Tried {
    hosting::Bundle bundle;
    hosting::TriedBundle outcome;
};

/// From the threads that try to the one that writes.
class Results {
public:
    void put(Tried tried)
    {
        const std::lock_guard lock(m_mutex);
        m_waiting.push_back(std::move(tried));
        m_changed.notify_one();
    }
    void finish()
    {
        const std::lock_guard lock(m_mutex);
        m_finished = true;
        m_changed.notify_one();
    }
    std::optional<Tried> take()
    {
        std::unique_lock lock(m_mutex);
        m_changed.wait(lock, [this] { return m_finished || !m_waiting.empty(); });
        if (m_waiting.empty())
            return std::nullopt;
        Tried first = std::move(m_waiting.front());
        m_waiting.pop_front();
        return first;
    }

private:
    std::mutex m_mutex;
    std::condition_variable m_changed;
    std::deque<Tried> m_waiting; // guarded by m_mutex
    bool m_finished = false;     // guarded by m_mutex
};

} // namespace

Result<ScanReport> scan(Catalogue& catalogue, const ScanOptions& options)
{
    QElapsedTimer clock;
    clock.start();
    ScanReport report;
    auto known = catalogue.signatures();
    if (!known)
        return tl::make_unexpected(known.error());
    std::vector<hosting::Bundle> fresh;
    QStringList paths;
    for (hosting::Bundle& bundle : hosting::findBundles(options.folders)) {
        paths << QString::fromStdString(hosting::pathText(bundle.path));
        if (known->value(paths.last()) != QString::fromStdString(bundle.signature))
            fresh.push_back(std::move(bundle));
    }
    if (auto why = hosting::whyNotRun(hosting::protection()); why && !fresh.empty())
        return machineFailed(std::move(*why));
    if (auto kept = catalogue.keepOnly(paths); !kept)
        return tl::make_unexpected(kept.error());

    Results results;
    hosting::ScanControl control = options.control;
    auto allowed = catalogue.allowed(); // read here: a connection belongs to its thread
    if (!allowed)
        return tl::make_unexpected(allowed.error());
    control.allowed = [&allowed](const std::string& id) { return allowed->value(QString::fromStdString(id)); };
    std::stop_source stop; // where the catalogue fails trying on is of no use
    const std::stop_callback pass_on(options.control.cancel, [&stop] { stop.request_stop(); });
    control.cancel = stop.get_token();
    std::jthread trying([&] {
        hosting::tryBundles(fresh, control, [&](const hosting::Bundle& bundle, hosting::TriedBundle outcome) {
            results.put({bundle, std::move(outcome)});
        });
        results.finish();
    });
    std::optional<Error> failed;
    int done = 0;
    while (auto tried = results.take()) {
        if (failed)
            continue;
        auto recorded = catalogue.record(tried->bundle, tried->outcome);
        if (!recorded) {
            failed = recorded.error();
            stop.request_stop();
            continue;
        }
        report.added += recorded->added;
        report.changed += recorded->changed;
        report.unchanged += recorded->unchanged;
        report.claimed_twice += recorded->claimed_twice;
        for (const hosting::Finding& finding : tried->outcome.findings)
            if (finding.absurd_output_dbfs)
                report.absurd_output_dbfs.emplace_back(QString::fromStdString(finding.location.id),
                                                       *finding.absurd_output_dbfs);
        if (options.progress)
            options.progress(++done, static_cast<int>(fresh.size()),
                             QString::fromStdString(hosting::pathText(tried->bundle.path)));
    }
    if (failed)
        return tl::make_unexpected(*failed);

    auto quarantined = catalogue.quarantine();
    auto entries = catalogue.entries();
    auto left_out = catalogue.leftOut();
    if (const Error* error = firstError(quarantined, entries, left_out))
        return tl::make_unexpected(*error);
    report.quarantined = std::move(*quarantined);
    report.left_out = std::move(*left_out);
    report.found =
        static_cast<int>(std::ranges::count_if(*entries, [](const Entry& e) { return !e.bundle.isEmpty(); }));
    report.unchanged = report.found - report.added - report.changed;
    report.cancelled = options.control.cancel.stop_requested();
    report.seconds = static_cast<double>(clock.elapsed()) / 1000;
    return report;
}

Result<TriedAgain> tryAgain(Catalogue& catalogue, const QStringList& ids, const hosting::TimeLimits& limits,
                            const std::function<void(double)>& progress, const std::stop_token& cancel)
{
    TriedAgain report;
    for (qsizetype i = 0; i < ids.size() && !cancel.stop_requested(); ++i) {
        auto location = catalogue.location(ids[i]);
        if (!location)
            return tl::make_unexpected(location.error());
        const hosting::Finding finding = hosting::tryProcessor(*location, limits, cancel);
        if (finding.fault && isCancelled(*finding.fault))
            break;
        if (auto recorded = catalogue.recordAgain(finding); !recorded)
            return tl::make_unexpected(recorded.error());
        ++(finding.fault ? report.still_failing : report.now_well);
        if (progress)
            progress(static_cast<double>(i + 1) / static_cast<double>(ids.size()));
    }
    return report;
}

} // namespace hr::library
