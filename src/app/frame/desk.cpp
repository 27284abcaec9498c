// SPDX-License-Identifier: GPL-3.0-or-later
#include "frame/desk.h"

#include <QDate>

namespace hr::app {

Desk::Desk(std::unique_ptr<library::Store> opened)
    : store(std::move(opened)), actions(notices), sources(store->database().directory()), output(jobs),
      transport(output, jobs), line_up(transport, *store, jobs), edits(line_up, undo),
      settings(line_up, *store, undo, notices), conditions({*store, transport, sources, jobs, notices}),
      bench(*store, jobs, notices), scan(store->database().directory(), jobs), processors(*store),
      fault_search(*store, jobs), similar(*store, jobs), prints(store->database().directory(), jobs, notices),
      draft(*store, undo, notices), purposes(draft, *store, notices), facts(*store, processors),
      pictures(draft, facts, jobs), hearing(draft, line_up),
      parts(*store, draft, transport, sources, undo, notices),
      parts_play(parts, line_up, transport, *store, jobs), versions(*store, draft, notices),
      chance(draft, facts), study(draft, transport, *store, jobs), delivery(draft, transport, *store, jobs),
      notebook(*store, processors, undo, notices), keeping(*store, undo, notices),
      routes(*store, line_up, bench, conditions, draft, parts, notebook, navigation, notices),
      saved(line_up, transport, *store, undo, notices),
      trials({line_up, transport, bench, *store, sources, notices}),
      alternation(line_up, transport, trials, sources), rhythm(transport, jobs),
      tempo(*store, transport, sources, rhythm, notices),
      source_notes({*store, transport, sources, tempo, rhythm, undo, notices}),
      outside(store->database().directory(), jobs, notices), live_play({transport, output, line_up, outside}),
      tempo_follower(line_up, transport, tempo), live(transport, line_up), sweep(jobs, notices),
      fit(line_up, jobs, notices), comparing(line_up, sources, *store, jobs), book(*store, undo, notices),
      journal(*store, line_up, transport, sources, trials, notices)
{
    connect(&output, &OutputSwitch::notice, &notices, &Notices::say);
    connect(&transport, &Transport::notice, &notices, &Notices::say);
    connect(&line_up, &LineUp::notice, &notices, &Notices::say);
    connect(&outside, &OutsideInput::taken, &source_notes, [this](const QString& file) {
        tempo.estimateOf(file);
        source_notes.add({file});
    });
    connect(&parts_play, &PartsPlay::notice, &notices, &Notices::say);
    connect(&processors, &ProcessorModel::notice, &notices, &Notices::say);
    connect(&scan, &ScanJob::failed, &notices, &Notices::say);
    connect(&fault_search, &FaultSearchJob::notice, &notices, &Notices::say);
    connect(&scan, &ScanJob::finished, this, [this](const QString& summary) {
        processors.reload();
        if (!summary.isEmpty())
            notices.say(summary);
    });
    connect(&tempo, &SourceTempo::changed, &alternation, &Alternation::followTempo);
    bench.setOffered([this](const QString& id) { return processors.isOffered(id); });
    bench.goOn();
    checkCatalogue();
}

/// All of the file, once a day, when everything else has begun.
void Desk::checkCatalogue()
{
    const QString key = QStringLiteral("catalogue_checked");
    const QString today = QDate::currentDate().toString(Qt::ISODate);
    if (store->setting(key) == today)
        return;
    const auto whole = std::make_shared<Result<bool>>(true);
    JobOrder job;
    job.owner = this;
    job.work = [whole, directory = store->database().directory()](const JobControl&) {
        *whole = library::Database::check(directory);
    };
    job.finished = [this, whole, key, today](JobEnd end) {
        if (end != JobEnd::Done || !*whole)
            return; // busy: tomorrow, or at the next start
        if (!**whole)
            return notices.say(
                tr("The catalogue is damaged. Start Honest Rack again: it is kept aside then, and a new "
                   "one is begun."));
        (void)notices.succeeded(store->setSetting(key, today));
    };
    jobs.add(std::move(job));
}

Desk::~Desk()
{
    (void)jobs.endAll(std::chrono::milliseconds(-1));
}

bool Desk::end(std::chrono::milliseconds patience)
{
    const auto until = std::chrono::steady_clock::now() + patience;
    const bool jobs_ended = jobs.endAll(patience);
    const auto left =
        std::chrono::duration_cast<std::chrono::milliseconds>(until - std::chrono::steady_clock::now());
    return output.end(std::max(left, std::chrono::milliseconds(0))) && jobs_ended;
}

} // namespace hr::app
