// SPDX-License-Identifier: GPL-3.0-or-later
#include "tour/tour.h"

#include "pages/find/find_page.h"
#include "pages/keep/keep_page.h"
#include "pages/measure/measure_page.h"
#include "pages/measure/sweep_view.h"
#include "widgets/plot.h"

#include <QCoreApplication>
#include <QDeadlineTimer>
#include <QDir>
#include <QPixmap>
#include <QPushButton>
#include <QThread>
#include <array>

namespace hr::app {

namespace {

const QString specimen = QStringLiteral("lv2:urn:honest-rack:specimens:");

Result<void> waitFor(const char* what, const std::function<bool()>& condition, int most_ms = 240000)
{
    QDeadlineTimer deadline(most_ms);
    while (!condition()) {
        if (deadline.hasExpired())
            return machineFailed(std::string("The tour waited in vain for ") + what + ".");
        QCoreApplication::processEvents(QEventLoop::AllEvents, 50);
        QThread::msleep(5);
    }
    return {};
}

void letPass(int ms)
{
    QDeadlineTimer deadline(ms);
    while (!deadline.hasExpired()) {
        QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
        QThread::msleep(5);
    }
}

} // namespace

Result<void> Tour::picture(const QString& name)
{
    letPass(400);
    if (!QDir().mkpath(m_folder) ||
        !m_window.grab().save(m_folder + QLatin1Char('/') + name + QStringLiteral(".png")))
        return machineFailed("The tour cannot save pictures in " + m_folder.toStdString() +
                             ": can it be written?");
    return {};
}

Result<void> Tour::run()
{
    m_window.resize(1280, 800);
    if (auto ready =
            waitFor("the scan and the source",
                    [this] { return !m_desk.scan.isRunning() && m_desk.transport.source() != nullptr; });
        !ready)
        return ready;
    return walk();
}

Result<void> Tour::walk()
{
    LineUp& line_up = m_desk.line_up;
    while (!line_up.candidates().empty())
        line_up.remove(line_up.candidates().front().id);
    const ContenderId first_heard = line_up.add(specimen + QStringLiteral("cordage-leveller"),
                                                {{"threshold_db", -30}, {"ratio", 4}, {"makeup_db", 8}});
    line_up.add(specimen + QStringLiteral("lantern-saturator"), {{"drive_db", 12}, {"colour_percent", 60}});
    line_up.add(specimen + QStringLiteral("tidepool-equaliser"), {{"low_db", -4},
                                                                  {"bell1_hz", 350},
                                                                  {"bell1_db", -3},
                                                                  {"bell2_hz", 3200},
                                                                  {"bell2_db", 4},
                                                                  {"high_db", 2}});
    QStringList of_the_first{QStringLiteral("response"),      QStringLiteral("harmonics"),
                             QStringLiteral("transfer"),      QStringLiteral("timing"),
                             QStringLiteral("noise"),         QStringLiteral("cost"),
                             QStringLiteral("loudness_shift")};
    if (wants(QStringLiteral("measure-trust"))) // it takes half a minute
        of_the_first << QStringLiteral("trust");
    for (const Contender& contender : line_up.candidates())
        m_desk.bench.measure(contender, contender.id == first_heard ? of_the_first : QStringList());
    if (wants(QStringLiteral("find-map")))
        m_desk.bench.measureInBackground(
            {specimen + QStringLiteral("tallow-clipper"), specimen + QStringLiteral("deep-keel"),
             QStringLiteral("reference:hard-clip"), QStringLiteral("reference:low-pass"),
             QStringLiteral("reference:compressor")});
    QStringList first; // what is in sight
    for (int row = 0; row < 12; ++row)
        first << m_desk.processors.index(row, 0).data(ProcessorModel::EntryId).toString();
    if (auto done = waitFor("the line-up's measurements", [this] { return m_desk.bench.waiting() == 0; });
        !done)
        return done;
    if (wants(QStringLiteral("find")) || wants(QStringLiteral("find-map")))
        m_desk.bench.measureInBackground(first);
    m_desk.notebook.write(
        {specimen + QStringLiteral("cordage-leveller"), specimen + QStringLiteral("lantern-saturator")},
        QString(), [](library::Written& w) {
            w.tags = {QObject::tr("brass bus")};
            w.rating = 4;
            w.favourite = true;
        });
    if (auto done = waitFor("the measurements", [this] { return m_desk.bench.waiting() == 0; }); !done)
        return done;
    if (auto done = waitFor("the matching", [&] { return line_up.fairWithinLu().has_value(); }); !done)
        return done;
    line_up.hear(first_heard);
    m_window.showNotice({});
    m_desk.transport.play(true);
    letPass(2600);

    const std::vector<std::pair<QString, std::function<void()>>> stops{
        {QStringLiteral("find"),
         [this] {
             m_window.showPage(PageName::Find);
             m_window.findPage()->setSearchText(QString());
             m_window.findPage()->select(specimen + QStringLiteral("cordage-leveller"));
         }},
        {QStringLiteral("find-map"),
         [this] {
             m_window.findPage()->showMap();
             letPass(1500);
         }},
        {QStringLiteral("find-quarantine"),
         [this] {
             m_window.findPage()->setSearchText(QString());
             m_window.findPage()->select(specimen + QStringLiteral("stormglass"));
             m_desk.actions.run(QStringLiteral("find.map")); // the list again
         }},
        {QStringLiteral("find-presets"),
         [this] {
             m_window.findPage()->setSearchText(QString());
             m_window.findPage()->select(specimen + QStringLiteral("cordage-leveller"));
             const QString leveller = specimen + QStringLiteral("cordage-leveller");
             (void)m_desk.store->presets.save(leveller, QObject::tr("Parade"), QObject::tr("Ferry"),
                                              {{"ratio", 3}});
             (void)m_desk.store->presets.save(leveller, QObject::tr("Quiet deck"), QObject::tr("Ferry"),
                                              {{"ratio", 2}});
             m_window.findPage()->showPart(2);
         }},
        {QStringLiteral("listen"), [this] { m_window.showPage(PageName::Listen); }},
        {QStringLiteral("listen-meters"),
         [this] {
             m_desk.actions.run(QStringLiteral("meters"));
             m_desk.transport.setMonitor({.band = audition::Band{200, 2000}});
             m_desk.transport.hearDifference(true);
             letPass(5000); // until there is some gain over time
         }},
        {QStringLiteral("trial"),
         [this] {
             m_desk.transport.setMonitor({});
             m_desk.transport.hearDifference(false);
             AbxTrial& trial = m_desk.trials.abx;
             trial.begin(m_desk.line_up.candidates().front().id, LineUp::untreated, 16);
             (void)waitFor("the trial", [&trial] { return trial.stage() == AbxTrial::Stage::Asking; });
             for (int round = 0; round < 6; ++round)
                 trial.answer(trial.sheet().xIsSecond());
             trial.hear(AbxTrial::Which::X);
         }},
        {QStringLiteral("trial-result"),
         [this] {
             AbxTrial& trial = m_desk.trials.abx;
             while (!trial.sheet().isOver())
                 trial.answer(trial.sheet().answered() % 3 == 0);
         }},
        {QStringLiteral("trial-rating"),
         [this] {
             RatingTrial& trial = m_desk.trials.rating;
             trial.begin({m_desk.line_up.candidates().front().id}, 3);
             (void)waitFor("the trial", [&trial] { return trial.stage() == BlindTrial::Stage::Asking; });
             const auto hearAll = [&trial] {
                 for (std::size_t label = 0; label < trial.labels(); ++label)
                     trial.hear(label);
             };
             for (const auto& grades : {std::array{97, 22, 51, 78}, {100, 18, 44, 70}, {94, 25, 55, 84}}) {
                 hearAll();
                 std::vector<int> of_labels;
                 for (std::size_t label = 0; label < trial.labels(); ++label)
                     of_labels.push_back(grades[trial.sheet().behind(label)]);
                 trial.grade(of_labels);
             }
         }},
        {QStringLiteral("measure"),
         [this] {
             if (BlindTrial* shown = m_desk.trials.current())
                 shown->putAway();
             m_window.showPage(PageName::Measure);
             letPass(100);
             m_window.measurePage()->responsePlot()->setCursor(3200);
         }},
        {QStringLiteral("measure-timing"),
         [this] { m_window.measurePage()->showTest(QStringLiteral("timing")); }},
        {QStringLiteral("measure-harmonics"),
         [this] { m_window.measurePage()->showTest(QStringLiteral("harmonics")); }},
        {QStringLiteral("measure-trust"),
         [this] { m_window.measurePage()->showTest(QStringLiteral("trust")); }},
        {QStringLiteral("measure-sweep"),
         [this] {
             m_window.measurePage()->showTest(QStringLiteral("sweep"));
             m_window.measurePage()->sweepView()->sweep(QStringLiteral("ratio"));
             (void)waitFor("the sweep", [this] { return !m_desk.sweep.isRunning(); });
             letPass(200);
         }},
        {QStringLiteral("measure-live"),
         [this] {
             m_desk.line_up.hear(m_desk.line_up.candidates().front().id);
             m_window.measurePage()->showTest(QStringLiteral("live"));
             letPass(5000); // until there is a history
         }},
        {QStringLiteral("measure-decay"), // by lamplight
         [this] {
             const ContenderId room = m_desk.line_up.add(specimen + QStringLiteral("boathouse"));
             m_desk.bench.measure(*m_desk.line_up.find(room),
                                  {QStringLiteral("decay"), QStringLiteral("echoes")});
             (void)waitFor("the decay", [this] { return m_desk.bench.waiting() == 0; });
             m_window.measurePage()->showTest(QStringLiteral("decay"));
             m_window.toggleTheme();
         }},
        {QStringLiteral("build"),
         [this] {
             m_window.toggleTheme();
             m_desk.line_up.remove(m_desk.line_up.candidates().back().id);
             m_desk.draft.change(chain::Chain{});
             m_desk.routes.build(QStringList{
                 specimen + QStringLiteral("tidepool-equaliser"), specimen + QStringLiteral("cordage-leveller"),
                 specimen + QStringLiteral("lantern-saturator"), specimen + QStringLiteral("boathouse")});
             chain::Chain chain = m_desk.draft.chain();
             chain.name = QObject::tr("Evening deck").toStdString();
             chain.nodes[0].purpose = QObject::tr("keep the quay out of the low end").toStdString();
             chain.nodes[0].settings = {{"low_db", -4}, {"high_db", 2.5}};
             chain.nodes[1].purpose = QObject::tr("hold cornets and tuba together").toStdString();
             chain.nodes[2].settings = {{"drive_db", 12}, {"colour_percent", 60}};
             chain.nodes[0].phase = QObject::tr("corrective").toStdString();
             chain.nodes[1].phase = QObject::tr("shaping").toStdString();
             chain.nodes[1].blend_percent = 65;
             chain.nodes[2].phase = QObject::tr("colour").toStdString();
             chain.nodes[3].phase = QObject::tr("space").toStdString();
             chain.nodes[3].purpose = QObject::tr("the hall behind them").toStdString();
             for (chain::Node& node : chain.nodes)
                 node.may_move = &node != &chain.nodes.back();
             m_desk.draft.change(chain);
             m_window.showPage(PageName::Build);
             (void)waitFor("the levels", [this] { return !m_desk.study.levels().empty(); });
             m_desk.study.compareOrders();
             (void)waitFor("the orders", [this] { return !m_desk.study.orders().isComing(); });
             (void)waitFor("the pictures of the stages", [this] {
                 return std::ranges::none_of(m_desk.draft.chain().nodes, [this](const chain::Node& node) {
                     return m_desk.pictures.of(node).heights.isEmpty();
                 });
             });
         }},
        {QStringLiteral("keep"),
         [this] {
             m_desk.keeping.keep(itemOf(m_desk.draft.chain()));
             m_window.showPage(PageName::Keep);
         }},
        {QStringLiteral("write"),
         [this] {
             m_desk.actions.run(QStringLiteral("page.about"));
             (void)waitFor("the measurements", [this] { return m_desk.bench.waiting() == 0; });
             letPass(100);
         }},
    };
    for (const auto& [name, go] : stops) {
        if (!wants(name))
            continue;
        // Single pictures do not come from the page of the one before.
        if (name.startsWith(QLatin1String("measure")))
            m_window.showPage(PageName::Measure);
        else if (name.startsWith(QLatin1String("find")))
            m_window.showPage(PageName::Find);
        else if (name.startsWith(QLatin1String("listen")) || name.startsWith(QLatin1String("trial")))
            m_window.showPage(PageName::Listen);
        go();
        if (auto taken = picture(name); !taken)
            return taken;
    }
    m_desk.transport.play(false);
    return {};
}

} // namespace hr::app
