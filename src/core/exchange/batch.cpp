// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/batch.h"

#include "chain/chain_json.h"
#include "exchange/document.h"
#include "exchange/measurement_file.h"
#include "library/find/membership.h"
#include "processors/json_text.h"
#include "processors/reference/registry.h"
#include "processors/settings.h"
#include "signal/hash.h"

#include <algorithm>
#include <atomic>
#include <condition_variable>
#include <map>
#include <thread>

namespace hr::exchange {

namespace {

namespace fs = std::filesystem;

constexpr std::size_t longest_name = 80;

/// What is installed, or by rule in a collection; neither the bench's own nor what is hidden.
Result<QStringList> idsOf(library::Store& store, const QString& collection)
{
    auto entries = store.catalogue.entries();
    auto beside = library::readEntryFacts(store);
    auto rules = library::readRules(store);
    if (const Error* error = firstError(entries, beside, rules))
        return tl::make_unexpected(*error);
    library::Finder finder;
    finder.fill(*entries, *beside);
    library::applyRules(finder, *beside, *rules);
    const auto isInstalled = [](const library::Entry& entry) {
        return entry.state != library::State::Hidden && !processors::isReferenceId(entry.id.toStdString());
    };
    QStringList ids;
    for (const library::Entry& entry : *entries)
        if (collection.isEmpty() ? isInstalled(entry) : beside->by_rule.value(entry.id).contains(collection))
            ids << entry.id;
    return ids;
}

/// A processor with settings over its defaults, or why not.
tl::expected<BatchItem, std::string> itemOf(library::Store& store, const QString& id,
                                            const std::vector<processors::Setting>& settings)
{
    auto entry = store.catalogue.entry(id);
    auto info = store.catalogue.info(id);
    auto location = store.catalogue.location(id);
    if (!entry || !info || !location)
        return tl::make_unexpected(std::string("it is not installed"));
    if (entry->state == library::State::Quarantined)
        return tl::make_unexpected(std::string("it is in quarantine"));
    BatchItem item{*location, *info, processors::nearestValues(*info, settings), {}};
    item.set_up = library::setUpOf(store.catalogue, item.location, item.info, item.values);
    return item;
}

tl::expected<BatchItem, std::string> chainItemOf(library::Store& store, const QString& document)
{
    auto chain = chain::fromJson(processors::orderedJsonFrom(document.toStdString()));
    if (!chain)
        return tl::make_unexpected(chain.error().text);
    const auto placed = chain::place(*chain, [&store](const std::string& id) {
        return store.catalogue.location(QString::fromStdString(id));
    });
    if (!placed.missing.empty())
        return tl::make_unexpected(placed.missing.front() + " is not installed");
    auto instance = hosting::openInstance(placed.location);
    if (!instance)
        return tl::make_unexpected("it " + hosting::sentence(instance.error()));
    auto values = chain::values(*chain, (*instance)->info());
    if (!values)
        return tl::make_unexpected(values.error().text);
    BatchItem item{placed.location, (*instance)->info(), *values, {}};
    item.set_up = library::setUpOf(store.catalogue, item.location, item.info, item.values);
    return item;
}

std::vector<std::string> keysOf(const std::vector<bench::TestInfo>& tests)
{
    std::vector<std::string> keys;
    for (const bench::TestInfo& test : tests)
        keys.push_back(test.key);
    return keys;
}

/// Whether the file has all that is asked for: then it is not measured again.
bool isDone(const fs::path& file, const BatchItem& item, const BatchOrder& order)
{
    const auto document = readDocument(file);
    if (!document)
        return false;
    const auto found = measurementIn(*document);
    return found && found->set_up.key() == item.set_up.key() &&
           found->measurement.conditions == order.conditions && found->bench_version == bench::benchVersion() &&
           found->tests == keysOf(order.tests);
}

/// Whether the catalogue has all of it, taken as late or later.
bool hasNewer(const library::Store& store, const MeasurementFile& file)
{
    const auto known = store.runs.of(file.set_up, file.measurement.conditions);
    const QString started = QString::fromStdString(file.measurement.started);
    return known && !known->empty() && std::ranges::all_of(file.measurement.readings, [&](const auto& reading) {
               const QString test = QString::fromStdString(reading.first);
               return std::ranges::any_of(*known, [&](const library::StoredReading& one) {
                   return one.test == test && one.taken >= started;
               });
           });
}

/// What the threads of a batch share.
struct Shared {
    std::mutex mutex;
    std::condition_variable ended;
    std::vector<std::pair<std::size_t, bench::Measurement>> results; // by index of the item
    std::size_t running = 0;
};

} // namespace

Result<BatchItems> batchItems(library::Store& store, const QString& collection)
{
    BatchItems found;
    const auto take = [&found](const std::string& id, tl::expected<BatchItem, std::string> item) {
        if (item)
            found.items.push_back(std::move(*item));
        else
            found.left_out.emplace_back(id, item.error());
    };
    auto collections = store.collections.all();
    if (!collections)
        return tl::make_unexpected(collections.error());
    const auto asked = std::ranges::find(*collections, collection, &library::Collection::name);
    if (!collection.isEmpty() && asked == collections->end())
        return wrongRequest("There is no collection \"" + collection.toStdString() + "\".");
    if (collection.isEmpty() || asked->byRule()) {
        const auto ids = idsOf(store, collection);
        if (!ids)
            return tl::make_unexpected(ids.error());
        for (const QString& id : *ids)
            take(id.toStdString(), itemOf(store, id, {}));
        return found;
    }
    auto items = store.collections.items(asked->row_id);
    if (!items)
        return tl::make_unexpected(items.error());
    const auto itemIn = [&](const library::CollectionItem& item) {
        using Item = tl::expected<BatchItem, std::string>;
        if (item.isParts())
            return Item(tl::make_unexpected("These are parts: their chains are measured one by one."));
        return item.isChain() ? chainItemOf(store, item.chain) : itemOf(store, item.reference, item.settings);
    };
    for (const library::CollectionItem& item : *items)
        take(item.reference.toStdString(), itemIn(item));
    return found;
}

std::string batchFile(const library::SetUp& set_up, const bench::Conditions& conditions)
{
    std::string name;
    for (const char c : set_up.processor.toStdString()) {
        const bool plain = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9');
        if (plain || c == '-' || c == '.')
            name += c;
        else if (!name.ends_with('_'))
            name += '_';
    }
    nlohmann::json settings; // in the order of their keys
    for (const auto& [key, value] : set_up.settings.items())
        settings[key] = value;
    // Not of the build: another build takes the place of the one before.
    const auto hash = signal::hashOf(set_up.processor.toStdString() + '\n' + set_up.preset.toStdString() +
                                     '\n' + (set_up.state.empty() ? "" : set_up.state + '\n') +
                                     (conditions == bench::Conditions() ? "" : conditions.identity() + '\n') +
                                     settings.dump(-1, ' ', false, nlohmann::json::error_handler_t::replace));
    return name.substr(0, longest_name) + '-' + signal::hashText(hash).substr(0, 8) + ".json";
}

unsigned shardOf(const library::SetUp& set_up, unsigned shards)
{
    return 1 + static_cast<unsigned>(signal::hashOf(batchFile(set_up, {})) % shards);
}

Result<BatchOutcome> runBatch(library::Store& store, const std::vector<BatchItem>& items,
                              const BatchOrder& order)
{
    std::error_code failed;
    fs::create_directories(order.folder, failed);
    if (failed)
        return machineFailed(order.folder.string() + " cannot be made: " + failed.message() + ".");
    BatchOutcome outcome;
    std::vector<std::size_t> left;
    for (std::size_t i = 0; i < items.size(); ++i) {
        if (shardOf(items[i].set_up, order.shards) != order.shard)
            continue;
        if (isDone(order.folder / batchFile(items[i].set_up, order.conditions), items[i], order))
            ++outcome.kept;
        else
            left.push_back(i);
    }
    const std::size_t all = outcome.kept + left.size();
    Shared shared;
    std::atomic<std::size_t> next{0};
    std::stop_source stopped; // also where a file cannot be written: the disk is full
    const std::stop_callback with_caller(order.cancel, [&stopped] { stopped.request_stop(); });
    const auto work = [&] {
        for (std::size_t k = next++; k < left.size() && !stopped.stop_requested(); k = next++) {
            const BatchItem& item = items[left[k]];
            bench::MeasureControl control;
            control.cancel = stopped.get_token();
            auto measurement =
                bench::measure(item.location, item.info, item.values, order.tests, order.conditions, control);
            const std::lock_guard lock(shared.mutex);
            shared.results.emplace_back(left[k], std::move(measurement));
            shared.ended.notify_one();
        }
        const std::lock_guard lock(shared.mutex);
        --shared.running;
        shared.ended.notify_one();
    };
    std::vector<std::jthread> threads;
    shared.running = std::max(1U, order.jobs);
    for (std::size_t i = shared.running; i > 0; --i)
        threads.emplace_back(work);

    // Files and the catalogue are this thread's.
    std::optional<Error> problem;
    std::unique_lock lock(shared.mutex);
    while (shared.running > 0 || !shared.results.empty()) {
        shared.ended.wait(lock, [&] { return shared.running == 0 || !shared.results.empty(); });
        auto results = std::move(shared.results);
        shared.results.clear();
        lock.unlock();
        for (const auto& [index, measurement] : results) {
            const BatchItem& item = items[index];
            if (measurement.cancelled || problem)
                continue;
            auto done = writeDocument(order.folder / batchFile(item.set_up, order.conditions),
                                      measurementDocument(item.set_up, measurement, keysOf(order.tests)));
            if (done && order.store)
                done = store.runs.store(item.set_up, measurement);
            if (!done) {
                problem = done.error();
                stopped.request_stop();
                continue;
            }
            ++outcome.measured;
            if (measurement.failure)
                outcome.failed.emplace_back(item.location.id, measurement.failure->fault);
            if (order.progress)
                order.progress(item.location.id, outcome.kept + outcome.measured, all);
        }
        lock.lock();
    }
    lock.unlock();
    if (problem)
        return tl::make_unexpected(*problem);
    return outcome;
}

Result<Merged> merge(library::Store& store, const std::vector<fs::path>& folders, const fs::path& folder)
{
    struct Found {
        MeasurementFile file;
        nlohmann::ordered_json document;
    };
    Merged merged;
    std::map<std::string, Found> newest; // by set-up and conditions
    for (const fs::path& from : folders) {
        std::error_code failed;
        fs::directory_iterator files(from, failed);
        if (failed)
            return wrongRequest(from.string() + " cannot be read: " + failed.message() + ".");
        for (const fs::directory_entry& entry : files) {
            if (entry.path().extension() != ".json")
                continue;
            auto document = readDocument(entry.path());
            auto file = document ? measurementIn(*document) : tl::make_unexpected(document.error());
            if (!file) {
                merged.unreadable.push_back(entry.path().string() + ": " + file.error().text);
                continue;
            }
            const auto& conditions = file->measurement.conditions;
            const std::string key = batchFile(file->set_up, conditions) + file->set_up.key().toStdString() +
                                    conditions.identity() +
                                    (*document)["conditions"].value("bench_version", std::string());
            const auto before = newest.find(key);
            if (before != newest.end())
                ++merged.older;
            if (before == newest.end() || before->second.file.measurement.started < file->measurement.started)
                newest.insert_or_assign(key, Found{std::move(*file), std::move(*document)});
        }
    }
    if (!folder.empty()) {
        std::error_code failed;
        fs::create_directories(folder, failed);
    }
    for (const auto& [key, found] : newest) {
        if (!folder.empty())
            if (auto put = writeDocument(
                    folder / batchFile(found.file.set_up, found.file.measurement.conditions), found.document);
                !put)
                return tl::make_unexpected(put.error());
        if (hasNewer(store, found.file)) {
            ++merged.older;
            continue;
        }
        if (auto stored = store.runs.store(found.file.set_up, found.file.measurement); !stored)
            return tl::make_unexpected(stored.error());
        ++merged.taken;
    }
    return merged;
}

} // namespace hr::exchange
